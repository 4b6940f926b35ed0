import pMap from 'p-map';
import type { CatalogDatabase } from '../catalog/database';
import type { ItemProblem, JobProgress, JobReport } from '../catalog/records';
import { DriveError } from '../drives/drive';
import type { FileTasks } from '../file-tasks/file-tasks';

/** How a job is steered from outside. */
export interface JobControl {
  signal: AbortSignal;
  /** Waits while the job is paused; rejects when it is cancelled. Called between files. */
  atRest(): Promise<void>;
  progress(progress: JobProgress): void;
  /**
   * Hands over the report at the start; it is filled as the job goes on, so that a cancelled job too says what it did.
   */
  reporting(report: JobReport): void;
}

export interface JobTools {
  db: CatalogDatabase;
  fileTasks: FileTasks;
  now: () => number;
  control: JobControl;
}

/** Files in flight at once: hides the wait for one behind the work on another; more gain nothing on two cores. */
const IN_FLIGHT = 4;

/**
 * Runs `work` over the items, some at a time, in order; one that fails is reported, the rest go on. Rejects on
 * cancelling and on what stops all, when the items in work have come to their end.
 */
export async function forEachItem<T>(
  items: T[],
  control: JobControl,
  work: (item: T) => Promise<void>,
  onProblem: (item: T, error: unknown) => void,
  inFlight = IN_FLIGHT,
): Promise<void> {
  const stopped: unknown[] = [];
  const one = async (item: T) => {
    if (stopped.length > 0) return;
    try {
      await control.atRest();
      if (stopped.length > 0) return;
      await work(item);
    } catch (error) {
      if (control.signal.aborted || stopsAll(error)) stopped.push(error);
      else onProblem(item, error);
    }
  };
  await pMap(items, one, { concurrency: inFlight });
  if (stopped.length > 0) throw stopped[0];
}

/** A full or vanished drive, or a browser with no room for the catalog, will not take the next file either. */
const STOPPING: readonly string[] = [
  'full',
  'browser-full',
  'source-gone',
  'target-gone',
  'host-gone',
  'host-closed',
  'store-silent',
  'store-refuses',
  'no-bucket',
  'share-sent',
];
export const stopsAll = (error: unknown): boolean => STOPPING.includes(problemCode(error));

/** What went wrong, in a word that `messages/` has a sentence for. */
export function problemCode(error: unknown): string {
  if (error instanceof DriveError) return error.problem;
  if (!(error instanceof Error)) return String(error);
  // Dexie wraps the database's own error, and a transaction that failed names it only inside
  return `${error.name} ${error.message}`.includes('QuotaExceeded') ? 'browser-full' : error.message;
}

export function itemProblemOf(path: string, error: unknown): ItemProblem {
  if (error instanceof DriveError) {
    return error.problem === 'not-found'
      ? { path, problem: { code: 'file/vanished' } }
      : { path, problem: { code: 'drive/problem', reason: error.problem } };
  }
  const name = error instanceof Error ? error.name : '';
  // a file that was there when listed and is not when read
  if (name === 'NotFoundError') return { path, problem: { code: 'file/vanished' } };
  return { path, problem: { code: 'file/unreadable', reason: error instanceof Error ? error.message : String(error) } };
}

export const startProgress = (phase: JobProgress['phase'], totalItems = 0, totalBytes = 0): JobProgress => ({
  phase,
  doneItems: 0,
  totalItems,
  doneBytes: 0,
  totalBytes,
});
