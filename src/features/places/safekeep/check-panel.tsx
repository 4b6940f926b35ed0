'use client';

// Checks: a drive now, or a little of each drive every day.

import { Button, Checkbox } from 'antd';
import Link from 'next/link';
import { quoted } from '@/core/query/write-scope';
import { DAILY_SETTING } from '@/engine/daily-work';
import { session } from '@/engine/session';
import { driveStatus } from '@/storage/catalog/drive-status';
import { useLive, useSum } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import { count, dayWords, photos } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import { useSession } from '@/features/parts/session/use-session';
import styles from './safekeep.module.css';

export function CheckPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const daily = useLive(async () => (await session.db.settings.get(DAILY_SETTING))?.value === true) ?? false;
  const choose = async (on: boolean) => {
    await session.keepSetting(DAILY_SETTING, on);
    if (on) void session.daily.look();
  };
  return (
    <section className={styles.panel} id="check" aria-label="Check a drive">
      <header>
        <h2>Check a drive</h2>
      </header>
      <p className="quiet">
        Every byte is read again, what was read longest ago first, and held against its measure. Anyone can do the same
        without Wembo: <code>sha256sum -c _wembo/manifest-sha256.txt</code>
      </p>
      <Checkbox checked={daily} onChange={({ target }) => void choose(target.checked)}>
        a little each day, of every drive that is connected: all of it within three months
      </Checkbox>
      <ul>
        {drives.map((drive) => (
          <CheckRow key={drive.id} drive={drive} />
        ))}
      </ul>
    </section>
  );
}

function CheckRow({ drive: { id, name } }: { drive: DriveRecord }) {
  const state = useSession((all) => all.connections[id]?.state ?? 'away');
  const status = useSum(session.db, 'files', () => driveStatus(session.db, id), [id]);
  return (
    <li className={styles.check}>
      <strong>{name}</strong>
      <span className="quiet">
        {status &&
          (status.unverified > 0
            ? `${photos(status.unverified)} not read in full yet`
            : status.oldestReading !== null
              ? `oldest reading of ${dayWords(status.oldestReading)}`
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
        onClick={() => void session.startCheck(id)}
        aria-label={state === 'connected' ? `Check ${name}` : `${name} is away`}
      >
        {state === 'connected' ? 'Check' : 'away'}
      </Button>
    </li>
  );
}
