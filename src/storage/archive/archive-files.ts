// The archive folder of a drive, `_wembo/`: what a sidecar cannot hold. Formats in docs/FORMATS.md.
// What is read here comes from outside and is `unknown` until its schema has read it; a newer version is refused.

import { sameBytes } from '@/core/bytes/join';
import { z } from 'zod';
import type { Shelf, Shelves } from '@/core/changes/change';
import { SPOT_FIELDS } from '@/core/locate/kept';
import { MARKER_SHAPES } from '@/core/sift/judging';
import { ARCHIVE_FOLDER, type Drive } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { parseJson, readJson } from './read-json';
import { accessionFile, kitEntry, pattern, sheet, type AccessionOnDrive } from './schemas';

const path = (name: string) => `${ARCHIVE_FOLDER}/${name}`;
export const DRIVE_FILE = path('drive.json');
export const IDENTITIES_FILE = path('identities.json');

/** Strict: the id becomes the beginning of the ids of all its files. */
const driveFile = z.object({ format: z.literal('wembo-drive'), version: z.literal(1), id: z.string().regex(/^[0-9A-Za-z-]{8,64}$/), name: z.string().trim().min(1).max(500), createdAt: z.number().finite() });

const text = (limit: number) => z.string().max(limit);
const kept = <T extends z.ZodRawShape>(content: T) => z.object({ id: text(64), name: text(500), ...content, updatedAt: z.number(), deleted: z.boolean() });

