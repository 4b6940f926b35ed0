// A drill: some photos are restored from a copy for real, by what lies on its drive alone, into a folder of their own;
// their bytes are held against the drive's own manifest, their words against the catalog. What was written for it is
// removed again, and when it was is kept.

import { z } from 'zod';
import { sameFields } from '@/core/fields/values';
import { asideOf } from '@/core/names/set-aside';
import { effectiveFields, parseSidecar } from '@/core/metadata/xmp/sidecar';
import { ARCHIVE_FOLDER, type Drive, DriveError } from '../drives/drive';
import { readRecords } from '../archive/fixity-file';
import { keepSetting, pathToBe } from '../catalog/changes';
import type { CatalogDatabase } from '../catalog/database';
import type { FileRecord, JobReport } from '../catalog/records';
import { openIfThere, readIfThere } from '../drives/safe-write';
import { type JobTools, forEachItem, itemProblemOf, startProgress } from './job-tools';

export type DrillReport = JobReport & { kind: 'drill' };

/** Photos that are restored: enough to trust the way, few enough to be done in a minute. */
export const DRILL_PHOTOS = 20;
export const DRILL_FOLDER = `${ARCHIVE_FOLDER}/drill`;

const SETTING = 'drill';
const lastDrill = z.object({
  at: z.number(),
  driveId: z.string().max(64),
  photos: z.number(),
  wrong: z.number(),
});
export type LastDrill = z.infer<typeof lastDrill>;

/** The last one that came to its end; `null` before there was any. */
export async function readLastDrill(db: CatalogDatabase): Promise<LastDrill | null> {
  return lastDrill.safeParse((await db.settings.get(SETTING))?.value).data ?? null;
}

export interface DrillOrder {
  /** The copy that is restored from. */
  source: { id: string; drive: Drive };
  /** Where it is restored to. */
  target: Drive;
  /** Tells this drill from others; its folder bears it. */
  name: string;
}

export async function runDrill(tools: JobTools, { source, target, name }: DrillOrder): Promise<DrillReport> {
  const { db, fileTasks, control, now } = tools;
  const report: DrillReport = { kind: 'drill', photos: 0, bytes: 0, damaged: [], words: [], problems: [] };
  control.reporting(report);
  await source.drive.confirm();
  await target.confirm();
  const sample = await sampleOf(db, source.id, name);
  const records = await readRecords(source.drive, source.id);
  const progress = startProgress('copying', sample.length, 2 * sample.reduce((sum, file) => sum + file.sizeBytes, 0));
  control.progress({ ...progress });
  const work = async (file: FileRecord) => {
    const path = `${DRILL_FOLDER}/${name}/${file.path}`;
    const placed: string[] = [];
    try {
      const measure = records.byPath.get(file.path)?.measure.sha256;
      if (measure === undefined) throw new DriveError('not-in-manifest', file.path);
      const copy = await fileTasks.copy(
        { drive: target, path, file: await source.drive.open(file.path), name: file.path, expected: measure },
        (bytes) => {
          progress.doneBytes += bytes;
          control.progress({ ...progress });
        },
        control.signal,
      );
      placed.push(copy.path);
      report.photos += 1;
      report.bytes += file.sizeBytes;
      if (!(await wordsAreThere(tools, source.drive, target, { file, copyPath: copy.path })))
        report.words.push(file.path);
    } finally {
      // only what this drill has put there
      await target.confirm();
      for (const one of placed) if (await openIfThere(target, one)) await target.remove(one);
    }
    progress.doneItems += 1;
    control.progress({ ...progress });
  };
  const onProblem = (file: FileRecord, error: unknown) => {
    if (error instanceof DriveError && error.problem === 'source-damaged') report.damaged.push(file.path);
    else report.problems.push(itemProblemOf(file.path, error));
  };
  await forEachItem(sample, control, work, onProblem);
  await source.drive.confirm();
  const wrong = new Set([...report.damaged, ...report.words, ...report.problems.map(({ path }) => path)]).size;
  await keepSetting(db, SETTING, { at: now(), driveId: source.id, photos: sample.length, wrong }, now());
  return report;
}

/** Spread over the drive, others each time: by the name of the drill. */
async function sampleOf(db: CatalogDatabase, driveId: string, name: string): Promise<FileRecord[]> {
  const files = (await db.files.where('[driveId+state]').equals([driveId, 'present']).toArray()).filter(
    (file) => file.photoId !== null && asideOf(pathToBe(file)) === null,
  );
  const chance = chances(name);
  return files
    .map((file) => ({ file, at: chance() }))
    .sort((a, b) => a.at - b.at)
    .slice(0, DRILL_PHOTOS)
    .map(({ file }) => file);
}

/** Numbers from 0 to 1 that a text stands for (xorshift over its FNV-1a hash; from memory). */
function chances(text: string): () => number {
  let state = [...text].reduce((hash, sign) => Math.imul(hash ^ (sign.codePointAt(0) ?? 0), 16_777_619), 2_166_136_261);
  if (state === 0) state = 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
}

/** Whether the restored file and the sidecar on the drive say all that the catalog says. */
async function wordsAreThere(
  { db, fileTasks, control }: JobTools,
  drive: Drive,
  target: Drive,
  { file, copyPath }: { file: FileRecord; copyPath: string },
): Promise<boolean> {
  const photo = await db.photos.get(file.photoId ?? '');
  if (!photo) return false;
  const { reading } = await fileTasks.read(await target.open(copyPath), file.path, control.signal);
  const bytes = file.sidecar ? await readIfThere(drive, file.sidecar.path) : null;
  const sidecar = bytes ? parseSidecar(bytes) : null;
  if (file.sidecar && sidecar?.state !== 'read') return false;
  return sameFields(effectiveFields(reading.fields, sidecar?.state === 'read' ? sidecar.value : null), photo.fields);
}
