'use client';

// Take in: one sheet from top to bottom (what is there, what to take, where it goes, what is written, the second copy),
// with the outcome always in sight beside it.

import { useSearchParams } from 'next/navigation';
import { useEffect, useRef } from 'react';
import { nextNumber } from '@/storage/catalog/accessions';
import { useLive } from '@/storage/catalog/live';
import { useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { Accessions } from './accessions';
import { ArrivalSection } from './arrival-section';
import { EmptyCard } from './empty-card';
import { FramesSection } from './frames-section';
import { TakeInOutcome } from './outcome';
import { RoutineLine } from './routine-line';
import { SecondSection } from './second-section';
import { SourceSection } from './source-section';
import { chooseSource, surveyAgain, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';
import { useChosen } from './use-plan';
import { WhereSection } from './where-section';
import { useSession } from '@/features/parts/session/use-session';
import { changeAddress } from '@/ui/address';

export function TakeInPlace() {
  const ready = useSession((state) => state.stage.state === 'ready');
  const sourceId = useTakeIn((state) => state.sourceId);
  const survey = useTakeIn((state) => state.survey);
  const source =
    useLive(async () => (sourceId === null ? null : ((await session.db.sources.get(sourceId)) ?? null)), [sourceId]) ??
    null;
  const number = useLive(() => nextNumber(session.db, new Date().getFullYear())) ?? '';
  const chosen = useChosen();
  useSourceInAddress(ready);
  useSurveyAgain();
  if (!ready) return <main className={styles.opening}>Opening the catalog…</main>;
  return (
    <main className={styles.place}>
      <h1 className="visually-hidden">Take in</h1>
      <div className={styles.sheet}>
        <RoutineLine />
        <SourceSection />
        {source && survey && survey.items.length > 0 && (
          <>
            <FramesSection {...chosen} />
            <WhereSection number={number} />
            <ArrivalSection all={chosen.all} />
            <SecondSection />
          </>
        )}
        {source && survey?.progress.phase === 'done' && <EmptyCard key={source.id} source={source} />}
        {!source && <WhereSection number={number} />}
      </div>
      <div className={styles.side}>
        <TakeInOutcome source={source} chosen={chosen} />
        <Accessions />
      </div>
    </main>
  );
}

/** When a drive was cataloged, something was taken in or the card was emptied, what is known is not what it was. */
function useSurveyAgain(): void {
  const ended = useJobs().filter(({ endedAt, kind }) => endedAt !== null && kind !== 'check' && kind !== 'copy').length;
  const before = useRef(ended);
  useEffect(() => {
    if (before.current !== ended && useTakeIn.getState().survey?.progress.phase === 'done') void surveyAgain();
    before.current = ended;
  }, [ended]);
}

/** A card that arrived, or was dropped, is named in the address (`?from=`), once. */
function useSourceInAddress(ready: boolean): void {
  const params = useSearchParams();
  const from = params.get('from');
  useEffect(() => {
    if (!ready || from === null) return;
    changeAddress({ from: null });
    void chooseSource(from);
  }, [ready, from]);
}
