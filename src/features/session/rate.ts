// The ladder by keys: what a key press makes of the rating of each selected photo.

import type { Described, FieldEdit } from '@/core/changes/change';
import { planSet } from '@/core/changes/change';
import type { FieldValue } from '@/core/fields/shape';
import { useSelection } from './selection';
import { session } from './session';

const ratingOf = ({ fields }: Described): number => (typeof fields.rating === 'number' ? fields.rating : 0);

/** Unrated is written as no rating, so that clearing one leaves the sidecar as it was before. */
const asValue = (rating: number): FieldValue | undefined => (rating === 0 ? undefined : rating);

export async function selectedPhotos(): Promise<Described[]> {
  const found = await session.db.photos.bulkGet([...useSelection.getState().ids]);
  return found.flatMap((photo) => (photo ? [photo] : []));
}

async function rate(next: (rating: number) => number): Promise<void> {
  const edits: FieldEdit[] = (await selectedPhotos()).flatMap((photo) => planSet([photo], 'rating', asValue(next(ratingOf(photo)))));
  await session.change({ kind: 'fields', origin: 'person', edits });
}

/** One rung up or down the ladder: rejected, unrated, 1 to 5. */
export const climb = (step: 1 | -1) => rate((rating) => Math.min(5, Math.max(-1, rating + step)));
export const setRung = (rung: number) => rate(() => rung);
export const toggleRejected = () => rate((rating) => (rating === -1 ? 0 : -1));
