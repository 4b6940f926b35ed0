import { planSet } from '@/core/changes/change';
import type { FieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { session } from './session';

/** Gives photos a value in one field, as one change. */
export async function setField(key: FieldKey, value: FieldValue | undefined, photoIds: string[]): Promise<void> {
  const photos = (await session.db.photos.bulkGet(photoIds)).flatMap((photo) => (photo ? [photo] : []));
  await session.change({ kind: 'fields', origin: 'person', edits: planSet(photos, key, value) });
}
