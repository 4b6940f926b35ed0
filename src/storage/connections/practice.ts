// Loading practice drives: files from the demo are written into the browser's private file system, where they behave
// as a drive does. Formats of the demo's index in docs/FORMATS.md.

import pMap from 'p-map';
import { z } from 'zod';
import { writeDriveFile } from '../archive/archive-files';
import { type FixityLine, mergeFixity } from '../archive/fixity-file';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord, SourceRecord } from '../catalog/records';
import { PRACTICE_FOLDER, practiceFolder } from './connections';
import { splitPath } from '../drives/drive';
import { HandleDrive } from '../drives/handle-drive';

const digest = z.string().regex(/^[0-9a-f]{64}$/);
const demoIndex = z.object({
  format: z.literal('wembo-demo'),
  version: z.literal(3),
  drives: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      folder: z.string(),
      takenOut: z.boolean(),
      card: z.boolean(),
      packs: z.array(
        z.object({
          from: z.string(),
          files: z.array(
            z.object({
              path: z.string(),
              bytes: z.number(),
              proof: z.object({ sha256: digest, imageSha256: digest.optional(), verifiedAt: z.number() }).optional(),
            }),
          ),
        }),
      ),
    }),
  ),
});

export type DemoIndex = z.infer<typeof demoIndex>;
export type DemoPack = DemoIndex['drives'][number]['packs'][number];

/** Writes the files of a pack below a folder; answers with the time each got. In the application a worker does it. */
export type WritePack = (
  root: FileSystemDirectoryHandle,
  pack: DemoPack,
) => Promise<{ path: string; modified: number }[]>;

/** Packs in work at the same time: while one is fetched, others are written. */
const PACKS_AT_ONCE = 3;

/** The demo's index, or `null` where this server has none (started without demo data). */
export async function fetchDemoIndex(): Promise<DemoIndex | null> {
  const response = await fetch('/api/demo/index.json');
  if (response.status === 404) return null;
  if (!response.ok) throw new Error(`the demo's index answers ${response.status}`);
  return demoIndex.parse(await response.json());
}

/**
 * Whether a drive of the demo is not there yet, or nobody has begun to catalog it, as when the page was closed while it
 * loaded.
 */
export async function demoIncomplete(db: CatalogDatabase, { drives }: DemoIndex): Promise<boolean> {
  const begun = new Set((await db.jobs.toArray()).map(({ driveId }) => driveId));
  const known = new Map((await db.drives.toArray()).map((drive) => [drive.id, drive]));
  const cards = new Set((await db.sources.toArray()).map(({ id }) => id));
  return drives.some(({ id, card }) =>
    card ? !cards.has(id) : !known.has(id) || (known.get(id)?.scannedAt === null && !begun.has(id)),
  );
}

/**
 * Writes the demo's drives and cards and registers them when all are whole. Packs that are there already are left, so
 * that an interrupted load goes on where it was. Returns the drives that are to be cataloged, with whether they are to
 * be taken out afterwards.
 */
export async function loadPracticeDrives(
  db: CatalogDatabase,
  { drives }: DemoIndex,
  writePack: WritePack,
  at: number,
  onFile: (done: number, total: number) => void,
): Promise<DriveRecord[]> {
  const total = drives.reduce((sum, { packs }) => sum + packs.reduce((files, pack) => files + pack.files.length, 0), 0);
  let done = 0;
  const records: DriveRecord[] = [];
  const cards: SourceRecord[] = [];
  for (const one of drives) {
    const root = await practiceFolder(one.id, true);
    const lines: FixityLine[] = [];
    const write = async (pack: DemoPack) => {
      lines.push(...linesOf(pack, await writePack(root, pack)));
      onFile((done += pack.files.length), total);
    };
    await pMap(one.packs, write, { concurrency: PACKS_AT_ONCE });
    if (!one.card) await recordVerified(one, root, lines, at);
    if (one.card)
      cards.push({
        id: one.id,
        name: one.name,
        kind: 'practice',
        handle: null,
        access: 'write',
        takenOut: one.takenOut,
        usedAt: at,
      });
    if (one.card || (await db.drives.get(one.id))?.scannedAt) continue;
    records.push({
      id: one.id,
      name: one.name,
      kind: 'practice',
      handle: null,
      access: 'write',
      takenOut: one.takenOut,
      addedAt: at,
      scannedAt: null,
      bytes: 0,
      embeds: false,
      marked: true,
    });
  }
  await db.sources.bulkPut(cards);
  await db.drives.bulkPut(records.map((record) => ({ ...record, takenOut: false })));
  return records;
}

