'use client';

// Copies that are kept up to date, with what is not there yet.

import { Button } from 'antd';
import { driveName } from '@/messages/drive-name';
import { type KeptCopyRoutine, planNoCopyRoutine, readCopyRoutines } from '@/storage/catalog/copy-routines';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { bytes, photos } from '@/ui/format';
import { useJobs } from '@/features/parts/jobs/jobs-list';
import { useAsked } from '@/features/parts/session/use-asked';
import { useSession } from '@/features/parts/session/use-session';
import styles from './safekeep.module.css';

export function CopyRoutineList({ drives }: { drives: readonly DriveRecord[] }) {
  const routines = useLive(() => readCopyRoutines(session.db)) ?? [];
  if (routines.length === 0) return null;
  return (
    <ul aria-label="Copies kept up to date">
      {routines.map((routine) => (
        <RoutineRow key={routine.id} routine={routine} drives={drives} />
      ))}
    </ul>
  );
}

function RoutineRow({ routine, drives }: { routine: KeptCopyRoutine; drives: readonly DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const ended = useJobs().filter(({ endedAt }) => endedAt !== null).length;
  const here = drives.filter(({ id }) => connections[id]?.state === 'connected').map(({ id }) => id);
  const plan = useAsked(
    `${routine.id} ${ended} ${here.join(' ')}`,
    () => session.copyRoutines.plan(routine),
    300,
  )?.answer;
  const name = (id: string) => driveName(drives, id);
  const from = routine.fromId === null ? routine.scope || 'all photos' : name(routine.fromId);
  const words = `${from} → ${name(routine.toId)}`;
  return (
    <li className={styles.check}>
      <strong>{words}</strong>
      <span className="quiet">
        {plan === undefined && 'counting'}
        {plan === null && 'waits for its drives'}
        {plan && (plan.photos === 0 ? 'up to date' : `${photos(plan.photos)} to copy, ${bytes(plan.bytes)}`)}
        {routine.folders && ', folders by a pattern'}
        {routine.begins && ', begins by itself'}
      </span>
      <span className={styles.routineActs}>
        {plan && plan.photos > 0 && (
          <Button
            size="small"
            onClick={() => void session.copyRoutines.begin(routine)}
            aria-label={`Copy now: ${words}`}
          >
            Copy now
          </Button>
        )}
        <Button
          size="small"
          type="text"
          onClick={() => void session.change(planNoCopyRoutine(routine, Date.now()))}
          aria-label={`No longer: ${words}`}
        >
          No longer
        </Button>
      </span>
    </li>
  );
}
