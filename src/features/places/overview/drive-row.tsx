'use client';

import { App, Button, Dropdown, Popconfirm, Tooltip } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import { growthOf } from '@/core/fixity/growth';
import { quoted } from '@/core/query/write-scope';
import { driveProblemSentence } from '@/messages/problems';
import { useLive, useSum } from '@/storage/catalog/live';
import { type DriveRecord, type OutboxRecord, isOfFiles } from '@/storage/catalog/records';
import { type Connection, isStoreAddress } from '@/storage/connections/connections';
import { driveStatus } from '@/storage/catalog/drive-status';
import { bytes, count, dayWords, photos, plural } from '@/ui/format';
import { NameInput } from '@/ui/name-input';
import { openMore } from '@/ui/open-more';
import { useVolume } from '@/features/parts/session/use-volume';
import { findAddress } from '@/features/parts/search/use-scope';
import { session } from '@/engine/session';
import styles from './overview.module.css';
import { useSession } from '@/features/parts/session/use-session';

/** What is known of how a drive grows. */
export interface DriveGrowth {
  photosByYear: ReadonlyMap<number, number>;
  thisYear: number;
}

const STATES = {
  connected: 'connected',
  'needs-permission': 'click to let the browser open it',
  'needs-link': 'closed to this page',
  stranger: 'not this drive',
  away: 'away',
};

/** One drive: its name, whether it is there, what it holds, how much room is left, and what waits for it. */
export function DriveRow({ drive, growth }: { drive: DriveRecord; growth: DriveGrowth | null }) {
  const connection = useSession((all) => all.connections[drive.id]);
  const state = connection?.state ?? 'away';
  const [renaming, setRenaming] = useState(false);
  return (
    <li className={styles.drive} data-state={state} onContextMenu={openMore}>
      <DriveHead drive={drive} state={state} renaming={renaming} onRenamed={() => setRenaming(false)} />
      <DriveSums drive={drive} />
      <RoomLeft drive={drive} isHere={state === 'connected'} growth={growth} />
      <DriveActs drive={drive} state={state} onRename={() => setRenaming(true)} />
      <div className={styles.driveNotes}>
        {drive.served && state === 'needs-link' && (
          <p className="quiet">To reach it, open Wembo by the link that the server printed at its start.</p>
        )}
        {connection?.state === 'stranger' && <Stranger drive={drive} connection={connection} />}
        {!drive.marked && (
          <p className="quiet">
            It bears no mark of its own, so nothing tells it from another: its copies do not count as verified.
          </p>
        )}
        <Outbox drive={drive} isConnected={state === 'connected'} />
      </div>
    </li>
  );
}

interface HeadProps {
  drive: DriveRecord;
  state: Connection['state'];
}

/** Its name, and its state. */
function DriveHead({ drive, state, renaming, onRenamed }: HeadProps & { renaming: boolean; onRenamed: () => void }) {
  const connect = useConnect(drive, state);
  const rename = (name: string) => {
    onRenamed();
    if (name !== drive.name)
      void session.change({ kind: 'drive-name', driveId: drive.id, before: drive.name, after: name });
  };
  const place = drive.served?.path;
  return (
    <div className={styles.driveHead}>
      {renaming ? (
        <NameInput label="Name of the drive" start={drive.name} onName={rename} onCancel={onRenamed} />
      ) : (
        <strong title={place}>{drive.name}</strong>
      )}
      <span className={styles.driveFacts}>
        <button
          type="button"
          className={styles.driveState}
          onClick={() => void connect()}
          disabled={state === 'connected'}
        >
          {STATES[state]}
        </button>
        {place && <span className="quiet">{isStoreAddress(place) ? 'a store' : 'of this machine'}</span>}
        {drive.access === 'read' && (
          <Tooltip title="What you enter waits until the drive is connected in a browser that may write.">
            <span className={styles.tag}>read-only</span>
          </Tooltip>
        )}
        {drive.embeds && <span className={styles.tag}>written into the files</span>}
      </span>
    </div>
  );
}

