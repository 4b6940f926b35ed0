import type { FieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { planValue } from '@/storage/catalog/describing';
import { session } from './session';

/** Gives photos a value in one field, as one change; a text with fill-ins is filled in for each. */
export async function setField(key: FieldKey, value: FieldValue | undefined, photoIds: string[]): Promise<void> {
  await session.change({ kind: 'fields', origin: 'person', edits: await planValue(session.db, photoIds, key, value) });
}
