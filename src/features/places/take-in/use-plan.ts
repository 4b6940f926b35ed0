'use client';

// The plan of the accession as the sheet stands, with all that is at the destination: what the catalog knows, what
// other accessions are about to put there, and what really lies in the folders the plan needs.

import { useShallow } from 'zustand/react/shallow';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { type TakeInPlan, planTakeIn } from '@/core/take-in/plan';
import { inClockOrder } from '@/core/take-in/runs';
import type { Sheet } from '@/core/take-in/sheet';
import { nextNumber } from '@/storage/catalog/accessions';
import { useLive, useSum } from '@/storage/catalog/live';
import type { SurveyedFrame } from '@/storage/jobs/source-survey';
import { session } from '@/engine/session';
import { isTicked, useTakeIn } from './take-in-state';
import { useSession } from '@/features/parts/session/use-session';

export interface Chosen {
  /** Everything on the source, in clock order. */
  all: SurveyedFrame[];
  ticked: SurveyedFrame[];
}

export const framesInOrder = (items: readonly SurveyedFrame[]): SurveyedFrame[] =>
  inClockOrder(
    items.map((item) => ({ item, path: item.frame.photos[0]?.path ?? '', captured: item.reading?.captured ?? null })),
  ).map(({ item }) => item);

export function useChosen(): Chosen {
  const { survey, version, leftOut, insisted, given, sheet } = useTakeIn(
    useShallow(({ survey: found, version: of, leftOut: left, insisted: kept, given: begun, sheet: now }) => ({
      survey: found,
      version: of,
      leftOut: left,
      insisted: kept,
      given: begun,
      sheet: now,
    })),
  );
  const all = useMemo(() => framesInOrder(survey?.items ?? []), [survey, version]); // eslint-disable-line react-hooks/exhaustive-deps
  const ticked = useMemo(
    () => all.filter((item) => isTicked(item, { leftOut, insisted, given, sheet })),
    [all, leftOut, insisted, given, sheet],
  );
  return { all, ticked };
}

export type PlanFor = (number: string, sheet: Sheet) => TakeInPlan;

export interface Planned {
  plan: TakeInPlan | null;
  number: string;
  /**
   * Plans for the number that is free and the sheet as it stands when the person begins; what is shown may be a moment
   * behind.
   */
  planFor: PlanFor;
}

export function usePlan(ticked: readonly SurveyedFrame[], sourceName: string): Planned {
  const sheet = useTakeIn((state) => state.sheet);
  const number = useLive(() => nextNumber(session.db, new Date().getFullYear())) ?? '';
  const [folders, setFolders] = useState<readonly string[]>([]);
  const main = useDestination(sheet.driveId, folders);
  const second = useDestination(sheet.second.driveId, folders);
  const deferred = useDeferredValue(sheet);
  const planFor = useMemo(() => {
    const frames = ticked.map(({ frame, reading, camera }) => ({ frame, captured: reading?.captured ?? null, camera }));
    return (accession: string, of: Sheet) =>
      planTakeIn({
        frames,
        sheet: of,
        accession,
        source: sourceName,
        main: { files: main },
        second: hasSecond(of) ? { files: second } : null,
      });
  }, [ticked, sourceName, main, second]);
  const plan = useMemo(
    () => (ticked.length === 0 ? null : planFor(number, deferred)),
    [ticked, planFor, number, deferred],
  );
  const needed =
    plan?.folders
      .filter(({ frames }) => frames > 0)
      .map(({ path }) => path)
      .join('\n') ?? '';
  useEffect(() => setFolders(needed === '' ? [] : needed.split('\n')), [needed]);
  return { plan, number, planFor };
}

export const hasSecond = ({ driveId, second }: Sheet): boolean => second.driveId !== null && second.driveId !== driveId;

const NOTHING: readonly string[] = [];
/** Folders a plan needs are looked at on the drive itself, unless it needs more than this. */
const LOOKED_AT = 300;

function useDestination(driveId: string | null, folders: readonly string[]): readonly string[] {
  const cataloged =
    useSum(
      session.db,
      'files',
      async () =>
        driveId === null
          ? []
          : (await session.db.files.where('id').startsWith(`${driveId}/`).primaryKeys()).map((id) =>
              id.slice(driveId.length + 1),
            ),
      [driveId],
    ) ?? NOTHING;
  const promised =
    useSum(session.db, 'accessions', () => (driveId === null ? Promise.resolve([]) : promisedPaths()), [driveId]) ??
    NOTHING;
  const connected = useSession((state) =>
    driveId === null ? false : state.connections[driveId]?.state === 'connected',
  );
  const [there, setThere] = useState<readonly string[]>(NOTHING);
  useEffect(() => {
    const drive = driveId !== null && connected ? session.drives.driveNow(driveId) : null;
    if (!drive || folders.length === 0) return setThere(NOTHING);
    const stop = new AbortController();
    const look = async () => {
      const found: string[] = [];
      const options = { shallow: true, signal: stop.signal, onFolder: (path: string) => found.push(`${path}/`) }; // a folder without files counts as one that is there
      for (const below of folders.slice(0, LOOKED_AT))
        for await (const { path } of drive.list({ ...options, below })) found.push(path);
      setThere(found);
    };
    look().catch(() => undefined);
    return () => stop.abort();
  }, [driveId, connected, folders]);
  return useMemo(() => [...cataloged, ...promised, ...there], [cataloged, promised, there]);
}

/** Paths that accessions on their way will take. */
async function promisedPaths(): Promise<string[]> {
  const open = (await session.db.accessions.toArray()).filter(({ endedAt }) => endedAt === null).map(({ id }) => id);
  return (await session.db.accessionFiles.where('accessionId').anyOf(open).toArray())
    .filter(({ placed }) => placed.length === 0)
    .map(({ to }) => to);
}
