'use client';

// The bench beside the demo: its practice drives and its card, to be put in and taken out, and the way out of it.

import { App, Button, Switch } from 'antd';
import { useLive } from '@/storage/catalog/live';
import { SmallCard } from '@/ui/small-card';
import { session } from '@/engine/session';
import { leaveDemo } from '@/engine/which-catalog';
import styles from './frame.module.css';
import { DriveIcon } from './icons';
import { startTour } from './tour';
import { useSession } from '@/features/parts/session/use-session';

/** Drives and cards of the demo. */
const usePracticePlaces = () =>
  useLive(async () =>
    [...(await session.db.drives.toArray()), ...(await session.db.sources.toArray())].filter(
      ({ kind }) => kind === 'practice',
    ),
  ) ?? [];

export function PracticePanel() {
  const drives = usePracticePlaces();
  const away = drives.filter(({ takenOut }) => takenOut).length;
  return (
    <SmallCard placement="bottomRight" content={<Bench />}>
      <Button type="text" icon={<DriveIcon />} className={styles.running}>
        Practice drives{away > 0 && <span className="quiet"> · {away} unplugged</span>}
      </Button>
    </SmallCard>
  );
}

function Bench() {
  const { modal } = App.useApp();
  const drives = usePracticePlaces();
  const loading = useSession((state) => state.demo.state === 'loading');
  const leave = () =>
    modal.confirm({
      title: 'Leave the demo?',
      content:
        'Its practice drives and its catalog are removed from this browser, with all you changed in them. Your own catalog and your files are not touched.',
      okText: 'Leave and remove',
      cancelText: 'Stay',
      onOk: leaveDemo,
      icon: null,
    });
  return (
    <div className={styles.bench}>
      <p className="quiet">
        As if by hand: what is unplugged is away, and changes for it wait until it is plugged in again.
      </p>
      <ul>
        {drives.map(({ id, name, takenOut }) => (
          <li key={id}>
            <span>{name}</span>
            <Switch
              size="small"
              checked={!takenOut}
              onChange={(put) => void session.drives.setTakenOut(id, !put)}
              aria-label={`${name} is plugged in`}
            />
          </li>
        ))}
      </ul>
      <div className={styles.benchFoot}>
        <Button size="small" onClick={startTour}>
          Take the tour
        </Button>
        <Button size="small" onClick={leave} disabled={loading}>
          Leave the demo
        </Button>
      </div>
    </div>
  );
}
