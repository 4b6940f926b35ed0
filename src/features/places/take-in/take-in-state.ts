// The sheet as it stands: the source, what was found on it, what is ticked, and the settings. It outlives the screen,
// so that one can look something up and come back.

import { create } from 'zustand';
import { endingOf } from '@/core/formats/containers/formats';
import { NEW_SHEET, type Run, type Sheet } from '@/core/take-in/sheet';
import { type PreparedShoot, patternOfFolder } from '@/core/take-in/shoot';
import { type SurveyedFrame, type SourceSurvey, surveySource } from '@/storage/jobs/source-survey';
import { session } from '@/engine/session';

export interface TakeInState {
  sourceId: string | null;
  /** One folder of the source, or all of it. */
  below: string;
  survey: SourceSurvey | null;
  /** Counts up as the survey goes on, which is one object that grows. */
  version: number;
  /** Why it could not be surveyed, or not to the end. */
  problem: string | null;
  /** New frames the person left out, and known ones they take all the same. */
  leftOut: ReadonlySet<string>;
  insisted: ReadonlySet<string>;
  /** Frames already given to an accession in this visit. */
  given: ReadonlySet<string>;
  /** The run marked by a click and a Shift-click, by keys in clock order. */
  mark: { first: string; last: string } | null;
  runs: Run[];
  sheet: Sheet;
  /** The person's rule for folders, while a prepared shoot stands in its place. */
  usual: Pick<Sheet, 'folder' | 'folderPer'> | null;
  routineId: string | null;
  note: string;
  /** The accession begun last; its progress and end are shown. */
  begun: string | null;
}

const NOTHING_CHOSEN = {
  leftOut: new Set<string>(),
  insisted: new Set<string>(),
  given: new Set<string>(),
  mark: null,
  runs: [],
};

export const useTakeIn = create<TakeInState>(() => ({
  sourceId: null,
  below: '',
  survey: null,
  version: 0,
  problem: null,
  ...NOTHING_CHOSEN,
  sheet: NEW_SHEET,
  usual: null,
  routineId: null,
  note: '',
  begun: null,
}));

const set = useTakeIn.setState;
let surveying = new AbortController();
/**
 * The screen hears of a survey at most so often, and of many frames less often: each time all are put in order and
 * planned anew.
 */
const TELL_MS = 150;
const TELL_MS_PER_FRAME = 0.6;

export const setSheet = (patch: Partial<Sheet>): void => set(({ sheet }) => ({ sheet: { ...sheet, ...patch } }));

/** Into the folder of a prepared shoot, whatever the photos say; the person's own rule comes back after it. */
export const goIntoShoot = ({ driveId, folder, blanks }: PreparedShoot): void =>
  set(({ sheet, usual }) => ({
    usual: usual ?? { folder: sheet.folder, folderPer: sheet.folderPer },
    sheet: { ...sheet, driveId, folder: patternOfFolder(folder), folderPer: 'accession', blanks },
  }));

/** The shoot is taken in, or another way is chosen. */
export const leaveShoot = (): void =>
  set(({ sheet, usual }) => (usual ? { usual: null, sheet: { ...sheet, ...usual } } : {}));

export async function chooseSource(sourceId: string, below = ''): Promise<void> {
  set({ sourceId, below, survey: null, problem: null, ...NOTHING_CHOSEN });
  if (!session.drives.driveNow(sourceId)) {
    surveying.abort();
    return set({ problem: 'It is not there. Plug it in, or choose it again.' });
  }
  await session.db.sources.update(sourceId, { usedAt: Date.now() });
  await surveyAgain();
}

/** Surveys the chosen source as it is now; what is ticked and marked stays. */
export async function surveyAgain(): Promise<void> {
  surveying.abort();
  surveying = new AbortController();
  const { signal } = surveying;
  const { sourceId, below, sheet } = useTakeIn.getState();
  const drive = sourceId === null ? null : session.drives.driveNow(sourceId);
  if (!drive) return;
  const shown = useTakeIn.getState().survey !== null;
  let told = 0;
  const onProgress = (survey: SourceSurvey) => {
    // what is shown stays until the new survey is whole
    if (
      signal.aborted ||
      (survey.progress.phase !== 'done' &&
        (shown || Date.now() - told < Math.max(TELL_MS, TELL_MS_PER_FRAME * survey.items.length)))
    )
      return;
    told = Date.now();
    set(({ version }) => ({ survey, version: version + 1 }));
  };
  try {
    await surveySource({ db: session.db, fileTasks: session.fileTasks, signal, onProgress }, drive, {
      withSubfolders: sheet.withSubfolders,
      below,
    });
  } catch (error) {
    if (!signal.aborted)
      set({
        problem: `It could not be looked at to the end: ${error instanceof Error ? error.message : String(error)}`,
      });
  }
}

export function closeSource(): void {
  surveying.abort();
  set({ sourceId: null, below: '', survey: null, problem: null, ...NOTHING_CHOSEN });
}

const VIDEOS = new Set(['mp4', 'm4v', 'mov', 'avi']);
export const isVideo = ({ frame }: SurveyedFrame): boolean =>
  frame.photos.every(({ path }) => VIDEOS.has(endingOf(path)));

export const isKnown = ({ status }: SurveyedFrame): boolean => status?.state === 'known' || status?.state === 'likely';

/** Whether a frame goes into the next accession. */
export function isTicked(
  item: SurveyedFrame,
  { leftOut, insisted, given, sheet }: Pick<TakeInState, 'leftOut' | 'insisted' | 'given' | 'sheet'>,
): boolean {
  const { key } = item.frame;
  if (item.problem || given.has(key) || (!sheet.withVideos && isVideo(item))) return false;
  return isKnown(item) ? insisted.has(key) : !leftOut.has(key);
}

/** Ticks frames or takes their ticks away. Known ones are ticked only one by one. */
export function tick(items: readonly SurveyedFrame[], ticked: boolean): void {
  set((state) => {
    const leftOut = new Set(state.leftOut);
    const insisted = new Set(state.insisted);
    for (const item of items) {
      const { key } = item.frame;
      if (!isKnown(item) && ticked) leftOut.delete(key);
      else if (!isKnown(item)) leftOut.add(key);
      else if (!ticked) insisted.delete(key);
      else if (items.length === 1) insisted.add(key);
    }
    return { leftOut, insisted };
  });
}

/** Marks the run from where it began to this frame. */
export function markRun(key: string, extend: boolean): void {
  set(({ mark }) => ({ mark: extend && mark ? { first: mark.first, last: key } : { first: key, last: key } }));
}

/** The frames of an accession that was begun are no longer there to be chosen. */
export function given(accessionId: string, keys: readonly string[]): void {
  set((state) => ({ begun: accessionId, given: new Set([...state.given, ...keys]), mark: null, runs: [], note: '' }));
}
