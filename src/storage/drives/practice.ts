// Loading practice drives: files from the demo are written into the browser's private file system, where they behave
// as a drive does. Formats of the demo's index in docs/FORMATS.md.

import { z } from 'zod';
import { readManifest, writeFixity, type Proof } from '../archive/archive-files';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord } from '../catalog/records';
import { PRACTICE_FOLDER, practiceFolder } from './connections';
import { HandleDrive } from './handle-drive';
import { bytesOf, replaceFile } from './safe-write';

const digest = z.string().regex(/^[0-9a-f]{64}$/);
const demoIndex = z.object({
  format: z.literal('wembo-demo'),
  version: z.literal(2),
  drives: z.array(z.object({
    id: z.string(), name: z.string(), takenOut: z.boolean(),
    files: z.array(z.object({ path: z.string(), bytes: z.number(), from: z.string(), proof: z.object({ sha256: digest, imageSha256: digest.optional(), provenAt: z.number() }).optional() })),
  })),
});

export type DemoIndex = z.infer<typeof demoIndex>;
type DemoDrive = DemoIndex['drives'][number];

/** Files in work at the same time: enough that neither server nor disk waits for the other. */
const LANES = 12;

/** The demo's index, or `null` where this server has none (started without demo data). */
export async function fetchDemoIndex(): Promise<DemoIndex | null> {
  const response = await fetch('/api/demo/index.json');
  if (response.status === 404) return null;
  if (!response.ok) throw new Error(`the demo's index answers ${response.status}`);
  return demoIndex.parse(await response.json());
}

/** Whether a drive of the demo is not there yet, as when the page was closed while it loaded. */
export async function demoIncomplete(db: CatalogDatabase, { drives }: DemoIndex): Promise<boolean> {
  const known = new Set((await db.drives.toArray()).map(({ id }) => id));
  return drives.some(({ id }) => !known.has(id));
}

/**
 * Writes the demo's drives and registers each when it is whole. Files already there with the right length are left.
 * `onDrive` is told of each drive that is ready; files are written on.
 */
export async function loadPracticeDrives(db: CatalogDatabase, { drives }: DemoIndex, at: number, onFile: (done: number, total: number) => void, onDrive: (record: DriveRecord) => void): Promise<void> {
  const total = drives.reduce((sum, { files }) => sum + files.length, 0);
  let done = 0;
  for (const one of drives) {
    const drive = new HandleDrive(await practiceFolder(one.id, true));
    const proofs = await writeFiles(drive, one, () => onFile(++done, total));
    if (proofs.length > 0) await writeFixity(drive, await readManifest(drive), proofs);
    const known = await db.drives.get(one.id);
    const record: DriveRecord = known ?? { id: one.id, name: one.name, kind: 'practice', handle: null, access: 'write', takenOut: false, addedAt: at, scannedAt: null, bytes: 0, embeds: false };
    await db.drives.put(record);
    onDrive({ ...record, takenOut: one.takenOut });
  }
}

/** Returns what was proven of the files at the last check, with the times these copies got. */
async function writeFiles(drive: HandleDrive, { files }: DemoDrive, onFile: () => void): Promise<Proof[]> {
  const waiting = [...files];
  const proofs: Proof[] = [];
  const lane = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const { path, bytes, from, proof } = next;
      const there = await drive.open(path).catch(() => null);
      if (there?.size !== bytes) {
        const response = await fetch(`/api/demo/${from.split('/').map(encodeURIComponent).join('/')}`);
        if (!response.ok) throw new Error(`${path}: the server answers ${response.status}`);
        await replaceFile(drive, path, new Uint8Array(await response.arrayBuffer()), there ? await bytesOf(there) : null);
      }
      if (proof) proofs.push({ path, bytes, modified: (await drive.open(path)).lastModified, sha256: proof.sha256, ...(proof.imageSha256 && { imageSha256: proof.imageSha256 }), provenAt: proof.provenAt });
      onFile();
    }
  };
  await Promise.all(Array.from({ length: LANES }, lane));
  return proofs;
}

/** Removes all practice drives from this browser. */
export async function removePracticeDrives(): Promise<void> {
  const root = await navigator.storage.getDirectory();
  await root.removeEntry(PRACTICE_FOLDER, { recursive: true }).catch((error: unknown) => {
    if (!(error instanceof DOMException && error.name === 'NotFoundError')) throw error;
  });
}
