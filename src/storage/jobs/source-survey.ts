// Looking at a card or folder before anything is taken in: what is there, when and with what it was taken, and what the
// catalog has already.
//
//   name, size and time say nothing: the short reads of the fingerprint say which photo a file most likely is
//   the catalog has that photo, and its digest is this file's    → known; the proof is the digest of all bytes
//   it has it, but the digest differs                             → doubtful: one of the two is damaged
//   it has it, but has never read it in full                      → likely: left out, and not verified
//   it has a photo of that name and time, with other content      → doubtful: new, and said so
//   otherwise                                                     → new

import pMap from 'p-map';
import { sameFrameTime } from '@/core/take-in/known';
import { type Frame, type SourceFile, type SourceListing, framesOf } from '@/core/take-in/frames';
import { nameIn } from '@/core/names/file-names';
import { type PhotoReading, unreadableBecause } from '@/core/metadata/reading/reading';
import type { Problem } from '@/core/problems/problem';
import type { CatalogDatabase } from '../catalog/database';
import type { ItemProblem, PhotoRecord } from '../catalog/records';
import { cameraName } from '../catalog/search-feed';
import type { Drive } from '../drives/drive';
import type { FileTasks } from '../file-tasks/file-tasks';
import { itemProblemOf } from './job-tools';

export type SourceStatus =
  | { state: 'new' }
  | { state: 'known'; photoId: string }
  | { state: 'likely'; photoId: string }
  | { state: 'doubtful'; why: 'other-bytes' | 'same-name' };

export interface SurveyedFrame {
  frame: Frame;
  /** Of its first photo that can be read; `null` while none was. */
  reading: PhotoReading | null;
  camera: string;
  status: SourceStatus | null;
  /** Why none of its photos can be taken in. */
  problem: Problem | null;
}

export interface SourceSurvey {
  items: SurveyedFrame[];
  others: SourceFile[];
  problems: ItemProblem[];
  progress: { phase: 'listing' | 'reading' | 'comparing' | 'done'; done: number; total: number };
}

interface SurveyTools {
  db: CatalogDatabase;
  fileTasks: Pick<FileTasks, 'read' | 'digest'>;
  signal: AbortSignal;
  /** Hears how far it is; the last time with everything. The same object grows. */
  onProgress: (survey: SourceSurvey) => void;
}

/** A frame the catalog most likely has, by the file of it that was read, and the photos it may be. */
interface Suspect {
  item: SurveyedFrame;
  path: string;
  photos: { photo: PhotoRecord; sha256: string | null }[];
}

/** Heads read at the same time, and files digested. */
const IN_FLIGHT = 6;

export async function surveySource(
  tools: SurveyTools,
  drive: Drive,
  options: { withSubfolders: boolean; below: string },
): Promise<SourceSurvey> {
  const { signal, onProgress } = tools;
  const survey: SourceSurvey = {
    items: [],
    others: [],
    problems: [],
    progress: { phase: 'listing', done: 0, total: 0 },
  };
  const { frames, others } = await listSource(drive, options, survey, tools);
  survey.others = others;
  survey.items = frames.map((frame) => ({ frame, reading: null, camera: '', status: null, problem: null }));
  survey.progress = { phase: 'reading', done: 0, total: survey.items.length };
  onProgress(survey);
  const names = await namesInCatalog(tools.db);
  const suspects: Suspect[] = [];
  const atOnce = { concurrency: IN_FLIGHT, signal };
  const read = async (item: SurveyedFrame) => {
    const suspect = await readItem(tools, drive, item, names).catch(
      (error: unknown) => void survey.problems.push(itemProblemOf(item.frame.photos[0]?.path ?? '', error)),
    );
    if (suspect) suspects.push(suspect);
    survey.progress.done += 1;
    onProgress(survey);
  };
  await pMap(survey.items, read, atOnce);
  survey.progress = { phase: 'comparing', done: 0, total: suspects.length };
  onProgress(survey);
  const compare = async (suspect: Suspect) => {
    const { item, photos } = suspect;
    item.status = await prove(tools, drive, suspect).catch((): SourceStatus => ({
      state: 'likely',
      photoId: photos[0]?.photo.id ?? '',
    }));
    survey.progress.done += 1;
    onProgress(survey);
  };
  await pMap(suspects, compare, atOnce);
  survey.progress = { phase: 'done', done: suspects.length, total: suspects.length };
  onProgress(survey);
  return survey;
}

