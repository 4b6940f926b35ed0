// The archive folder of a drive, `_wembo/`: what a sidecar cannot hold. Formats in docs/FORMATS.md.
// What is read here comes from outside and is `unknown` until its schema has read it; a newer version is refused.

import { sameBytes } from '@/core/bytes/join';
import { z } from 'zod';
import { ARCHIVE_FOLDER, type Drive, DriveError } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { parseJson, readJson } from './read-json';
import { ACCESSION_VERSION, type AccessionOnDrive, accessionFile } from './schemas';

const path = (name: string) => `${ARCHIVE_FOLDER}/${name}`;
export const DRIVE_FILE = path('drive.json');
export const IDENTITIES_FILE = path('identities.json');

/** Letters of a drive's name, at most. */
export const DRIVE_NAME_LENGTH = 500;

/** Strict: the id becomes the beginning of the ids of all its files. */
export const driveFile = z.object({
  format: z.literal('wembo-drive'),
  version: z.literal(1),
  id: z.string().regex(/^[0-9A-Za-z-]{8,64}$/),
  name: z.string().trim().min(1).max(DRIVE_NAME_LENGTH),
  createdAt: z.number().finite(),
});

const text = (limit: number) => z.string().max(limit);
const identity = z.object({ fingerprint: text(64), photo: text(64) });
const identitiesFile = z.object({
  format: z.literal('wembo-identities'),
  version: z.literal(1),
  identities: z.array(identity).max(10_000_000),
});

export type DriveFile = z.infer<typeof driveFile>;

/** Writes only when the content differs, so that a drive is not touched for nothing. */
async function writeText(drive: Drive, name: string, text: string): Promise<void> {
  const bytes = new TextEncoder().encode(text);
  const now = await readIfThere(drive, name);
  if (now && sameBytes(now, bytes)) return;
  await replaceFile(drive, name, bytes, now);
}

export const json = (value: unknown) => `${JSON.stringify(value, null, 1)}\n`;

/** The mark of a drive; or of one that lies in a folder of it. */
export const readDriveFile = (drive: Drive, folder = ''): Promise<DriveFile | null> =>
  readJson(drive, folder === '' ? DRIVE_FILE : `${folder}/${DRIVE_FILE}`, driveFile);
export const writeDriveFile = (
  drive: Drive,
  { id, name, createdAt }: Omit<DriveFile, 'format' | 'version'>,
): Promise<void> => writeText(drive, DRIVE_FILE, markText({ id, name, createdAt }));

/** What we write we can read: throws where it could not be read back. */
function readable<T>(schema: z.ZodType, value: T): T {
  schema.parse(value);
  return value;
}

const markText = ({ id, name, createdAt }: Omit<DriveFile, 'format' | 'version'>): string =>
  json({ format: 'wembo-drive', version: 1, id, name: readable(driveFile.shape.name, name), createdAt });

/**
 * Marks a drive for the first time, or anew: only where it bears none, its own, or (`over`) the one the person saw and
 * said is to be replaced. Rejects with `other-drive` where another disk is there by now.
 */
export async function markDrive(
  drive: Drive,
  { id, name, createdAt }: Omit<DriveFile, 'format' | 'version'>,
  over: string | null,
): Promise<void> {
  const there = await readIfThere(drive, DRIVE_FILE);
  const mark = there && parseJson(DRIVE_FILE, new TextDecoder().decode(there), driveFile, 1);
  if (mark && mark.id !== id && mark.id !== over) throw new DriveError('other-drive', '');
  const bytes = new TextEncoder().encode(markText({ id, name, createdAt }));
  if (!there || !sameBytes(there, bytes)) await replaceFile(drive, DRIVE_FILE, bytes, there);
}

/** Which photo a file is, by its fingerprint, of those whose bytes are no longer what the photo began with. */
export async function readIdentities(drive: Drive): Promise<Map<string, string>> {
  return new Map(
    (await readJson(drive, IDENTITIES_FILE, identitiesFile))?.identities.map(({ fingerprint, photo }) => [
      fingerprint,
      photo,
    ]),
  );
}

export async function writeIdentities(drive: Drive, byFingerprint: ReadonlyMap<string, string>): Promise<void> {
  const identities = [...byFingerprint]
    .map(([fingerprint, photo]) => ({ fingerprint, photo }))
    .sort((a, b) => (a.fingerprint < b.fingerprint ? -1 : 1));
  await writeText(drive, IDENTITIES_FILE, json({ format: 'wembo-identities', version: 1, identities }));
}

const ACCESSIONS_FOLDER = path('accessions');

/** The record of an accession, as JSON and as a page of text. */
export async function writeAccession(drive: Drive, accession: AccessionOnDrive, page: string): Promise<void> {
  await writeText(
    drive,
    `${ACCESSIONS_FOLDER}/${accession.number}.json`,
    json(readable(accessionFile, { format: 'wembo-accession', version: ACCESSION_VERSION, ...accession })),
  );
  await writeText(drive, `${ACCESSIONS_FOLDER}/${accession.number}.txt`, page);
}

/** Every accession recorded on the drive; files that cannot be understood are told and left. */
export async function readAccessions(
  drive: Drive,
  onProblem: (path: string, error: unknown) => void,
): Promise<AccessionOnDrive[]> {
  const found: AccessionOnDrive[] = [];
  for await (const { path: file } of drive.list({ below: ACCESSIONS_FOLDER, shallow: true })) {
    if (!file.endsWith('.json')) continue;
    try {
      const read = await readJson(drive, file, accessionFile, ACCESSION_VERSION);
      if (read) found.push(read);
    } catch (error) {
      onProblem(file, error);
    }
  }
  return found;
}
