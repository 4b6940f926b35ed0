'use client';

// Three ways for photos to go, each with its own word, its counts and bytes, and what becomes of every copy on every
// drive; said before it happens.

import { Button, Drawer } from 'antd';
import { create } from 'zustand';
import { type RemovalPlan, planLeaveOut, planSetAside } from '@/storage/catalog/set-aside';
import { useLive } from '@/storage/catalog/live';
import { bytes, count, photos, plural, today } from '@/ui/format';
import { useEscape } from '@/ui/keys';
import { session } from '@/engine/session';
import styles from './judging.module.css';
import { mayGo } from './rate';
import { useSession } from '@/features/parts/session/use-session';

interface Plans {
  out: RemovalPlan;
  aside: RemovalPlan;
}

const useRemoval = create<{ plans: Plans | null }>(() => ({ plans: null }));

/** Says what would become of these photos; nothing is done by that. */
export async function beginRemoval(ids: readonly string[]): Promise<void> {
  const going = await mayGo(ids);
  if (!going) return;
  const plans = { out: await planLeaveOut(session.db, going), aside: await planSetAside(session.db, going, today()) };
  useRemoval.setState({ plans });
}

export function RemovalDrawer() {
  const plans = useRemoval((state) => state.plans);
  return plans && <GoingDrawer plans={plans} onClose={() => useRemoval.setState({ plans: null })} />;
}

function GoingDrawer({ plans: { out, aside }, onClose }: { plans: Plans; onClose: () => void }) {
  useEscape(true, onClose);
  const act = async ({ change }: RemovalPlan) => {
    await session.change(change);
    onClose();
  };
  return (
    <Drawer open onClose={onClose} title={`${photos(out.photos)} to go`} size={440} keyboard={false}>
      <div className={styles.ways}>
        <section aria-label="Set aside">
          <h3>Set aside</h3>
          <p>
            {plural(aside.files, 'file')} of {photos(aside.photos)} ({bytes(aside.bytes)}), with their sidecars, move
            into the folder <code>_wembo/set-aside/{today()}</code> of their drive. They are listed in Safekeep with
            this date and can come back, or be erased there.
          </p>
          <Drives going={aside} verb="moved" />
          <Button type="primary" disabled={aside.files === 0} onClick={() => void act(aside)}>
            Set {photos(aside.photos)} aside
          </Button>
        </section>
        <section aria-label="Take out of the catalog">
          <h3>Take out of the catalog</h3>
          <p>
            The photos are no longer shown or counted here. Their {plural(out.files, 'file')} ({bytes(out.bytes)}) stay
            where they are, untouched; no space is regained. They are listed in Safekeep and can come back.
          </p>
          <Button disabled={out.photos === 0} onClick={() => void act(out)}>
            Take {photos(out.photos)} out of the catalog
          </Button>
        </section>
        <section aria-label="Erase">
          <h3>Erase</h3>
          <p>Only what is set aside can be erased, in Safekeep, after being asked twice. This regains the space.</p>
        </section>
      </div>
    </Drawer>
  );
}

/** All copies on all drives, those that are away included. */
export function Drives({ going, verb }: { going: Pick<RemovalPlan, 'drives'>; verb: string }) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const connections = useSession((state) => state.connections);
  return (
    <ul className={styles.onDrives}>
      {[...going.drives].map(([id, files]) => {
        const connection = connections[id];
        const later =
          connection?.state !== 'connected'
            ? `, ${verb} when the drive is there again`
            : connection.writable
              ? ''
              : `, ${verb} when the drive may be written`;
        return (
          <li key={id}>
            <strong>{drives.find((drive) => drive.id === id)?.name ?? id}</strong>: {count(files)}{' '}
            {files === 1 ? 'file' : 'files'}
            {later}
          </li>
        );
      })}
    </ul>
  );
}
