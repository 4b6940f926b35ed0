'use client';

import { Button } from 'antd';
import Link from 'next/link';
import { useLive } from '@/storage/catalog/live';
import { takeInAddress } from '@/features/parts/connecting/connect-drive';
import { session } from '@/engine/session';
import styles from './overview.module.css';
import { useSession } from '@/features/parts/session/use-session';

/** Cards and folders that are there to be taken in from. They are no drives: nothing is kept on them. */
export function CardRows() {
  const sources =
    useLive(async () => (await session.db.sources.toArray()).sort((a, b) => b.usedAt - a.usedAt).slice(0, 4)) ?? [];
  const connections = useSession((state) => state.connections);
  if (sources.length === 0) return null;
  return (
    <ul aria-label="Cards" className={styles.drives}>
      {sources.map(({ id, name, kind, takenOut }) => {
        const there = connections[id]?.state !== 'away';
        return (
          <li key={id} className={styles.drive}>
            <strong>{name}</strong>
            <span className="quiet">{there ? 'to take in from' : 'away'}</span>
            <span />
            <span className={styles.driveActions}>
              {kind === 'practice' && (
                <Button size="small" onClick={() => void session.drives.setTakenOut(id, !takenOut)}>
                  {takenOut ? 'Plug in' : 'Unplug'}
                </Button>
              )}
              {there && (
                <Link href={takeInAddress(id)}>
                  <Button size="small">Take in</Button>
                </Link>
              )}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
