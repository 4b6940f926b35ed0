import type { Described } from '@/core/fields/edits';
import { photosOf } from '@/storage/catalog/describing';
import { session } from './session';

/** The records of photos, those that are in the catalog. */
export const recordsOf = (ids: readonly string[]): Promise<Described[]> => photosOf(session.db, ids);
