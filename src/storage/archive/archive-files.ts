// The archive folder of a drive, `_wembo/`: what a sidecar cannot hold. Formats in docs/FORMATS.md.
// What is read here comes from outside and is `unknown` until its schema has read it; a newer version is refused.

import { sameBytes } from '@/core/bytes/join';
import { z } from 'zod';
import { parseManifest, writeManifest, type ManifestLine } from '@/core/fixity/manifest';
import { ARCHIVE_FOLDER, type Drive } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';

const path = (name: string) => `${ARCHIVE_FOLDER}/${name}`;
export const DRIVE_FILE = path('drive.json');
export const COLLECTIONS_FILE = path('collections.json');
export const PROOFS_FILE = path('proofs.json');
export const MANIFEST_FILE = path('manifest-sha256.txt');

const driveFile = z.object({ format: z.literal('wembo-drive'), version: z.literal(1), id: z.string().min(8).max(64), name: z.string().max(500), createdAt: z.number() });

const collectionsFile = z.object({
  format: z.literal('wembo-collections'),
  version: z.literal(1),
  collections: z.array(z.object({ id: z.string().max(64), name: z.string().max(500), scope: z.string().max(5000), updatedAt: z.number(), deleted: z.boolean() })).max(10_000),
});

const proof = z.object({ path: z.string().max(5000), bytes: z.number(), modified: z.number(), sha256: z.string().regex(/^[0-9a-f]{64}$/), imageSha256: z.string().regex(/^[0-9a-f]{64}$/).optional(), provenAt: z.number() });
const proofsFile = z.object({ format: z.literal('wembo-proofs'), version: z.literal(1), proofs: z.array(proof) });

export type DriveFile = z.infer<typeof driveFile>;
export type CollectionsFile = z.infer<typeof collectionsFile>;
export type Proof = z.infer<typeof proof>;

/** A file of the archive folder that is there and could not be understood. It is left as it is. */
export class ArchiveFileError extends Error {
  constructor(
    readonly path: string,
    reason: string,
  ) {
    super(`${path}: ${reason}`);
    this.name = 'ArchiveFileError';
  }
}

async function readJson<T>(drive: Drive, name: string, schema: z.ZodType<T>): Promise<T | null> {
  const bytes = await readIfThere(drive, name);
  if (!bytes) return null;
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new ArchiveFileError(name, 'is not JSON');
  }
  const version = z.object({ version: z.number() }).safeParse(value);
  if (version.success && version.data.version > 1) throw new ArchiveFileError(name, `has version ${version.data.version}; this Wembo reads version 1`);
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new ArchiveFileError(name, z.prettifyError(parsed.error));
  return parsed.data;
}

/** Writes only when the content differs, so that a drive is not touched for nothing. */
async function writeText(drive: Drive, name: string, text: string): Promise<void> {
  const bytes = new TextEncoder().encode(text);
  const now = await readIfThere(drive, name);
  if (now && sameBytes(now, bytes)) return;
  await replaceFile(drive, name, bytes, now);
}

const json = (value: unknown) => `${JSON.stringify(value, null, 1)}\n`;

export const readDriveFile = (drive: Drive): Promise<DriveFile | null> => readJson(drive, DRIVE_FILE, driveFile);
export const writeDriveFile = (drive: Drive, { id, name, createdAt }: Omit<DriveFile, 'format' | 'version'>): Promise<void> =>
  writeText(drive, DRIVE_FILE, json({ format: 'wembo-drive', version: 1, id, name, createdAt }));

export async function readCollections(drive: Drive): Promise<CollectionsFile['collections']> {
  return (await readJson(drive, COLLECTIONS_FILE, collectionsFile))?.collections ?? [];
}

export const writeCollections = (drive: Drive, collections: CollectionsFile['collections']): Promise<void> =>
  writeText(drive, COLLECTIONS_FILE, json({ format: 'wembo-collections', version: 1, collections: collections.toSorted((a, b) => (a.id < b.id ? -1 : 1)) }));

/** Of two versions of a collection the later one holds. */
export function mergeCollections<T extends { id: string; updatedAt: number }>(...lists: T[][]): T[] {
  const merged = new Map<string, T>();
  for (const one of lists.flat()) {
    const other = merged.get(one.id);
    if (!other || one.updatedAt > other.updatedAt) merged.set(one.id, one);
  }
  return [...merged.values()];
}

export async function readProofs(drive: Drive): Promise<Proof[]> {
  return (await readJson(drive, PROOFS_FILE, proofsFile))?.proofs ?? [];
}

export async function readManifest(drive: Drive): Promise<ManifestLine[]> {
  const bytes = await readIfThere(drive, MANIFEST_FILE);
  return bytes ? parseManifest(new TextDecoder().decode(bytes)).lines : [];
}

/**
 * Writes manifest and proofs. The manifest has the digest each file should have, so that `sha256sum -c` finds damage;
 * the proofs say when each was last read and found right.
 */
export async function writeFixity(drive: Drive, manifest: ManifestLine[], proofs: Proof[]): Promise<void> {
  await writeText(drive, MANIFEST_FILE, writeManifest(manifest));
  await writeText(drive, PROOFS_FILE, json({ format: 'wembo-proofs', version: 1, proofs: proofs.toSorted((a, b) => (a.path < b.path ? -1 : 1)) }));
}

