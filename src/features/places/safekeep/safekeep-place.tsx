'use client';

import { App, Button } from 'antd';
import { useSearchParams } from 'next/navigation';
import { useLive } from '@/storage/catalog/live';
import type { ConflictRecord } from '@/storage/catalog/records';
import { decisionsFor } from '@/storage/catalog/sidecars';
import { count } from '@/ui/format';
import { ConflictCard } from '@/features/parts/record-card/conflict-panel';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { askForStore } from '@/features/parts/connecting/asked-store';
import { session } from '@/engine/session';
import { problemSentence } from '@/messages/problems';
import { BackupPanel } from './backup-panel';
import { BagPanel } from './bag-panel';
import { CheckPanel } from './check-panel';
import { DoublesPanel } from './doubles-panel';
import { DrillPanel } from './drill-panel';
import { FreeRoomPanel } from './free-room-panel';
import { CopyForm } from './copy-form';
import styles from './safekeep.module.css';
import { SetAsideCard } from './set-aside-card';
import { SafetyPanel } from './safety-panel';
import { LeftBehindPanel } from './left-behind';
import { UnsettledPanel } from './unsettled';

export function SafekeepPlace() {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const jobs = useJobs().filter(({ kind }) => kind !== 'scan');
  const conflicts = useLive(() => session.db.conflicts.toArray()) ?? [];
  const unreadable = useLive(() => session.db.files.where('state').equals('unreadable').toArray()) ?? [];
  const asked = useSearchParams().get('what') ?? '';
  const names = new Map(drives.map(({ id, name }) => [id, name]));
  return (
    <main className={styles.place}>
      <h1 className="visually-hidden">Safekeep</h1>
      <SafetyPanel drives={drives} />
      <div className={styles.column}>
        <UnsettledPanel drives={drives} />
        <LeftBehindPanel drives={drives} />
        <DoublesPanel drives={drives} />
        <CheckPanel drives={drives} />
        <DrillPanel drives={drives} />
        <BackupPanel drives={drives} />
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
        <section className={styles.panel} id="second-copy">
          <header className={styles.headed}>
            <h2>Second copy</h2>
            <Button size="small" onClick={askForStore}>
              Connect a store elsewhere…
            </Button>
          </header>
          <CopyForm key={asked} drives={drives} />
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
        <FreeRoomPanel drives={drives} />
        <BagPanel drives={drives} />
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
