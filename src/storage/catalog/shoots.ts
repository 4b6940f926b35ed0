// Shoots that are prepared: kept as choices of the person's, so that they are on the drives too, each under an id of its
// own. One whose folder has a photo is no longer prepared.

import { z } from 'zod';
import type { PreparedShoot } from '@/core/take-in/shoot';
import { keepSetting } from './changes';
import type { CatalogDatabase } from './database';

const PREFIX = 'shoot:';

const text = z.string().max(500);
const shoot = z.object({
  driveId: text,
  folder: z.string().min(1).max(2000),
  date: z.string().regex(/^\d{4}-\d{2}-\d{2}$/),
  blanks: z.object({ kind: text, client: text, subject: text }),
});

async function all(db: CatalogDatabase): Promise<{ id: string; shoot: PreparedShoot }[]> {
  const kept = await db.settings.where('id').startsWith(PREFIX).toArray();
  return kept.flatMap(({ id, value }) => {
    const read = shoot.safeParse(value);
    return read.success ? [{ id, shoot: read.data }] : [];
  });
}

/** The same folder of the same drive is the same shoot. */
async function idOf(db: CatalogDatabase, { driveId, folder }: PreparedShoot): Promise<string> {
  const known = (await all(db)).find(({ shoot: one }) => one.driveId === driveId && one.folder === folder);
  return known?.id ?? `${PREFIX}${crypto.randomUUID()}`;
}

export async function keepShoot(db: CatalogDatabase, prepared: PreparedShoot, at: number): Promise<void> {
  await keepSetting(db, await idOf(db, prepared), { ...shoot.parse(prepared) }, at);
}

/** It is not to be offered any more; the folder stays. */
export async function dropShoot(db: CatalogDatabase, prepared: PreparedShoot, at: number): Promise<void> {
  await keepSetting(db, await idOf(db, prepared), null, at);
}

/** Prepared and without a photo, the next day first. */
export async function shootsPrepared(db: CatalogDatabase): Promise<PreparedShoot[]> {
  const found = (await all(db)).map((one) => one.shoot);
  const empty = await Promise.all(
    found.map(({ driveId, folder }) => photosIn(db, driveId, folder).then((photos) => photos === 0)),
  );
  return found.filter((_, at) => empty[at]).sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0));
}

/** Files of photos in a folder and below, where they are or are to go. */
export const photosIn = (db: CatalogDatabase, driveId: string, folder: string): Promise<number> =>
  db.files
    .where('id')
    .startsWith(`${driveId}/${folder}/`)
    .filter(({ photoId }) => photoId !== null)
    .count();

/** What was typed for kind of work and client before, the latest first. */
export async function blanksUsed(db: CatalogDatabase): Promise<Record<'kind' | 'client', string[]>> {
  const accessions = (await db.accessions.toArray()).sort((a, b) => b.startedAt - a.startedAt);
  const used = [...(await shootsPrepared(db)), ...accessions.map(({ sheet }) => sheet)].map(({ blanks }) => blanks);
  const of = (name: 'kind' | 'client') => [...new Set(used.map((blanks) => blanks[name].trim()).filter(Boolean))];
  return { kind: of('kind'), client: of('client') };
}
