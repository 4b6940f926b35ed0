'use client';

// Emptying a card: what may go, what stands in the way, and the one act that does it, which names the number of files.

import { App, Button } from 'antd';
import { useState } from 'react';
import { driveName } from '@/messages/drive-name';
import type { Obstacle } from '@/core/take-in/emptying';
import { type CardStatus, cardStatus } from '@/storage/jobs/emptying';
import type { SourceRecord } from '@/storage/catalog/records';
import { useLive } from '@/storage/catalog/live';
import { DriveError } from '@/storage/drives/drive';
import { driveProblemSentence } from '@/messages/problems';
import { bytes, count, dateTime, plural } from '@/ui/format';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { useTakeIn } from './take-in-state';
import styles from './take-in.module.css';

const WHY: Record<Obstacle['why'], string> = {
  'never-read': 'not taken in',
  changed: 'changed since it was taken in',
  other: 'belongs to no photo',
  copies: 'too few verified copies',
};

export function EmptyCard({ source }: { source: SourceRecord }) {
  const { message } = App.useApp();
  const copies = useTakeIn((state) => state.sheet.copiesToEmpty);
  const awayCounts = useTakeIn((state) => state.sheet.awayCounts) ?? false;
  const [status, setStatus] = useState<CardStatus | 'looking' | null>(null);
  const jobs = useJobs()
    .filter((job) => job.kind === 'empty' && job.sourceId === source.id)
    .slice(0, 1);
  const look = async () => {
    const drive = session.drives.driveNow(source.id);
    if (!drive) return void message.warning(`${source.name} is away.`);
    setStatus('looking');
    try {
      setStatus(
        await cardStatus(
          {
            db: session.db,
            fileTasks: session.fileTasks,
            signal: new AbortController().signal,
            driveOf: await session.drives.apartFrom(source.id),
          },
          drive,
          { copies, awayCounts },
        ),
      );
    } catch (error) {
      setStatus(null);
      message.error(
        error instanceof DriveError
          ? `${error.path} ${driveProblemSentence(error.problem)}`
          : `It could not be looked at: ${error instanceof Error ? error.message : String(error)}`,
      );
    }
  };
  const empty = async (files: number) => {
    if ((await session.drives.openSource(source.id, 'write')).state !== 'connected')
      return void message.warning('The browser was not given leave to remove files there. Nothing was removed.');
    await session.startEmptying(source.id, { files, copies, awayCounts });
    setStatus(null);
  };
  return (
    <section className={styles.section} aria-labelledby="take-in-empty">
      <h2 id="take-in-empty">Empty {source.name}</h2>
      {status === null && (
        <div className={styles.line}>
          <Button size="small" onClick={() => void look()}>
            May it be emptied?
          </Button>
          <span className="quiet">Asks the catalog, file by file. Nothing is removed by asking.</span>
        </div>
      )}
      {status === 'looking' && (
        <p className="quiet" aria-live="polite">
          Asking the catalog…
        </p>
      )}
      {status !== null && status !== 'looking' && (
        <Status
          status={status}
          source={source}
          copies={copies}
          onEmpty={(files) => void empty(files)}
          onLeave={() => setStatus(null)}
        />
      )}
      {jobs.length > 0 && <JobsList jobs={jobs} none="" />}
    </section>
  );
}

function Status({
  status: { plan, proofs },
  source,
  copies,
  onEmpty,
  onLeave,
}: {
  status: CardStatus;
  source: SourceRecord;
  copies: number;
  onEmpty: (files: number) => void;
  onLeave: () => void;
}) {
  const { removable, obstacles } = plan;
  const size = removable.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const reasons = (Object.keys(WHY) as Obstacle['why'][])
    .map((why) => ({ why, paths: obstacles.filter((one) => one.why === why) }))
    .filter(({ paths }) => paths.length > 0);
  return (
    <>
      <p aria-live="polite">
        {removable.length === 0
          ? 'Nothing may be removed.'
          : `${plural(removable.length, 'file has', 'files have')} ${copies === 1 ? 'a verified copy' : `${copies} verified copies on different drives`} and may go, ${bytes(size)}.`}
        {obstacles.length > 0 && ` ${plural(obstacles.length, 'file stays', 'files stay')}:`}
      </p>
      {removable.length > 0 && <Justified removable={removable} proofs={proofs} />}
      {reasons.map(({ why, paths }) => (
        <details key={why} className={styles.details} open={why !== 'other'}>
          <summary>
            {WHY[why]}: {count(paths.length)}
          </summary>
          <ul className="mono">
            {paths.slice(0, 100).map((one) => (
              <li key={one.path}>
                {one.path}
                {one.why === 'copies' && ` (${one.copies} of ${copies})`}
              </li>
            ))}
          </ul>
        </details>
      ))}
      <div className={styles.line}>
        {removable.length > 0 && (
          <Button danger onClick={() => onEmpty(removable.length)}>
            Remove {plural(removable.length, 'file')} from {source.name}
          </Button>
        )}
        <Button onClick={onLeave}>Leave it as it is</Button>
        {removable.length > 0 && (
          <span className="quiet">
            Each is read once more before it goes, and its copies are looked at where they lie. This cannot be undone.
          </span>
        )}
      </div>
    </>
  );
}

/** Files listed with what justifies that they go; of more it says how many. */
const LISTED = 200;

/** For each file that may go, which copies justify it, and when each was last read in full. */
function Justified({
  removable,
  proofs,
}: {
  removable: CardStatus['plan']['removable'];
  proofs: CardStatus['proofs'];
}) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const nameOf = (driveId: string) => driveName(drives, driveId);
  const away = new Set(
    removable.flatMap(
      ({ path }) =>
        proofs
          .get(path)
          ?.copies.filter(({ isAway }) => isAway)
          .map(({ driveId }) => nameOf(driveId)) ?? [],
    ),
  );
  return (
    <>
      {away.size > 0 && (
        <p className={styles.caution}>
          Some copies lie on {[...away].join(', ')}, which {away.size === 1 ? 'is' : 'are'} away and cannot be looked
          at; by your rule they count.
        </p>
      )}
      <details className={styles.details}>
        <summary>May go, and why: {count(removable.length)}</summary>
        <ul className={styles.justified}>
          {removable.slice(0, LISTED).map(({ path }) => (
            <li key={path}>
              <span className="mono">{path}</span>
              {proofs.get(path)?.copies.map(({ driveId, path: copy, verifiedAt, isAway }) => (
                <div key={driveId} className="quiet">
                  {nameOf(driveId)}
                  {isAway ? ' (away)' : ''}: <span className="mono">{copy}</span>,{' '}
                  {verifiedAt === null ? 'read in full before this goes' : `read in full ${dateTime(verifiedAt)}`}
                </div>
              ))}
            </li>
          ))}
        </ul>
        {removable.length > LISTED && <p className="quiet">and {count(removable.length - LISTED)} more</p>}
      </details>
    </>
  );
}
