// Copies that are kept up to date: which photos, to which drive, and whether it is begun when the drive comes or only
// offered. Settings of the archive, kept on every drive.

import { z } from 'zod';
import type { SavedChange } from '@/core/catalog/change';
import { COPY_ROUTINE_PREFIX } from '@/core/fixity/keeping';
import { pattern } from '../archive/schemas';
import type { CatalogDatabase } from './database';

const routine = z.object({
  /** The drive that is copied; `null` for what a search finds, on all drives that are there. */
  fromId: z.string().max(64).nullable(),
  /** What is searched for; only without a drive. */
  scope: z.string().max(5000),
  toId: z.string().max(64),
  /** Files that are no photos go along; only of a drive. */
  whole: z.boolean(),
  /** Folders there by this pattern; `null`: as on the source. */
  folders: pattern.nullable().default(null),
  /** Begun when the drives are there; otherwise offered. */
  begins: z.boolean(),
});
export type CopyRoutine = z.infer<typeof routine>;
export type KeptCopyRoutine = CopyRoutine & { id: string };

export async function readCopyRoutines(db: CatalogDatabase): Promise<KeptCopyRoutine[]> {
  const settings = await db.settings.where('id').startsWith(COPY_ROUTINE_PREFIX).toArray();
  return settings.flatMap(({ id, value, deleted }) => {
    const read = deleted ? null : routine.safeParse(value).data;
    return read ? [{ ...read, id }] : [];
  });
}

/** @param name tells it from others */
export const planCopyRoutine = (content: CopyRoutine, name: string, at: number): SavedChange => ({
  kind: 'kept',
  savedKind: 'settings',
  before: null,
  after: { id: `${COPY_ROUTINE_PREFIX}${name}`, value: settingOf(content), updatedAt: at, deleted: false },
});

export function planNoCopyRoutine({ id, ...content }: KeptCopyRoutine, at: number): SavedChange {
  const kept = { id, value: settingOf(content), updatedAt: at };
  return {
    kind: 'kept',
    savedKind: 'settings',
    before: { ...kept, deleted: false },
    after: { ...kept, deleted: true },
  };
}

const settingOf = ({ folders, ...content }: CopyRoutine) => ({
  ...content,
  folders: folders && folders.map((part) => ({ ...part })),
});
