// What an interruption left of files that were being made.

import { folderIn } from '@/core/names/file-names';
import { type Drive, wholeOf } from './drive';

/** Takes away what an interruption left of these files: under their part names, or the browser's own. */
export async function clearParts(drive: Drive, paths: readonly string[]): Promise<void> {
  const ours = new Set(paths);
  const left: string[] = [];
  for (const folder of new Set(paths.map(folderIn))) {
    const onLeftover = (path: string) => ours.has(wholeOf(path)) && left.push(path);
    for await (const _file of drive.list({ ...(folder !== '' && { below: folder }), shallow: true, onLeftover }))
      continue;
  }
  for (const path of left) await drive.remove(path).catch(() => undefined);
}
