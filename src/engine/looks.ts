// How photos are corrected, for all that shows or sends them.

import { correctionsIn, isIdentity, lookText } from '@/core/looks/corrections';
import type { PhotoRecord } from '@/storage/catalog/records';
import { session } from './session';

/** The photos that are corrected at all. */
export const correctedPhotos = (): Promise<string[]> =>
  session.db.photos.where('fields.corrections.formulas').above(0).primaryKeys();

/** How each of these is corrected, as texts that stay the same as long as nothing changes. */
export const looksOf = async (photoIds: readonly string[]): Promise<string[]> =>
  (await session.db.photos.bulkGet([...photoIds])).map((photo) => lookText(correctionsIn(photo?.fields.corrections)));

/** A preview of the photo as it is corrected. */
export function asCorrected({ fields }: Pick<PhotoRecord, 'fields'>, preview: Blob): Blob | Promise<Blob> {
  const corrections = correctionsIn(fields.corrections);
  return isIdentity(corrections) ? preview : session.pictures.redraw(preview, corrections);
}
