// Where photos went: a record of each time some were sent out, to whom and when, and as which files. Kept for the
// person's memory, and found by `sent:`.

import type { Versioned } from '../fields/version';

/** A file that arrived. */
export interface SentFile {
  photoId: string;
  driveId: string;
  path: string;
  /** By which it is known again wherever it lies: it is no new photo, but one made of another. */
  fingerprint: string;
  sha256: string;
  bytes: number;
  width: number | null;
  height: number | null;
}

export interface Delivery extends Versioned {
  id: string;
  /** To whom, or what for; what `sent:` asks for. */
  name: string;
  /** ISO 8601 date. */
  date: string;
  note: string;
  photoIds: string[];
  /** What came out, where Wembo sent it itself. */
  files?: SentFile[];
}

/** For each photo the names it was sent under, each once. */
export function sentByPhoto(deliveries: readonly Delivery[]): Map<string, string[]> {
  const sent = new Map<string, string[]>();
  for (const { name, photoIds, deleted } of deliveries) {
    if (deleted) continue;
    for (const id of photoIds) {
      const names = sent.get(id);
      if (!names) sent.set(id, [name]);
      else if (!names.includes(name)) names.push(name);
    }
  }
  return sent;
}
