// Loading practice drives: files from the demo are written into the browser's private file system, where they behave
// as a drive does. Formats of the demo's index in docs/FORMATS.md.

import { z } from 'zod';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord } from '../catalog/records';
import { practiceFolder } from './connections';
import { HandleDrive } from './handle-drive';
import { replaceFile } from './safe-write';

const demoIndex = z.object({
  format: z.literal('wembo-demo'),
  version: z.literal(1),
  drives: z.array(z.object({
    id: z.string(), name: z.string(), takenOut: z.boolean(),
    files: z.array(z.object({ path: z.string(), bytes: z.number(), from: z.string() })),
  })),
});

export type DemoIndex = z.infer<typeof demoIndex>;

/** The demo's index, or `null` where this server has none (started without demo data). */
export async function fetchDemoIndex(): Promise<DemoIndex | null> {
  const response = await fetch('/api/demo/index.json');
  if (response.status === 404) return null;
  if (!response.ok) throw new Error(`the demo's index answers ${response.status}`);
  return demoIndex.parse(await response.json());
}

/** Writes the demo's drives and registers them. Files already there with the right length are left. */
export async function loadPracticeDrives(db: CatalogDatabase, index: DemoIndex, at: number, onFile: (done: number, total: number) => void): Promise<DriveRecord[]> {
  const total = index.drives.reduce((sum, { files }) => sum + files.length, 0);
  let done = 0;
  const records: DriveRecord[] = [];
  for (const { id, name, takenOut, files } of index.drives) {
    const drive = new HandleDrive(await practiceFolder(id, true));
    for (const { path, bytes, from } of files) {
      const there = await drive.open(path).catch(() => null);
      if (there?.size !== bytes) {
        const response = await fetch(`/api/demo/${from.split('/').map(encodeURIComponent).join('/')}`);
        if (!response.ok) throw new Error(`${path}: the server answers ${response.status}`);
        await replaceFile(drive, path, new Uint8Array(await response.arrayBuffer()), there ? new Uint8Array(await there.arrayBuffer()) : null);
      }
      onFile(++done, total);
    }
    const known = await db.drives.get(id);
    const record: DriveRecord = known ?? { id, name, kind: 'practice', handle: null, access: 'write', takenOut: false, addedAt: at, scannedAt: null, bytes: 0, embeds: false };
    await db.drives.put(record);
    records.push({ ...record, takenOut });
  }
  return records;
}