/** The drive's own records, as its last check left them, and its mark, without which they would be another drive's. */
async function recordVerified(
  { id, name }: { id: string; name: string },
  root: FileSystemDirectoryHandle,
  lines: FixityLine[],
  at: number,
): Promise<void> {
  const drive = new HandleDrive(root, id);
  await writeDriveFile(drive, { id, name, createdAt: at });
  if (lines.length === 0) return;
  const sorted = lines.toSorted((a, b) => (a.path < b.path ? -1 : 1));
  await mergeFixity(
    drive,
    id,
    async function* () {
      yield sorted;
    },
    () => false,
    async () => true,
  );
}

/** What was verified of the files at the last check, with the times these copies got. */
function linesOf({ files }: DemoPack, written: { path: string; modified: number }[]): FixityLine[] {
  const times = new Map(written.map(({ path, modified }) => [path, modified]));
  return files.flatMap(({ path, bytes, proof }) => {
    const modified = times.get(path);
    if (!proof || modified === undefined) return [];
    return [
      {
        path,
        bytes,
        modified,
        sha256: proof.sha256,
        verified: proof.verifiedAt,
        ...(proof.imageSha256 && { image: proof.imageSha256 }),
      },
    ];
  });
}

interface DirectAccess {
  truncate(size: number): void;
  write(bytes: Uint8Array, options: { at: number }): number;
  close(): void;
}

/**
 * What a worker may do with a file of the private file system (File System Standard); the page's type library leaves it
 * out.
 */
interface DirectlyWritable {
  createSyncAccessHandle(): Promise<DirectAccess>;
}

const HELD_TRIES = 40;
const HELD_PAUSE_MS = 100;

/** A page that was just closed holds its open file for a moment still. */
async function openDirectly(file: DirectlyWritable): Promise<DirectAccess> {
  for (let tries = 1; ; tries++) {
    try {
      return await file.createSyncAccessHandle();
    } catch (error) {
      if (tries === HELD_TRIES || !(error instanceof DOMException && error.name === 'NoModificationAllowedError'))
        throw error;
      await new Promise((resolve) => setTimeout(resolve, HELD_PAUSE_MS));
    }
  }
}

/**
 * Fetches a pack and writes its files, unless all are there with the right length. Runs in a worker, where files can be
 * written directly.
 */
export const writePackHere: WritePack = async (root, { from, files }) => {
  const known = new Map<string, Promise<FileSystemDirectoryHandle>>();
  const folderAt = (folders: string[]): Promise<FileSystemDirectoryHandle> => {
    if (folders.length === 0) return Promise.resolve(root);
    const path = folders.join('/');
    const opened =
      known.get(path) ??
      folderAt(folders.slice(0, -1)).then((parent) =>
        parent.getDirectoryHandle(folders.at(-1) ?? '', { create: true }),
      );
    known.set(path, opened);
    return opened;
  };
  const handles = await Promise.all(
    files.map(async ({ path }) => {
      const { folders, name } = splitPath(path);
      return (await folderAt(folders)).getFileHandle(name, { create: true });
    }),
  );
  const sizes = await Promise.all(handles.map(async (handle) => (await handle.getFile()).size));
  if (files.some(({ bytes }, at) => bytes !== sizes[at])) {
    const response = await fetch(`/api/demo/${from}`);
    if (!response.ok) throw new Error(`${from}: the server answers ${response.status}`);
    const pack = new Uint8Array(await response.arrayBuffer());
    let offset = 0;
    for (const [at, { bytes }] of files.entries()) {
      const access = await openDirectly(handles[at] as unknown as DirectlyWritable);
      access.truncate(0);
      access.write(pack.subarray(offset, offset + bytes), { at: 0 });
      access.close();
      offset += bytes;
    }
  }
  return Promise.all(
    handles.map(async (handle, at) => ({ path: files[at]!.path, modified: (await handle.getFile()).lastModified })),
  );
};

/** Removes all practice drives from this browser. */
export async function removePracticeDrives(): Promise<void> {
  const root = await navigator.storage.getDirectory();
  await root.removeEntry(PRACTICE_FOLDER, { recursive: true }).catch((error: unknown) => {
    if (!(error instanceof DOMException && error.name === 'NotFoundError')) throw error;
  });
}