function useConnect(drive: DriveRecord, state: Connection['state']) {
  const { message } = App.useApp();
  return async () => {
    const now = await session.drives.reconnect(drive.id);
    if (now === 'away')
      message.warning(`“${drive.name}” is not there. Plug it in, or drop its folder here if it has another place now.`);
    else if (now === 'stranger')
      message.warning(`What is there is not “${drive.name}”. Nothing of it was read or written.`);
    else if (now === 'connected' && state === 'connected') await session.startScan(drive.id);
  };
}

/** What is done with it each day stands in the row; its settings in its menu. */
function DriveActs({ drive, state, onRename }: HeadProps & { onRename: () => void }) {
  const { message } = App.useApp();
  const connect = useConnect(drive, state);
  const embed = async () => {
    const files = await session.drives.setEmbeds(drive.id, !drive.embeds);
    message.info(
      drive.embeds
        ? 'From now on fields go into sidecars only. What is in the files stays there.'
        : `${files === 0 ? 'All files of this drive say already what the catalog says.' : `${count(files)} ${files === 1 ? 'file is' : 'files are'} brought in line now.`} Each is read back before it takes the old one’s place.`,
    );
  };
  const items = [
    { key: 'rename', label: 'Rename…' },
    ...(drive.access === 'write'
      ? [
          {
            key: 'embed',
            label: drive.embeds ? 'Write into sidecars only' : 'Write into the files as well',
          },
        ]
      : []),
    { key: 'safekeep', label: <Link href="/safekeep">What would be lost with it…</Link> },
  ];
  return (
    <div className={styles.driveActions}>
      {drive.kind === 'practice' && (
        <Button size="small" onClick={() => void session.drives.setTakenOut(drive.id, !drive.takenOut)}>
          {drive.takenOut ? 'Plug in' : 'Unplug'}
        </Button>
      )}
      {state === 'connected' && (
        <Button size="small" onClick={() => void session.startScan(drive.id)}>
          Scan for changes
        </Button>
      )}
      {state !== 'connected' && !drive.takenOut && (
        <Button size="small" onClick={() => void connect()}>
          Connect
        </Button>
      )}
      <Dropdown
        trigger={['click']}
        menu={{
          items,
          onClick: ({ key }) => {
            if (key === 'embed') void embed();
            if (key === 'rename') onRename();
          },
        }}
      >
        <Button size="small" type="text" aria-label={`More: ${drive.name}`} data-more>
          ⋯
        </Button>
      </Dropdown>
    </div>
  );
}

/** Room, where it is told, and the year in which it will be full if it goes on as in the last years. */
function RoomLeft({ drive, isHere, growth }: { drive: DriveRecord; isHere: boolean; growth: DriveGrowth | null }) {
  const volume = useVolume(drive, isHere);
  const status = useSum(session.db, 'files', () => driveStatus(session.db, drive.id), [drive.id]);
  if (!volume || !status) return <div className={styles.room} />;
  const fills =
    growth &&
    growthOf(growth.photosByYear, drive.bytes / Math.max(1, status.photos), volume.freeBytes, growth.thisYear);
  return (
    <div className={styles.room}>
      <span className={styles.roomBar} aria-hidden>
        <i style={{ width: `${Math.round((100 * (volume.sizeBytes - volume.freeBytes)) / volume.sizeBytes)}%` }} />
      </span>
      <span className="quiet">
        {bytes(volume.freeBytes)} left{fills?.fullIn ? `, full about ${fills.fullIn}` : ''}
      </span>
    </div>
  );
}

