'use client';

// Backups of the catalog: made on a drive, looked for on the drives that are there, and restored beside the catalog that
// is open, so that nothing of it is touched.

import { App, Button, Popconfirm } from 'antd';
import { useCallback, useEffect, useState } from 'react';
import { newRestoredName, restoreBackup, type RestoredCatalog, restoredCatalogs } from '@/storage/catalog/backup';
import { type FoundBackup, backupsOn, changesSinceBackup, readLastBackup } from '@/storage/jobs/backing-up';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import { blobOf } from '@/storage/drives/safe-write';
import { driveName } from '@/messages/drive-name';
import { backupProblem, backupSinceSentence } from '@/messages/backup';
import { catalogName, deleteRestored, openRestored } from '@/engine/which-catalog';
import { DAILY_BACKUP_SETTING } from '@/engine/daily-work';
import { session } from '@/engine/session';
import { bytes, count, dateTime, dayWords, plural } from '@/ui/format';
import { useSession } from '@/features/parts/session/use-session';
import { DriveSelect } from './drive-select';
import styles from './safekeep.module.css';

type Found = { drive: DriveRecord; backup: FoundBackup };

export function BackupPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const last = useLive(() => readLastBackup(session.db)) ?? null;
  const since = useLive(() => changesSinceBackup(session.db)) ?? 0;
  const [to, setTo] = useState<string | null>(null);
  const restored = useRestored();
  const here = drives.filter(({ id }) => connections[id]?.state === 'connected');
  const writable = here.filter(({ access }) => access === 'write');
  return (
    <section className={styles.panel} id="backup" aria-label="Backup of the catalog">
      <header>
        <h2>Backup of the catalog</h2>
      </header>
      <p className="quiet">
        What you wrote is on the drives already. A backup is all the catalog knows in one file, also of drives that are
        away: open formats, read back when it is written. The last five stay, one of each month, one of each year.
      </p>
      <p>
        {last
          ? `Last backup ${dayWords(last.at)}, on ${driveName(drives, last.driveId)}; ${backupSinceSentence(since)}`
          : 'No backup was made yet.'}
      </p>
      <div className={styles.acts}>
        <DriveSelect label="Back up on" placeholder="on which drive" drives={writable} value={to} onChange={setTo} />
        <Button size="small" disabled={!to} onClick={() => to && void session.startBackup(to)}>
          Back up
        </Button>
      </div>
      <DailyBackup drives={drives} to={to} />
      <Restoring here={here} onRestored={restored.look} />
      <Restored catalogs={restored.catalogs} onDeleted={restored.look} />
    </section>
  );
}

/** Each day by itself: offered for the drive that is chosen, and no longer. */
function DailyBackup({ drives, to }: { drives: readonly DriveRecord[]; to: string | null }) {
  const daily = useLive(async () => (await session.db.settings.get(DAILY_BACKUP_SETTING))?.value) ?? null;
  const choose = async (driveId: string | null) => {
    await session.keepSetting(DAILY_BACKUP_SETTING, driveId);
    if (driveId) void session.daily.look();
  };
  return (
    <div className={styles.acts}>
      {typeof daily === 'string' && (
        <>
          <span>Made each day on {driveName(drives, daily)} when it is there, if anything was done since.</span>
          <Button size="small" onClick={() => void choose(null)}>
            No longer each day
          </Button>
        </>
      )}
      {to && to !== daily && (
        <Button size="small" onClick={() => void choose(to)}>
          Each day by itself, on {driveName(drives, to)}
        </Button>
      )}
    </div>
  );
}

/** Looks for backups, and makes a catalog of one. */
function Restoring({ here, onRestored }: { here: readonly DriveRecord[]; onRestored: () => void }) {
  const { message } = App.useApp();
  const [found, setFound] = useState<Found[] | null>(null);
  const [progress, setProgress] = useState<string | null>(null);
  const [stop, setStop] = useState<AbortController | null>(null);
  const look = async () => {
    setProgress('Looking…');
    const all: Found[] = [];
    for (const drive of here) {
      const there = session.drives.driveNow(drive.id);
      const backups = there ? await backupsOn(there).catch(() => []) : [];
      all.push(...backups.map((backup) => ({ drive, backup })));
    }
    setFound(all.sort((a, b) => (a.backup.stamp < b.backup.stamp ? 1 : -1)));
    setProgress(null);
  };
  const restore = async ({ drive, backup }: Found) => {
    const there = session.drives.driveNow(drive.id);
    if (!there) return;
    const controller = new AbortController();
    setStop(controller);
    try {
      const file = await blobOf(await there.open(backup.path));
      const { rows } = await restoreBackup(
        file,
        newRestoredName(Date.now()),
        ({ rows: done, of }) => setProgress(`Restoring: ${count(done)} of ${plural(of, 'record')}…`),
        controller.signal,
      );
      message.success(`${plural(rows, 'record')} restored, beside the catalog that is open. Open it below.`);
      onRestored();
    } catch (error) {
      if (!controller.signal.aborted) message.error(backupProblem(error));
    } finally {
      setProgress(null);
      setStop(null);
    }
  };
  return (
    <>
      <div className={styles.acts}>
        <Button size="small" disabled={progress !== null || here.length === 0} onClick={() => void look()}>
          Look for backups
        </Button>
        <span role="status">{progress}</span>
        {stop && (
          <Button size="small" onClick={() => stop.abort()}>
            Cancel
          </Button>
        )}
      </div>
      {found?.length === 0 && <p>No backup lies on the drives that are connected.</p>}
      {found && found.length > 0 && (
        <ul className={styles.backups} aria-label="Backups found">
          {found.map((one) => (
            <li key={`${one.drive.id} ${one.backup.path}`}>
              <span>
                {dateTime(one.backup.at)} on {one.drive.name}, {bytes(one.backup.sizeBytes)}
                {one.backup.catalog !== session.db.catalogId && ', of another catalog'}
              </span>
              <Button size="small" disabled={progress !== null} onClick={() => void restore(one)}>
                Restore beside this one
              </Button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Catalogs of this browser that were restored. */
function useRestored() {
  const [catalogs, setCatalogs] = useState<RestoredCatalog[]>([]);
  const look = useCallback(() => void restoredCatalogs().then(setCatalogs), []);
  useEffect(look, [look]);
  return { catalogs, look };
}

interface RestoredProps {
  catalogs: readonly RestoredCatalog[];
  onDeleted: () => void;
}

function Restored({ catalogs, onDeleted }: RestoredProps) {
  const { message } = App.useApp();
  const open = catalogName();
  if (catalogs.length === 0) return null;
  const others = catalogs.filter(({ name }) => name !== open);
  const remove = async (name: string) => {
    await deleteRestored(name);
    onDeleted();
    message.success('It is deleted. The drives were not touched.');
  };
  return (
    <ul className={styles.backups} aria-label="Restored catalogs">
      {catalogs.some(({ name }) => name === open) && (
        <li>
          <span>This is a restored catalog.</span>
          <Button size="small" onClick={() => openRestored(null)}>
            Back to the one before
          </Button>
        </li>
      )}
      {others.map(({ name, at }) => (
        <li key={name}>
          <span>Restored {dateTime(at)}</span>
          <Button size="small" onClick={() => openRestored(name)}>
            Open it
          </Button>
          <Popconfirm
            title="Delete this restored catalog?"
            description="Drives, backups and the other catalogs stay."
            okText="Delete it"
            cancelText="No"
            onConfirm={() => void remove(name)}
          >
            <Button size="small" danger>
              Delete…
            </Button>
          </Popconfirm>
        </li>
      ))}
    </ul>
  );
}
