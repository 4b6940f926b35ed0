'use client';

// Files that are not as they should be: damaged, in doubt, missing. What each is, where a verified copy lies, and what
// can be done.

import { App, Button, Popconfirm } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import { driveName } from '@/messages/drive-name';
import { copyStatusOf } from '@/core/fixity/copies';
import { asideOf } from '@/core/names/set-aside';
import { driveProblemSentence } from '@/messages/problems';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord, FileRecord } from '@/storage/catalog/records';
import { problemCode } from '@/storage/jobs/job-tools';
import type { Settled } from '@/storage/jobs/settling';
import { count, dateTime } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import { session } from '@/engine/session';
import { EvidenceDialog } from './evidence-dialog';
import styles from './safekeep.module.css';
import { useSession } from '@/features/parts/session/use-session';

/** Rows shown of a kind; of more the heading says how many. */
const SHOWN = 50;

interface Unsettled {
  file: FileRecord;
  /** Verified copies on other drives. */
  copies: FileRecord[];
}

const KINDS = [
  {
    state: 'damaged',
    title: 'Damaged',
    words:
      'Its bytes are not what was first measured. They were changed by another program, or the drive has lost some.',
  },
  {
    state: 'doubt',
    title: 'In doubt',
    words:
      'Two records give it different measures. Until you say which is right, it counts as unverified, and nothing is copied over it.',
  },
  { state: 'missing', title: 'Missing', words: 'It is not where it was, on a drive that is its own.' },
] as const;

async function readUnsettled(state: FileRecord['state']): Promise<Unsettled[]> {
  const files = (await session.db.files.where('state').equals(state).toArray()).filter(
    ({ path }) => asideOf(path) === null,
  );
  return Promise.all(
    files.slice(0, SHOWN).map(async (file) => {
      const photo = file.photoId === null ? undefined : await session.db.photos.get(file.photoId);
      const others = photo ? await session.db.files.where('photoId').equals(photo.id).toArray() : [];
      return {
        file,
        copies: others.filter(
          (other) => other.driveId !== file.driveId && photo !== undefined && copyStatusOf(other, photo) === 'verified',
        ),
      };
    }),
  );
}

const countUnsettled = async (state: FileRecord['state']): Promise<number> =>
  (await session.db.files.where('state').equals(state).toArray()).filter(({ path }) => asideOf(path) === null).length;

export function UnsettledPanel({ drives }: { drives: DriveRecord[] }) {
  const counts = useLive(() => Promise.all(KINDS.map(({ state }) => countUnsettled(state)))) ?? [0, 0, 0];
  const all = counts.reduce((sum, value) => sum + value, 0);
  return (
    <section className={styles.panel} id="to-settle" aria-label="To settle">
      <header>
        <h2>To settle{all > 0 && `: ${count(all)}`}</h2>
      </header>
      {all === 0 ? (
        <p className="quiet">No file is damaged, in doubt or missing, as far as was read.</p>
      ) : (
        <p>
          <Link href={findAddress('state:any')}>Show their photos</Link>
        </p>
      )}
      {KINDS.map(
        (kind, index) =>
          (counts[index] ?? 0) > 0 && <Kind key={kind.state} kind={kind} total={counts[index] ?? 0} drives={drives} />,
      )}
    </section>
  );
}

function Kind({
  kind: { state, title, words },
  total,
  drives,
}: {
  kind: (typeof KINDS)[number];
  total: number;
  drives: DriveRecord[];
}) {
  const rows = useLive(() => readUnsettled(state), [state, total]) ?? [];
  return (
    <details className={styles.aside} open={state !== 'missing' || total <= SHOWN}>
      <summary>
        {title}: {count(total)}
      </summary>
      <p className="quiet">{words}</p>
      <ul>
        {rows.map((row) => (
          <Row key={row.file.id} row={row} nameOf={(id) => driveName(drives, id)} />
        ))}
      </ul>
      {total > rows.length && <p className="quiet">and {count(total - rows.length)} more</p>}
    </details>
  );
}