async function listSource(
  drive: Drive,
  { withSubfolders, below }: { withSubfolders: boolean; below: string },
  survey: SourceSurvey,
  { signal, onProgress }: SurveyTools,
): Promise<SourceListing> {
  const files: SourceFile[] = [];
  const onUnlisted = (path: string, error: Error) => survey.problems.push(itemProblemOf(path, error));
  for await (const { path, sizeBytes, modifiedMs } of drive.list({
    signal,
    ...(below !== '' && { below }),
    shallow: !withSubfolders,
    onUnlisted,
  })) {
    files.push({ path, sizeBytes, modifiedMs });
    survey.progress.done = files.length;
    if (files.length % 200 === 0) onProgress(survey);
  }
  return framesOf(files, true);
}

/** File names of the catalog, without case: a cheap first question that most files of a new card answer with no. */
async function namesInCatalog(db: CatalogDatabase): Promise<Map<string, string[]>> {
  const names = new Map<string, string[]>();
  for (const id of await db.files.toCollection().primaryKeys()) {
    const name = nameIn(id).toLowerCase();
    names.set(name, [...(names.get(name) ?? []), id]);
  }
  return names;
}

async function readItem(
  { db, fileTasks, signal }: SurveyTools,
  drive: Drive,
  item: SurveyedFrame,
  names: Map<string, string[]>,
): Promise<Suspect | null> {
  const { path, reading, fingerprint, problem } = await readFirst(fileTasks, drive, item.frame, signal);
  Object.assign(item, { reading, camera: cameraName(reading.camera), problem });
  const photos = await suspectOf(db, fingerprint);
  if (photos.length > 0) return { item, path, photos };
  item.status = (await hasNamesake(db, names.get(nameIn(path).toLowerCase()) ?? [], reading))
    ? { state: 'doubtful', why: 'same-name' }
    : { state: 'new' };
  return null;
}

/** The first photo of a frame that can be read; where none can, the first, and why not. */
async function readFirst(fileTasks: SurveyTools['fileTasks'], drive: Drive, frame: Frame, signal: AbortSignal) {
  let unreadable = null;
  for (const { path } of frame.photos) {
    const { reading, fingerprint } = await fileTasks.read(await drive.open(path), path, signal);
    const problem = unreadableBecause(reading);
    if (!problem) return { path, reading, fingerprint, problem };
    unreadable ??= { path, reading, fingerprint, problem };
  }
  if (!unreadable) throw new Error('a frame has a photo');
  return unreadable;
}

/**
 * Photos that began with bytes of this fingerprint, or have a file of them now, each with the digest those bytes should
 * have: more than one where photos share a fingerprint.
 */
export async function suspectOf(
  db: CatalogDatabase,
  fingerprint: string,
): Promise<{ photo: PhotoRecord; sha256: string | null }[]> {
  const first = await db.photos.get(fingerprint);
  const files = await db.files
    .where('fingerprint')
    .equals(fingerprint)
    .filter(({ photoId }) => photoId !== null)
    .toArray();
  const photos = new Map(
    (await db.photos.bulkGet([...new Set(files.flatMap(({ photoId }) => photoId ?? []))])).flatMap((photo) =>
      photo ? [[photo.id, photo] as const] : [],
    ),
  );
  const suspects = [
    ...(first ? [{ photo: first, sha256: first.sha256 }] : []),
    ...files.flatMap(({ photoId, sha256 }) => {
      const photo = photos.get(photoId ?? '');
      return photo ? [{ photo, sha256 }] : [];
    }),
  ];
  return suspects.filter(
    ({ photo, sha256 }, index) =>
      suspects.findIndex((one) => one.photo.id === photo.id && one.sha256 === sha256) === index,
  );
}

async function hasNamesake(db: CatalogDatabase, fileIds: string[], reading: PhotoReading): Promise<boolean> {
  for (const file of await db.files.bulkGet(fileIds)) {
    const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (photo && sameFrameTime(photo.fields, reading.fields)) return true;
  }
  return false;
}

async function prove(
  { fileTasks, signal }: SurveyTools,
  drive: Drive,
  { path, photos }: Suspect,
): Promise<SourceStatus> {
  const read = photos.filter(({ sha256 }) => sha256 !== null);
  if (read.length === 0) return { state: 'likely', photoId: photos[0]?.photo.id ?? '' };
  const digests = await fileTasks.digest(await drive.open(path), () => undefined, signal);
  const same = read.find(({ sha256 }) => sha256 === digests.file);
  return same ? { state: 'known', photoId: same.photo.id } : { state: 'doubtful', why: 'other-bytes' };
}
