// Marks of drives, read where no drive is connected yet: for lists. What a mark says is read again by the page, over its
// connection, before it is believed.

import fs from 'node:fs';
import path from 'node:path';
import { DRIVE_FILE, driveFile } from '@/storage/archive/archive-files';

/** A mark is a few hundred bytes. */
const MARK_BYTES = 16_384;

function markIn(folder: string): { id: string; name: string } | null {
  try {
    const place = path.join(folder, DRIVE_FILE);
    if (fs.lstatSync(place).size > MARK_BYTES) return null;
    return driveFile.parse(JSON.parse(fs.readFileSync(place, 'utf8')));
  } catch {
    return null; // none, or none of ours
  }
}

export const nameOnMark = (folder: string): string | null => markIn(folder)?.name ?? null;

/** Drives a folder lies in, the nearest first. */
export function marksAbove(folder: string): { id: string; path: string }[] {
  const found: { id: string; path: string }[] = [];
  for (let above = path.dirname(folder), last = folder; above !== last; last = above, above = path.dirname(above)) {
    const mark = markIn(above);
    if (mark) found.push({ id: mark.id, path: path.relative(above, folder).split(path.sep).join('/') });
  }
  return found;
}
