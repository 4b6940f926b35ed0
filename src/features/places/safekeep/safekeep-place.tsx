'use client';

import { App, Button } from 'antd';
import Link from 'next/link';
import { quoted } from '@/core/query/write-scope';
import { useLive, useSum } from '@/storage/catalog/live';
import type { ConflictRecord } from '@/storage/catalog/records';
import { decisionsFor } from '@/storage/catalog/sidecars';
import { count, dateTime, photos } from '@/ui/format';
import { ConflictCard } from '@/features/parts/record-card/conflict-panel';
import { findAddress } from '@/features/parts/search/use-scope';
import { driveStatus } from '@/storage/catalog/drive-status';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { problemSentence } from '@/messages/problems';
import { CopyForm } from './copy-form';
import styles from './safekeep.module.css';
import { SetAsideCard } from './set-aside-card';
import { CopiesChart } from './copies-chart';
import { LeftBehindPanel } from './left-behind';
import { UnsettledPanel } from './unsettled';
import { useSession } from '@/features/parts/session/use-session';

export function SafekeepPlace() {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const jobs = useJobs().filter(({ kind }) => kind !== 'scan');
  const conflicts = useLive(() => session.db.conflicts.toArray()) ?? [];
  const unreadable = useLive(() => session.db.files.where('state').equals('unreadable').toArray()) ?? [];
  const names = new Map(drives.map(({ id, name }) => [id, name]));
  return (
    <main className={styles.place}>
      <h1 className="visually-hidden">Safekeep</h1>
      <div className={styles.column}>
        <section className={styles.panel}>
          <header>
            <h2>How many verified copies</h2>
          </header>
          <CopiesChart />
        </section>
        <UnsettledPanel drives={drives} />
        <LeftBehindPanel drives={drives} />
        <section className={styles.panel}>
          <header>
            <h2>Check a drive</h2>
          </header>
          <p className="quiet">
            Reads every byte again and names what is damaged, missing or new. Anyone can do the same without Wembo:{' '}
            <code>sha256sum -c _wembo/manifest-sha256.txt</code>
          </p>
          <ul>
            {drives.map((drive) => (
              <CheckRow key={drive.id} driveId={drive.id} name={drive.name} />
            ))}
          </ul>
        </section>
        {unreadable.length > 0 && (
          <section className={styles.panel}>
            <header>
              <h2>Not readable: {count(unreadable.length)}</h2>
            </header>
            <ul className={styles.unreadable}>
              {unreadable.slice(0, 200).map((file) => (
                <li key={file.id}>
                  <strong>{names.get(file.driveId)}</strong> <span className="mono">{file.path}</span>{' '}
                  {file.problems[0] && problemSentence(file.problems[0])}
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      <div className={styles.column}>
        <section className={styles.panel}>
          <header>
            <h2>Second copy</h2>
          </header>
          <CopyForm drives={drives} />
        </section>
        {conflicts.length > 0 && (
          <section className={styles.panel}>
            <header>
              <h2>Two versions: {count(conflicts.length)} to decide</h2>
            </header>
            {conflicts.length > 1 && <DecideAll conflicts={conflicts} />}
            {conflicts.slice(0, 20).map((conflict) => (
              <ConflictCard key={conflict.fileId} conflict={conflict} />
            ))}
          </section>
        )}
        <SetAsideCard />
        <section className={styles.panel}>
          <header>
            <h2>Copies and checks</h2>
          </header>
          <JobsList jobs={jobs} none="No copy and no check has run yet." />
        </section>
      </div>
    </main>
  );
}

/** One decision for all, as one act that undo takes back. */
function DecideAll({ conflicts }: { conflicts: readonly ConflictRecord[] }) {
  const { message } = App.useApp();
  const decide = async (side: 'here' | 'theirs') => {
    await session.decide(await decisionsFor(session.db, conflicts, side));
    message.success(`${count(conflicts.length)} decided. Undo brings them back.`);
  };
  return (
    <p>
      {conflicts.length > 20 && <span className="quiet">The first 20 are shown. </span>}
      <Button size="small" onClick={() => void decide('here')}>
        Keep what is here, for all {count(conflicts.length)}
      </Button>{' '}
      <Button size="small" onClick={() => void decide('theirs')}>
        Take the sidecar’s or the file’s, for all {count(conflicts.length)}
      </Button>
    </p>
  );
}

function CheckRow({ driveId, name }: { driveId: string; name: string }) {
  const state = useSession((all) => all.connections[driveId]?.state ?? 'away');
  const status = useSum(session.db, 'files', () => driveStatus(session.db, driveId), [driveId]);
  return (
    <li className={styles.check}>
      <strong>{name}</strong>
      <span className="quiet">
        {status &&
          (status.unverified > 0
            ? `${photos(status.unverified)} not read in full yet`
            : status.oldestReading !== null
              ? `last full check ${dateTime(status.oldestReading)}`
              : 'nothing on it')}
      </span>
      {status !== undefined && status.damaged + status.missing + status.inDoubt > 0 && (
        <Link className={styles.bad} href={findAddress(`state:any drive:${quoted(name)}`)}>
          {count(status.damaged + status.missing + status.inDoubt)} damaged, missing or in doubt
        </Link>
      )}
      <Button
        size="small"
        disabled={state !== 'connected'}
        onClick={() => void session.startCheck(driveId)}
        aria-label={state === 'connected' ? `Check ${name}` : `${name} is away`}
      >
        {state === 'connected' ? 'Check' : 'away'}
      </Button>
    </li>
  );
}