function Row({ row: { file, copies }, nameOf }: { row: Unsettled; nameOf: (driveId: string) => string }) {
  const { message } = App.useApp();
  const connections = useSession((all) => all.connections);
  const [busy, setBusy] = useState(false);
  const isHere = connections[file.driveId]?.state === 'connected';
  const from = copies.find(({ driveId }) => connections[driveId]?.state === 'connected');
  const act = async (work: () => Promise<void>, done: string) => {
    setBusy(true);
    await work().then(
      () => message.success(`${file.path}: ${done}`),
      (error: unknown) => message.error(`${file.path}: ${driveProblemSentence(problemCode(error))}`),
    );
    setBusy(false);
  };
  const settle = (as: Settled, done: string) => act(() => session.settle(file, as), done);
  const bringBack = () =>
    from &&
    void act(
      () => session.mend(file, from),
      file.state === 'damaged' ? 'brought back; the damaged file is set aside.' : 'brought back.',
    );
  return (
    <li className={styles.unsettled}>
      <div>
        <strong>{nameOf(file.driveId)}</strong>
        {!isHere && <em> away</em>} <span className="mono">{file.path}</span>
        <p className="quiet">
          {copies.length === 0
            ? 'No verified copy of it is known.'
            : `Verified: ${copies.map(({ driveId, verifiedAt }) => `${nameOf(driveId)}, ${dateTime(verifiedAt ?? 0)}${connections[driveId]?.state === 'connected' ? '' : ', away'}`).join('; ')}.`}
        </p>
      </div>
      <div className={styles.acts}>
        {file.state !== 'doubt' && from && (
          <BringBack file={file} from={from} nameOf={nameOf} busy={busy} isHere={isHere} onBringBack={bringBack} />
        )}
        {file.state !== 'missing' && (
          <Popconfirm
            title="Is it right as it is?"
            description="It is read once more, and what is read is its measure from now on."
            okText="It is right"
            cancelText="No"
            onConfirm={() => void settle('as-it-is', 'measured anew.')}
          >
            <Button size="small" disabled={!isHere || busy} aria-label={`It is right as it is… ${file.path}`}>
              It is right as it is…
            </Button>
          </Popconfirm>
        )}
        {file.state === 'doubt' && (
          <Button
            size="small"
            disabled={busy}
            onClick={() => void settle('damaged', 'counts as damaged.')}
            aria-label={`It is damaged: ${file.path}`}
          >
            It is damaged
          </Button>
        )}
        {file.state === 'missing' && (
          <Popconfirm
            title="Is it gone for good?"
            description={
              copies.length === 0
                ? 'No other copy is known: its record goes, with all that was said of it.'
                : 'This drive will not be asked for it any more.'
            }
            okText="It is gone"
            cancelText="No"
            onConfirm={() => void settle('gone', 'not asked for any more.')}
          >
            <Button size="small" disabled={busy} aria-label={`It is gone for good… ${file.path}`}>
              It is gone for good…
            </Button>
          </Popconfirm>
        )}
      </div>
    </li>
  );
}

interface BringBackProps {
  file: FileRecord;
  /** A verified copy on a drive that is there. */
  from: FileRecord;
  nameOf: (driveId: string) => string;
  busy: boolean;
  isHere: boolean;
  onBringBack: () => void;
}

/** The copy takes the place of what is damaged or missing; of what is damaged the evidence can be looked at first. */
function BringBack({ file, from, nameOf, busy, isHere, onBringBack }: BringBackProps) {
  const [looking, setLooking] = useState(false);
  return (
    <>
      <Button
        size="small"
        loading={busy}
        disabled={!isHere}
        onClick={onBringBack}
        aria-label={`Bring back from ${nameOf(from.driveId)}: ${file.path}`}
      >
        Bring back from {nameOf(from.driveId)}
      </Button>
      {file.state === 'damaged' && (
        <Button
          size="small"
          disabled={!isHere || busy}
          onClick={() => setLooking(true)}
          aria-label={`Look closer… ${file.path}`}
        >
          Look closer…
        </Button>
      )}
      {looking && (
        <EvidenceDialog
          file={file}
          copy={from}
          nameOf={nameOf}
          onBringBack={onBringBack}
          onClose={() => setLooking(false)}
        />
      )}
    </>
  );
}
