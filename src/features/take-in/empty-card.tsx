'use client';

// Emptying a card: what may go, what stands in the way, and the one act that does it, which names the number of files.

import { App, Button } from 'antd';
import { useState } from 'react';
import type { Obstacle } from '@/core/take-in/emptying';
import { type CardStanding, cardStanding } from '@/storage/jobs/emptying';
import type { SourceRecord } from '@/storage/catalog/records';
import { bytes, count, plural } from '@/ui/format';
import { JobsList, useJobs } from '../session/jobs-list';
import { session } from '../session/session';
import { useTakeIn } from './take-in-state';
import styles from './take-in.module.css';

const WHY: Record<Obstacle['why'], string> = {
  'never-read': 'not taken in', changed: 'changed since it was taken in', other: 'belongs to no photo', copies: 'too few proven copies',
};

export function EmptyCard({ source }: { source: SourceRecord }) {
  const { message } = App.useApp();
  const copies = useTakeIn((state) => state.sheet.copiesToEmpty);
  const [standing, setStanding] = useState<CardStanding | 'looking' | null>(null);
  const jobs = useJobs().filter((job) => job.kind === 'empty' && job.sourceId === source.id).slice(0, 1);
  const look = async () => {
    const drive = session.drives.driveNow(source.id);
    if (!drive) return void message.warning(`${source.name} is away.`);
    setStanding('looking');
    try {
      setStanding(await cardStanding({ db: session.db, hands: session.handsAtWork, signal: new AbortController().signal }, drive, copies));
    } catch (error) {
      setStanding(null);
      message.error(`It could not be looked at: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  const empty = async (files: number) => {
    if ((await session.drives.openSource(source.id, 'write')).state !== 'connected') return void message.warning('The browser was not given leave to remove files there. Nothing was removed.');
    await session.startEmptying(source.id, { files, copies });
    setStanding(null);
  };
  return (
    <section className={styles.section} aria-labelledby="take-in-empty">
      <h2 id="take-in-empty">Empty {source.name}</h2>
      {standing === null && (
        <div className={styles.line}>
          <Button size="small" onClick={() => void look()}>May it be emptied?</Button>
          <span className="quiet">Asks the catalog, file by file. Nothing is removed by asking.</span>
        </div>
      )}
      {standing === 'looking' && <p className="quiet" aria-live="polite">Asking the catalog…</p>}
      {standing !== null && standing !== 'looking' && <Standing standing={standing} source={source} copies={copies} onEmpty={(files) => void empty(files)} onLeave={() => setStanding(null)} />}
      {jobs.length > 0 && <JobsList jobs={jobs} none="" />}
    </section>
  );
}

function Standing({ standing: { plan }, source, copies, onEmpty, onLeave }: { standing: CardStanding; source: SourceRecord; copies: number; onEmpty: (files: number) => void; onLeave: () => void }) {
  const { removable, obstacles } = plan;
  const size = removable.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const reasons = (Object.keys(WHY) as Obstacle['why'][]).map((why) => ({ why, paths: obstacles.filter((one) => one.why === why) })).filter(({ paths }) => paths.length > 0);
  return (
    <>
      <p aria-live="polite">
        {removable.length === 0 ? 'Nothing may be removed.' : `${plural(removable.length, 'file has', 'files have')} ${copies === 1 ? 'a proven copy' : `${copies} proven copies on different drives`} and may go, ${bytes(size)}.`}
        {obstacles.length > 0 && ` ${plural(obstacles.length, 'file stays', 'files stay')}:`}
      </p>
      {reasons.map(({ why, paths }) => (
        <details key={why} className={styles.details} open={why !== 'other'}>
          <summary>{WHY[why]}: {count(paths.length)}</summary>
          <ul className="mono">{paths.slice(0, 100).map((one) => <li key={one.path}>{one.path}{one.why === 'copies' && ` (${one.copies} of ${copies})`}</li>)}</ul>
        </details>
      ))}
      <div className={styles.line}>
        {removable.length > 0 && <Button danger onClick={() => onEmpty(removable.length)}>Remove {plural(removable.length, 'file')} from {source.name}</Button>}
        <Button onClick={onLeave}>Leave it as it is</Button>
        {removable.length > 0 && <span className="quiet">Each is read once more before it goes. This cannot be undone.</span>}
      </div>
    </>
  );
}
