'use client';

// A bag of anybody's making, on a connected drive or in a folder the person chooses: complete, valid, or what is wrong.

import { Button, Input, Progress } from 'antd';
import { useRef, useState } from 'react';
import { bagFaultSentence, bagVerdictSentence } from '@/messages/bagit';
import { driveOf } from '@/storage/connections/connections';
import type { DriveRecord } from '@/storage/catalog/records';
import type { Drive } from '@/storage/drives/drive';
import { type BagVerdict, checkBagOn } from '@/storage/jobs/bag-checking';
import { session } from '@/engine/session';
import { bytes, count, plural } from '@/ui/format';
import { pickFolder } from '@/features/parts/connecting/connect-drive';
import { useSession } from '@/features/parts/session/use-session';
import { DriveSelect } from './drive-select';
import styles from './safekeep.module.css';

/** Faults shown before the rest is folded into a count. */
const SHOWN = 100;

type State =
  | { kind: 'idle' }
  | { kind: 'reading'; files: number; of: number; bytes: number; ofBytes: number }
  | { kind: 'failed'; why: string }
  | { kind: 'read'; verdict: BagVerdict };

export function CheckBag({ drives }: { drives: readonly DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const here = drives.filter(({ id }) => connections[id]?.state === 'connected');
  const [driveId, setDriveId] = useState<string | null>(null);
  const [folder, setFolder] = useState('');
  const [state, setState] = useState<State>({ kind: 'idle' });
  const stop = useRef<AbortController | null>(null);
  const check = async (drive: Drive, path: string) => {
    stop.current?.abort();
    const abort = new AbortController();
    stop.current = abort;
    setState({ kind: 'reading', files: 0, of: 0, bytes: 0, ofBytes: 0 });
    try {
      const verdict = await checkBagOn(drive, path, {
        fileTasks: session.fileTasks,
        signal: abort.signal,
        onProgress: (done) => setState({ kind: 'reading', ...done }),
      });
      setState({ kind: 'read', verdict });
    } catch (error) {
      if (abort.signal.aborted) setState({ kind: 'idle' });
      else setState({ kind: 'failed', why: error instanceof Error ? error.message : String(error) });
    }
  };
  const ofDrive = () => {
    const drive = driveId && session.drives.driveNow(driveId);
    if (drive) void check(drive, folder.replace(/^\/+|\/+$/g, ''));
  };
  const ofFolder = async () => {
    const picked = await pickFolder('read');
    if (picked) await check(driveOf(picked, 'a-bag'), '');
  };
  return (
    <div className={styles.form}>
      <h3>Check a bag</h3>
      <div className={styles.acts}>
        <DriveSelect
          minWidth={130}
          label="Bag on"
          placeholder="drive"
          drives={here}
          value={driveId}
          onChange={setDriveId}
        />
        <Input
          aria-label="Folder of the bag"
          size="small"
          placeholder="folder, as bags/Name"
          value={folder}
          onChange={({ target }) => setFolder(target.value)}
          onPressEnter={ofDrive}
        />
        <Button size="small" disabled={!driveId || state.kind === 'reading'} onClick={ofDrive}>
          Check it
        </Button>
        <Button size="small" disabled={state.kind === 'reading'} onClick={() => void ofFolder()}>
          Another folder…
        </Button>
      </div>
      <div aria-live="polite">
        {state.kind === 'reading' && (
          <>
            <Progress
              percent={state.ofBytes > 0 ? Math.floor((100 * state.bytes) / state.ofBytes) : 0}
              size="small"
              aria-label="progress"
            />
            <p className="quiet">
              {count(state.files)} of {plural(state.of, 'file')}, {bytes(state.bytes)} of {bytes(state.ofBytes)}
              <Button size="small" type="text" onClick={() => stop.current?.abort()}>
                Cancel
              </Button>
            </p>
          </>
        )}
        {state.kind === 'failed' && <p className={styles.bad}>The folder could not be read: {state.why}</p>}
        {state.kind === 'read' && <Verdict verdict={state.verdict} />}
      </div>
    </div>
  );
}

function Verdict({ verdict: { check, isValid, wrong, unread, read } }: { verdict: BagVerdict }) {
  const lines = [
    ...check.faults.map(({ code, path }) => ({ path, words: bagFaultSentence(code) })),
    ...wrong.map((path) => ({ path, words: 'Its bytes are not what a checksum says.' })),
    ...unread.map((path) => ({ path, words: 'It could not be read.' })),
  ];
  return (
    <div>
      <p className={isValid ? '' : styles.bad}>
        {bagVerdictSentence({
          isValid,
          faults: check.faults.length,
          wrong: wrong.length,
          unread: unread.length,
          read,
          version: check.version,
        })}
      </p>
      {lines.length > 0 && (
        <ul className={styles.unreadable}>
          {lines.slice(0, SHOWN).map(({ path, words }) => (
            <li key={path + words}>
              <span className="mono">{path}</span> {words}
            </li>
          ))}
        </ul>
      )}
      {lines.length > SHOWN && <p className="quiet">and {count(lines.length - SHOWN)} more</p>}
      {check.info.length > 0 && (
        <dl className={styles.met}>
          {check.info.map(([label, value], at) => (
            <div key={`${at} ${label}`}>
              <dt>{label}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}
