'use client';

// Sidecars that another program left behind: where each lies, which photo it may belong to, and what can be done.

import { App, Button, Select } from 'antd';
import { useState } from 'react';
import { driveName } from '@/messages/drive-name';
import { driveProblemSentence } from '@/messages/problems';
import { counted } from '@/messages/plural';
import { type LeftBehind, listLeftBehind } from '@/storage/catalog/left-behind';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord, FileRecord } from '@/storage/catalog/records';
import { problemCode } from '@/storage/jobs/job-tools';
import { session } from '@/engine/session';
import { count } from '@/ui/format';
import { useSession } from '@/features/parts/session/use-session';
import styles from './safekeep.module.css';

/** Looked at at once; of more the heading says how many. */
const SHOWN = 200;

export function LeftBehindPanel({ drives }: { drives: DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const here = drives.filter(({ id }) => connections[id]?.state === 'connected').map(({ id }) => id);
  const total = useLive(() => session.db.leftBehind.count()) ?? 0;
  const rows =
    useLive(() => listLeftBehind(session.db, (id) => session.drives.driveNow(id), SHOWN), [here.join(' '), total]) ??
    [];
  const { act, busy } = useRejoining();
  if (total === 0) return null;
  const clear = rows.filter(({ record, of }) => of.length === 1 && here.includes(record.driveId));
  const owned = rows.filter(({ of }) => of.length > 0);
  const alone = rows.filter(({ of }) => of.length === 0);
  const nameOf = (id: string) => driveName(drives, id);
  return (
    <section className={styles.panel} aria-label="Sidecars left behind">
      <header>
        <h2>Sidecars left behind: {count(total)}</h2>
      </header>
      <p className="quiet">
        No photo of their name lies beside them: another program moved it, or it is gone. What they say can be joined to
        its photo again.
      </p>
      {clear.length > 1 && (
        <div className={styles.acts}>
          <Button size="small" loading={busy} onClick={() => void act(clear)}>
            Put {count(clear.length)} beside their photos
          </Button>
        </div>
      )}
      <ul>
        {owned.map((row) => (
          <Row
            key={row.record.id}
            row={row}
            drive={nameOf(row.record.driveId)}
            isHere={here.includes(row.record.driveId)}
            busy={busy}
            onRejoin={(file) => void act([{ ...row, of: [file] }])}
          />
        ))}
      </ul>
      {alone.length > 0 && (
        <details className={styles.aside}>
          <summary>Of {counted(alone.length, 'sidecar')} no photo of that name is known</summary>
          <ul>
            {alone.map(({ record }) => (
              <li key={record.id}>
                {nameOf(record.driveId)} <span className="mono">{record.path}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {total > rows.length && <p className="quiet">and {count(total - rows.length)} more</p>}
    </section>
  );
}

/** Puts each beside its photo; one that cannot be is told, and the others go on. */
function useRejoining() {
  const { message } = App.useApp();
  const [busy, setBusy] = useState(false);
  const act = async (rows: readonly LeftBehind[]) => {
    setBusy(true);
    const sums = { joined: 0, conflicts: 0 };
    for (const { record, of } of rows) {
      const [file] = of;
      if (!file) continue;
      try {
        const taken = await session.rejoin(record, file);
        if (taken.state === 'unreadable') message.error(`${record.path} is no XMP that can be read; it was left.`);
        else {
          sums.joined += 1;
          sums.conflicts += taken.conflicts > 0 ? 1 : 0;
        }
      } catch (error) {
        message.error(`${record.path}: ${driveProblemSentence(problemCode(error))}`);
      }
    }
    if (sums.joined > 0)
      message.success(
        `${counted(sums.joined, 'sidecar')} joined to ${sums.joined === 1 ? 'its photo' : 'their photos'}.${sums.conflicts > 0 ? ` ${counted(sums.conflicts, 'photo')} said something else: decide on the record card.` : ''}`,
      );
    setBusy(false);
  };
  return { act, busy };
}

interface RowProps {
  row: LeftBehind;
  drive: string;
  isHere: boolean;
  busy: boolean;
  onRejoin: (file: FileRecord) => void;
}

function Row({ row: { record, of }, drive, isHere, busy, onRejoin }: RowProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const file = of.find(({ id }) => id === chosen) ?? (of.length === 1 ? of[0] : undefined);
  return (
    <li className={styles.unsettled}>
      <div>
        <strong>{drive}</strong>
        {!isHere && <em> away</em>} <span className="mono">{record.path}</span>
        {of.length === 1 ? (
          <p className="quiet">
            Of <span className="mono">{of[0]?.path}</span>
            {of[0]?.sidecar && ', which has a sidecar: what both say is joined, and this one is set aside'}.
          </p>
        ) : (
          <Select
            aria-label={`Photo of ${record.path}`}
            placeholder={`${counted(of.length, 'photo')} of that name: which?`}
            value={chosen}
            onChange={setChosen}
            options={of.map(({ id, path }) => ({ value: id, label: path }))}
            style={{ minWidth: 320 }}
          />
        )}
      </div>
      <div className={styles.acts}>
        <Button
          size="small"
          disabled={!isHere || !file || busy}
          onClick={() => file && onRejoin(file)}
          aria-label={`Put it beside its photo: ${record.path}`}
        >
          Put it beside its photo
        </Button>
      </div>
    </li>
  );
}