const ITEMS = {
  // version 1 had smart collections alone
  collections: kept({
    kind: z.enum(['smart', 'hand', 'folder']).default('smart'), parentId: text(64).nullable().default(null), scope: text(5000).default(''), photoIds: z.array(text(200)).max(1_000_000).default([]), pinned: z.boolean().default(false), order: z.number().default(0),
  }),
  deliveries: kept({ date: text(32), note: text(5000), photoIds: z.array(text(200)).max(1_000_000) }),
  kits: kept({ entries: z.array(kitEntry).max(200) }),
  patterns: kept({ parts: pattern }),
  routines: kept({ sheet }),
  ladder: kept({ meanings: z.record(text(2), text(500)) }),
  markers: kept({ color: z.string().regex(/^#[0-9a-f]{6}$/i), shape: z.enum(MARKER_SHAPES), order: z.number() }),
  rounds: kept({ rung: z.number().int().min(1).max(5), photoIds: z.array(text(200)).max(1_000_000), decided: z.record(text(200), z.object({ decision: z.enum(['up', 'leave', 'reject']), was: z.number().int().min(-1).max(5) })), startedAt: z.number(), after: text(64).nullable() }),
  leftOut: z.object({ id: text(200), name: text(5000), updatedAt: z.number(), deleted: z.boolean() }),
  vocabulary: z.object({ id: text(64), word: text(500), parentId: text(64).nullable(), synonyms: z.array(text(500)).max(200), note: text(5000), updatedAt: z.number(), deleted: z.boolean() }),
  shorthand: kept({ active: z.boolean(), entries: z.array(z.object({ code: text(64), expansions: z.array(text(5000)).max(50) })).max(100_000) }),
  learnt: z.object({ id: text(200), updatedAt: z.number(), deleted: z.boolean() }),
  clocks: z.object({ id: text(400), zone: text(64).nullable(), differenceSeconds: z.number(), updatedAt: z.number(), deleted: z.boolean() }),
  spots: kept({ lat: z.number().min(-90).max(90), lon: z.number().min(-180).max(180), radiusM: z.number().min(1).max(1_000_000), isPrivate: z.boolean(), words: z.partialRecord(z.enum(SPOT_FIELDS), text(500)) }),
} satisfies { [S in Shelf]: z.ZodType<Shelves[S]> };

/** `version` is what is written; it and those before it are read. */
const KEPT_FILES: Record<Shelf, { file: string; format: string; version?: number }> = {
  collections: { file: path('collections.json'), format: 'wembo-collections', version: 2 },
  deliveries: { file: path('deliveries.json'), format: 'wembo-deliveries' },
  kits: { file: path('kits.json'), format: 'wembo-kits' },
  patterns: { file: path('name-patterns.json'), format: 'wembo-name-patterns' },
  routines: { file: path('routines.json'), format: 'wembo-routines' },
  ladder: { file: path('ladder.json'), format: 'wembo-ladder' },
  markers: { file: path('markers.json'), format: 'wembo-markers' },
  rounds: { file: path('rounds.json'), format: 'wembo-rounds' },
  leftOut: { file: path('left-out.json'), format: 'wembo-left-out' },
  vocabulary: { file: path('vocabulary.json'), format: 'wembo-vocabulary' },
  shorthand: { file: path('shorthand.json'), format: 'wembo-shorthand' },
  learnt: { file: path('learnt-words.json'), format: 'wembo-learnt-words' },
  clocks: { file: path('clocks.json'), format: 'wembo-clocks' },
  spots: { file: path('spots.json'), format: 'wembo-spots' },
};

const identity = z.object({ fingerprint: text(64), photo: text(64) });
const identitiesFile = z.object({ format: z.literal('wembo-identities'), version: z.literal(1), identities: z.array(identity).max(10_000_000) });

export type DriveFile = z.infer<typeof driveFile>;

/** Writes only when the content differs, so that a drive is not touched for nothing. */
async function writeText(drive: Drive, name: string, text: string): Promise<void> {
  const bytes = new TextEncoder().encode(text);
  const now = await readIfThere(drive, name);
  if (now && sameBytes(now, bytes)) return;
  await replaceFile(drive, name, bytes, now);
}

const json = (value: unknown) => `${JSON.stringify(value, null, 1)}\n`;

/** The mark of a drive; or of one that lies in a folder of it. */
export const readDriveFile = (drive: Drive, folder = ''): Promise<DriveFile | null> => readJson(drive, folder === '' ? DRIVE_FILE : `${folder}/${DRIVE_FILE}`, driveFile);
export const writeDriveFile = (drive: Drive, { id, name, createdAt }: Omit<DriveFile, 'format' | 'version'>): Promise<void> =>
  writeText(drive, DRIVE_FILE, json({ format: 'wembo-drive', version: 1, id, name, createdAt }));

/** Where the file of a shelf lies. */
export const keptFile = (shelf: Shelf): string => KEPT_FILES[shelf].file;

/** What stands on a shelf of the drive; nothing where there is no such file. */
export async function readKept<S extends Shelf>(drive: Drive, shelf: S): Promise<Shelves[S][]> {
  const read = (await readJson(drive, keptFile(shelf), shelfSchema(shelf), versionOf(shelf))) as Record<string, unknown> | null;
  return (read?.[shelf] ?? []) as Shelves[S][];
}

export const writeKept = <S extends Shelf>(drive: Drive, shelf: S, items: Shelves[S][]): Promise<void> => writeText(drive, keptFile(shelf), keptText(shelf, items));

/** What stands on a shelf as the text of its file; for drives, and for handing it to others. */
export const keptText = <S extends Shelf>(shelf: S, items: readonly Shelves[S][]): string => json({ format: KEPT_FILES[shelf].format, version: versionOf(shelf), [shelf]: items.toSorted((a, b) => (a.id < b.id ? -1 : 1)) });

/** Reads such a text from outside; tombstones are left out. Throws `ArchiveFileError`, which names the file and what is wrong. */
export const parseKept = <S extends Shelf>(shelf: S, text: string, name: string): Shelves[S][] => ((parseJson(name, text, shelfSchema(shelf), versionOf(shelf)) as Record<string, unknown>)[shelf] as Shelves[S][]).filter(({ deleted }) => !deleted);

const versionOf = (shelf: Shelf): number => KEPT_FILES[shelf].version ?? 1;

const shelfSchema = (shelf: Shelf) => z.object({ format: z.literal(KEPT_FILES[shelf].format), version: z.number().int().min(1).max(versionOf(shelf)), [shelf]: z.array(ITEMS[shelf]).max(1_000_000) });

/** Of two versions of one thing the later one holds. */
export function mergeKept<T extends { id: string; updatedAt: number }>(...lists: T[][]): T[] {
  const merged = new Map<string, T>();
  for (const one of lists.flat()) {
    const other = merged.get(one.id);
    if (!other || one.updatedAt > other.updatedAt) merged.set(one.id, one);
  }
  return [...merged.values()];
}

/** Which photo a file is, by its fingerprint, of those whose bytes are no longer what the photo began with. */
export async function readIdentities(drive: Drive): Promise<Map<string, string>> {
  return new Map((await readJson(drive, IDENTITIES_FILE, identitiesFile))?.identities.map(({ fingerprint, photo }) => [fingerprint, photo]));
}

export async function writeIdentities(drive: Drive, byFingerprint: ReadonlyMap<string, string>): Promise<void> {
  const identities = [...byFingerprint].map(([fingerprint, photo]) => ({ fingerprint, photo })).sort((a, b) => (a.fingerprint < b.fingerprint ? -1 : 1));
  await writeText(drive, IDENTITIES_FILE, json({ format: 'wembo-identities', version: 1, identities }));
}

const ACCESSIONS_FOLDER = path('accessions');

/** The record of an accession, as JSON and as a page of text. */
export async function writeAccession(drive: Drive, accession: AccessionOnDrive, page: string): Promise<void> {
  await writeText(drive, `${ACCESSIONS_FOLDER}/${accession.number}.json`, json({ format: 'wembo-accession', version: 1, ...accession }));
  await writeText(drive, `${ACCESSIONS_FOLDER}/${accession.number}.txt`, page);
}

/** Every accession recorded on the drive; files that cannot be understood are told and left. */
export async function readAccessions(drive: Drive, onTrouble: (path: string, error: unknown) => void): Promise<AccessionOnDrive[]> {
  const found: AccessionOnDrive[] = [];
  for await (const { path: file } of drive.list({ below: ACCESSIONS_FOLDER, shallow: true })) {
    if (!file.endsWith('.json')) continue;
    try {
      const read = await readJson(drive, file, accessionFile);
      if (read) found.push(read);
    } catch (error) {
      onTrouble(file, error);
    }
  }
  return found;
}
