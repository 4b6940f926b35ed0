// Files that are as they were, with nothing new beside them or in the drive's own records: nearly all of a drive that was
// looked through before. The catalog is asked about many of them at once.

import type { FileRecord, PhotoRecord } from '../catalog/records';
import { addedEarlier } from '../catalog/photos';
import { isUpToDate } from '../catalog/sidecars';
import { type ScanContext, type ScanItem, asRecorded } from './scan-items';
import { queueIfBehind } from './scan-sidecars';

export interface StillItem extends ScanItem {
  known: FileRecord;
}

/** Photos that are asked for at once: few enough to be held, enough that the asking costs little. */
const AT_ONCE = 2000;

export function isStill(context: ScanContext, item: ScanItem): item is StillItem {
  const { known, entry, sidecar } = item;
  if (!known || known.state === 'missing' || known.state === 'unreadable' || !asRecorded(entry, known)) return false;
  const isBesideAsItWas = sidecar
    ? known.sidecar?.path === sidecar.path && context.sidecars.get(sidecar.path)?.found === null
    : known.sidecar === null;
  const record = context.records.byPath.get(entry.path);
  if (!isBesideAsItWas || !record) return isBesideAsItWas;
  const isOfThisMeasure =
    known.sha256 !== null && (record.measure.sha256 === known.sha256 || record.also === known.sha256);
  return (
    isOfThisMeasure &&
    record.state !== 'damaged' &&
    (record.addedAt === null || (known.addedAt ?? Infinity) <= record.addedAt)
  );
}

/** Words of their photos that are not beside them yet are queued; a photo is there since its earliest file is. */
export async function lookAtStill(
  context: ScanContext,
  items: readonly StillItem[],
  onDone: (items: readonly ScanItem[]) => void,
): Promise<void> {
  const { tools, records } = context;
  for await (const page of pagesOf(context, items)) {
    await tools.control.atRest();
    for (const [{ known, entry }, photo] of page) {
      const addedAt = records.byPath.get(entry.path)?.addedAt ?? null;
      if (addedAt !== null && addedAt < photo.addedAt) await addedEarlier(tools.db, known, addedAt);
      if (!isUpToDate(known, photo)) await queueIfBehind(context, known.id);
    }
    onDone(page.map(([item]) => item));
  }
}

/**
 * Files with their photos. Where the drive has most photos of the catalog, those are read one after the other, which is
 * several times as quick as asking for each of them.
 */
async function* pagesOf(
  { tools: { db } }: ScanContext,
  items: readonly StillItem[],
): AsyncGenerator<[StillItem, PhotoRecord][]> {
  if (2 * items.length < (await db.photos.count())) {
    for (let at = 0; at < items.length; at += AT_ONCE) {
      const part = items.slice(at, at + AT_ONCE);
      const photos = await db.photos.bulkGet(part.map(({ known }) => known.photoId ?? ''));
      yield part.flatMap((item, index): [StillItem, PhotoRecord][] => (photos[index] ? [[item, photos[index]]] : []));
    }
    return;
  }
  const byPhoto = new Map<string, StillItem[]>();
  for (const item of items) {
    const id = item.known.photoId ?? '';
    byPhoto.set(id, [...(byPhoto.get(id) ?? []), item]);
  }
  for (let last = ''; ;) {
    const photos = await db.photos.where('id').above(last).limit(AT_ONCE).toArray();
    if (photos.length === 0) return;
    last = photos.at(-1)?.id ?? '';
    yield photos.flatMap((photo) =>
      (byPhoto.get(photo.id) ?? []).map((item): [StillItem, PhotoRecord] => [item, photo]),
    );
  }
}
