'use client';

// What is in danger: photos that are not safe, and why; drives nobody has seen for long; words that wait for a drive;
// when the way back was last walked.

import Link from 'next/link';
import { useState } from 'react';
import { DAY_MS } from '@/core/time/captured';
import { isInUse } from '@/core/fixity/keeping';
import { useLive } from '@/storage/catalog/live';
import { type DriveRecord, isOfFiles } from '@/storage/catalog/records';
import { changesSinceBackup, readLastBackup } from '@/storage/jobs/backing-up';
import { readLastDrill } from '@/storage/jobs/drilling';
import { session } from '@/engine/session';
import { count, dayWords, photos, plural } from '@/ui/format';
import { type Need, NeedList } from '@/features/parts/needs/need-list';
import { useUnsafe } from '@/features/parts/needs/use-unsafe';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import styles from './overview.module.css';

/** A drive that was not seen for so long may have died unnoticed: common practice is to look twice a year. */
const SEEN_WITHIN_MS = 183 * DAY_MS;
/** So often the way back is walked. */
const DRILL_WITHIN_MS = 365 * DAY_MS;
/** After so many acts a new backup is offered. */
const MANY_ACTS = 100;

export function InDanger({ drives }: { drives: readonly DriveRecord[] }) {
  const { all, safe, needs } = useUnsafe(drives);
  const unseen = useUnseen(drives);
  const waiting = useWaiting(drives);
  const back = useWayBack();
  const reading = useReading();
  const rest = [
    ...needs.filter(({ count: some }) => some !== 0).map((need) => (reading > 0 ? calm(need) : need)),
    ...unseen,
    ...waiting,
    ...back,
  ];
  return (
    <section className={styles.panel} aria-label="In danger">
      <header>
        <h2 data-level={reading > 0 || all === 0 ? 'open' : safe === all ? 'safe' : 'attention'}>
          <Link href="/safekeep">{safetyWords(all, safe)}</Link>
        </h2>
        {reading > 0 && <span className="quiet">{plural(reading, 'drive')} still being looked through</span>}
      </header>
      {rest.length > 0 ? <NeedList label="In danger" needs={rest} /> : <p className="quiet">Nothing is in danger.</p>}
    </section>
  );
}

const safetyWords = (all: number, safe: number): string => {
  if (all === 0) return 'No photos to keep safe yet';
  return safe === all ? `All ${photos(all)} are safe` : `${count(safe)} of ${photos(all)} are safe`;
};

/** How many drives are being looked through: until then, a second copy may just not have been met. */
const useReading = (): number =>
  useLive(() =>
    session.db.jobs
      .where('state')
      .equals('running')
      .filter(({ kind }) => kind === 'scan')
      .count(),
  ) ?? 0;

/** No alarm yet. */
const calm = (need: Need): Need => ({ ...need, level: 'plain' });

function useUnseen(drives: readonly DriveRecord[]): Need[] {
  const connections = useSession((state) => state.connections);
  const keeping = useKeeping();
  const [now] = useState(Date.now);
  return drives
    .filter(
      ({ id, seenAt }) =>
        isInUse(keeping, id) &&
        connections[id]?.state !== 'connected' &&
        seenAt !== undefined &&
        now - seenAt > SEEN_WITHIN_MS,
    )
    .map(({ name, seenAt = 0 }) => ({
      words: `“${name}” was seen last ${dayWords(seenAt)}`,
      count: null,
      to: '/safekeep',
      level: 'caution',
      act: null,
    }));
}

/** Words, names and copies that wait for a drive that is away. */
function useWaiting(drives: readonly DriveRecord[]): Need[] {
  const connections = useSession((state) => state.connections);
  const waiting =
    useLive(async () => {
      const counts = new Map<string, number>();
      for (const { driveId, task } of await session.db.outbox.toArray())
        if (isOfFiles(task)) counts.set(driveId, (counts.get(driveId) ?? 0) + 1);
      return counts;
    }) ?? new Map<string, number>();
  return drives
    .filter(({ id }) => (waiting.get(id) ?? 0) > 0 && connections[id]?.state !== 'connected')
    .map(({ id, name }) => ({
      words: `${plural(waiting.get(id) ?? 0, 'act')} to be written when “${name}” is back`,
      count: null,
      to: '#drives',
      level: 'plain',
      act: null,
    }));
}

/** Backup and drill: whether they are there, and of late. */
function useWayBack(): Need[] {
  const drill = useLive(() => readLastDrill(session.db));
  const backup = useLive(() => readLastBackup(session.db));
  const since = useLive(() => changesSinceBackup(session.db)) ?? 0;
  const [now] = useState(Date.now);
  const need = (words: string, to: string, act: string, level: Need['level'] = 'plain'): Need => ({
    words,
    count: null,
    to,
    level,
    act: { to, words: act },
  });
  const needs: Need[] = [];
  if (backup === null) needs.push(need('no backup of the catalog yet', '/safekeep#backup', 'Back up'));
  else if (backup && since >= MANY_ACTS)
    needs.push(need(`${count(since)} acts since the backup of ${dayWords(backup.at)}`, '/safekeep#backup', 'Back up'));
  if (drill === null) needs.push(need('no drill was run yet', '/safekeep#drill', 'Run one'));
  else if (drill && drill.wrong > 0)
    needs.push(
      need(
        `${plural(drill.wrong, 'photo')} of the last drill did not come back`,
        '/safekeep#drill',
        'See',
        'attention',
      ),
    );
  else if (drill && now - drill.at > DRILL_WITHIN_MS)
    needs.push(need(`the last drill was ${dayWords(drill.at)}`, '/safekeep#drill', 'Run one'));
  return needs;
}
