// The photos of a contact sheet: their lines, filled from what may leave, and a JPEG of each that is large enough for
// its cell. What the catalog has of a photo is drawn of it also while its drives are away.

import { fillInWhatIsSaid } from '@/core/describe/fill-ins';
import { nameIn } from '@/core/names/file-names';
import { type SheetSettings, pictureBox } from '@/core/send-out/sheet';
import { ALL_BUT_PRIVATE, wordsOfPhoto } from '@/core/send-out/words-policy';
import { pathsOf, photoBatches } from '@/storage/catalog/describing';
import type { PhotoRecord } from '@/storage/catalog/records';
import { wordMarksOf } from '@/storage/catalog/sendable';
import { PREVIEW_PIXELS } from '@/storage/file-tasks/file-tasks';
import type { SheetSource } from '@/workers/protocol';
import { asCorrected } from '@/engine/looks';
import { session } from '@/engine/session';

/** Pixels to the inch that a printed picture should have at least. */
const PPI = 200;

export async function sheetSources(
  photoIds: readonly string[],
  settings: SheetSettings,
  signal: AbortSignal | null,
  onPhoto: () => void,
): Promise<{ sources: SheetSource[]; /** Names of those without a picture. */ without: string[] }> {
  const { db } = session;
  const marks = await wordMarksOf(db);
  const colours = new Map(
    (await db.markers.toArray()).filter(({ deleted }) => !deleted).map((one) => [one.name, one.color]),
  );
  const paths = await pathsOf(db, photoIds);
  const box = pictureBox(settings);
  const pixels = (Math.max(box.width, box.height) / 72) * PPI;
  const sources: SheetSource[] = [];
  const without: string[] = [];
  for await (const { photos } of photoBatches(db, photoIds)) {
    for (const photo of photos) {
      signal?.throwIfAborted();
      const path = paths.get(photo.id) ?? '';
      const { fields } = wordsOfPhoto(photo.fields, ALL_BUT_PRIVATE, marks);
      const picture = settings.kind === 'labels' ? null : await pictureFor(photo, pixels);
      if (settings.kind !== 'labels' && !picture) without.push(nameIn(path));
      const label = typeof fields.label === 'string' ? fields.label : null;
      sources.push({
        picture,
        lines: settings.text.split('\n').map((line) => fillInWhatIsSaid(line, { fields, path })),
        rating: typeof fields.rating === 'number' ? fields.rating : 0,
        marker: label === null ? null : { name: label, color: colours.get(label) ?? '#5a6469' },
      });
      onPhoto();
    }
  }
  return { sources, without };
}

async function pictureFor(photo: PhotoRecord, pixels: number): Promise<Blob | null> {
  const picture = await uncorrected(photo, pixels);
  return picture && asCorrected(photo, picture);
}

async function uncorrected(photo: PhotoRecord, pixels: number): Promise<Blob | null> {
  const small = (await session.db.previews.get(photo.id))?.blob ?? null;
  if (small && pixels <= PREVIEW_PIXELS.small) return small;
  const large = await session.db.largePreviews.get(photo.id);
  if (large && large.size !== 'full') return large.blob;
  const original = await session.original(photo.id);
  const drawn = original && (await session.fileTasks.preview(original.file, photo, small ? 'large' : 'small')).blob;
  return drawn ?? small;
}