/** What it holds, and what of that is not as it should be. */
function DriveSums({ drive }: { drive: DriveRecord }) {
  const sums = useSum(session.db, 'files', () => driveStatus(session.db, drive.id), [drive.id]);
  const problems = sums
    ? ([
        ['missing', sums.missing],
        ['damaged', sums.damaged],
        ['in doubt', sums.inDoubt],
      ] as const)
    : [];
  return (
    <p className={styles.driveSums}>
      {sums && (
        <>
          <Link href={findAddress(`drive:${quoted(drive.name)}`)}>{photos(sums.photos)}</Link>
          {drive.bytes > 0 && `, ${bytes(drive.bytes)}`}
        </>
      )}
      {problems
        .filter(([, number]) => number > 0)
        .map(([words, number]) => (
          <span key={words} className={styles.problem}>
            , {count(number)} {words}
          </span>
        ))}
      {sums !== undefined && sums.unreadable > 0 && <>, {count(sums.unreadable)} not readable</>}
      {drive.scannedAt !== null && <>, looked through {dayWords(drive.scannedAt)}</>}
    </p>
  );
}

/** What waits to be written on it, and why it does. */
function Outbox({ drive, isConnected }: { drive: DriveRecord; isConnected: boolean }) {
  const outbox = useLive(() => session.db.outbox.where('driveId').equals(drive.id).toArray(), [drive.id]) ?? [];
  const waiting = outbox.filter(({ task }) => isOfFiles(task));
  const ownProblem = outbox.find(({ task, problem }) => !isOfFiles(task) && problem !== null)?.problem;
  const problem = waiting.find(({ problem }) => problem !== null)?.problem;
  return (
    <>
      {isConnected && ownProblem && (
        <p className={styles.problem}>
          What Wembo keeps on it could not be written. {driveProblemSentence(ownProblem)} It is tried again.
        </p>
      )}
      {waiting.length > 0 && (
        <p className={styles.waiting}>
          {waitingWords(waiting, drive.embeds)} in the outbox
          {problem ? `. ${driveProblemSentence(problem)}` : isConnected ? '' : ' until the drive is back'}
        </p>
      )}
    </>
  );
}

/** Something lies where the drive was, and does not bear its mark. */
function Stranger({
  drive,
  connection: { why, name },
}: {
  drive: DriveRecord;
  connection: Connection & { state: 'stranger' };
}) {
  const { message } = App.useApp();
  const mark = async () => {
    const folder = session.drives.folderOf(drive);
    if (!folder) return;
    await session.drives.markAgain(drive.id, folder).then(
      () => message.success(`“${drive.name}” is marked again, and scanned.`),
      (error: unknown) =>
        message.error(`It could not be marked: ${error instanceof Error ? error.message : String(error)}`),
    );
  };
  return (
    <p className={styles.problem} role="status">
      {why === 'other-drive' && `What is there now is another drive, “${name ?? ''}”. `}
      {why === 'no-mark' &&
        'What is there now bears no mark: an empty mount point, another disk, or its folder _wembo was deleted. '}
      {why === 'mark-unreadable' &&
        'The mark of what is there cannot be read: it is damaged, or from a later version of Wembo. '}
      Nothing of it is read or written; what you enter waits.
      {why === 'no-mark' && (drive.handle || drive.served) && (
        <>
          {' '}
          <Popconfirm
            title={`Is this really “${drive.name}”?`}
            description="Look into the folder first. It gets its mark again, and is scanned; what is not there counts as missing."
            okText="It is: mark it again"
            cancelText="No"
            onConfirm={() => void mark()}
          >
            <Button size="small">It is this drive…</Button>
          </Popconfirm>
        </>
      )}
    </p>
  );
}

/** What waits for a drive, by kind: sidecars, files to be renamed, second copies. */
function waitingWords(waiting: OutboxRecord[], embeds: boolean): string {
  const of = (kind: OutboxRecord['task']['kind']) => waiting.filter(({ task }) => task.kind === kind).length;
  const parts = [
    of('sidecar') > 0 && plural(of('sidecar'), embeds ? 'file' : 'sidecar'),
    of('move') > 0 && plural(of('move'), 'new name'),
    of('copy') > 0 && plural(of('copy'), 'second copy', 'second copies'),
  ].filter(Boolean);
  return `${parts.join(', ')} ${waiting.length === 1 ? 'waits' : 'wait'}`;
}
