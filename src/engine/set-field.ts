import type { FieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { planValue } from '@/storage/catalog/describing';
import type { SeenValue } from '@/storage/catalog/sidecars';
import { session } from './session';

/**
 * Gives photos a value in one field, as one change; a text with fill-ins is filled in for each.
 * @param seen of one photo: what stood there when the person began to type. What somebody else wrote since is kept
 * beside it.
 */
export async function setField(
  key: FieldKey,
  value: FieldValue | undefined,
  photoIds: string[],
  seen: SeenValue | null = null,
): Promise<void> {
  const [only] = photoIds;
  if (seen && only && photoIds.length === 1 && (await session.sayApart(only, key, value, seen))) return;
  await session.change({ kind: 'fields', origin: 'person', edits: await planValue(session.db, photoIds, key, value) });
}
