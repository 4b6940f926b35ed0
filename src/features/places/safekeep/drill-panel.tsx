'use client';

// The drill: a way back that was never walked is none. Restores some photos from a copy for real, and says when that was.

import { Button } from 'antd';
import { useState } from 'react';
import { driveName } from '@/messages/drive-name';
import { DRILL_PHOTOS, readLastDrill } from '@/storage/jobs/drilling';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { count, dayWords, photos } from '@/ui/format';
import { useSession } from '@/features/parts/session/use-session';
import { DriveSelect } from './drive-select';
import styles from './safekeep.module.css';

export function DrillPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const last = useLive(() => readLastDrill(session.db)) ?? null;
  const [from, setFrom] = useState<string | null>(null);
  const here = drives.filter(({ id }) => connections[id]?.state === 'connected');
  // restored to another drive where there is one
  const target = [...here.filter(({ id }) => id !== from), ...here].find(({ access }) => access === 'write');
  const name = (id: string) => driveName(drives, id);
  return (
    <section className={styles.panel} aria-label="Drill">
      <header>
        <h2>Drill</h2>
      </header>
      <p className="quiet">
        Restores {DRILL_PHOTOS} photos from a copy, by what lies on its drive alone: are the bytes what its manifest
        says, and is all there that you wrote? What is written for it is removed again.
      </p>
      <p>
        {last
          ? `Last drill ${dayWords(last.at)}, from ${name(last.driveId)}: ${last.wrong === 0 ? `all ${photos(last.photos)} came back right.` : `of ${photos(last.photos)} ${count(last.wrong)} did not come back as they should.`}`
          : 'No drill was run yet.'}
      </p>
      <div className={styles.acts}>
        <DriveSelect label="Restore from" placeholder="from which copy" drives={here} value={from} onChange={setFrom} />
        <Button
          size="small"
          disabled={!from || !target}
          onClick={() => from && target && void session.startDrill(from, target.id)}
        >
          Run a drill
        </Button>
      </div>
    </section>
  );
}
