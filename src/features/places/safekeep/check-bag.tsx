'use client';

// A bag of anybody's making, on a connected drive or in a folder the person chooses: complete, valid, or what is wrong.

import { Button, Input, Progress } from 'antd';
import { useRef, useState } from 'react';
import { bagFaultSentence, bagVerdictSentence } from '@/messages/bagit';
import { driveOf } from '@/storage/connections/connections';
import type { DriveRecord } from '@/storage/catalog/records';
import type { Drive } from '@/storage/drives/drive';
import { type BagVerdict, checkBagOn, packBag } from '@/storage/jobs/bag-checking';
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
  | { kind: 'packing'; bytes: number; ofBytes: number }
  | { kind: 'failed'; why: string }
  /** `writable` on a drive where it can be packed into one file */
  | { kind: 'read'; verdict: BagVerdict; bytes: number; writable: { drive: Drive; folder: string } | null }
  | { kind: 'packed'; path: string; bytes: number };

/** Checking and packing, one at a time. */
function useBagWork() {
  const [state, setState] = useState<State>({ kind: 'idle' });
  const stop = useRef<AbortController | null>(null);
  const alone = async (act: (signal: AbortSignal) => Promise<State>, failed: string) => {
    stop.current?.abort();
    const { signal } = (stop.current = new AbortController());
    try {
      setState(await act(signal));
    } catch (error) {
      if (signal.aborted) setState({ kind: 'idle' });
      else setState({ kind: 'failed', why: `${failed}: ${error instanceof Error ? error.message : String(error)}` });
    }
  };
  const check = (drive: Drive, path: string, isWritable: boolean) =>
    alone(async (signal) => {
      let last = { files: 0, of: 0, bytes: 0, ofBytes: 0 };
      setState({ kind: 'reading', ...last });
      const onProgress = (done: typeof last) => setState({ kind: 'reading', ...(last = done) });
      const verdict = await checkBagOn(drive, path, { fileTasks: session.fileTasks, signal, onProgress });
      return { kind: 'read', verdict, bytes: last.ofBytes, writable: isWritable ? { drive, folder: path } : null };
    }, 'The folder could not be read');
  const pack = ({ drive, folder: path }: { drive: Drive; folder: string }, verdict: BagVerdict, ofBytes: number) =>
    alone(async (signal) => {
      let done = 0;
      setState({ kind: 'packing', bytes: 0, ofBytes });
      const onBytes = (more: number) => setState({ kind: 'packing', bytes: (done += more), ofBytes });
      return {
        kind: 'packed',
        ...(await packBag(drive, path, verdict, { fileTasks: session.fileTasks, signal, onBytes })),
      };
    }, 'It could not be packed, and nothing of it was left');
  return { state, check, pack, cancel: () => stop.current?.abort() };
}

export function CheckBag({ drives }: { drives: readonly DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const here = drives.filter(({ id }) => connections[id]?.state === 'connected');
  const [driveId, setDriveId] = useState<string | null>(null);
  const [folder, setFolder] = useState('');
  const { state, check, pack, cancel } = useBagWork();
  const ofDrive = () => {
    const drive = driveId && session.drives.driveNow(driveId);
    const path = folder.replace(/^\/+|\/+$/g, '');
    const isWritable = path !== '' && drives.some(({ id, access }) => id === driveId && access === 'write');
    if (drive) void check(drive, path, isWritable);
  };
  const ofFolder = async () => {
    const picked = await pickFolder('read');
    if (picked) await check(driveOf(picked, 'a-bag'), '', false);
  };
  const isBusy = state.kind === 'reading' || state.kind === 'packing';
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
        <Button size="small" disabled={!driveId || isBusy} onClick={ofDrive}>
          Check it
        </Button>
        <Button size="small" disabled={isBusy} onClick={() => void ofFolder()}>
          Another folder…
        </Button>
      </div>
      <div aria-live="polite">
        {isBusy && (
          <>
            <Progress
              percent={state.ofBytes > 0 ? Math.floor((100 * state.bytes) / state.ofBytes) : 0}
              size="small"
              aria-label="progress"
            />
            <p className="quiet">
              {state.kind === 'reading' && `${count(state.files)} of ${plural(state.of, 'file')}, `}
              {bytes(state.bytes)} of {bytes(state.ofBytes)}
              <Button size="small" type="text" onClick={cancel}>
                Cancel
              </Button>
            </p>
          </>
        )}
        {state.kind === 'failed' && <p className={styles.bad}>{state.why}</p>}
        {state.kind === 'read' && <Verdict verdict={state.verdict} />}
        {state.kind === 'packed' && (
          <p>
            Packed as <span className="mono">{state.path}</span>, {bytes(state.bytes)}, and read back. The folder is as
            it was.
          </p>
        )}
      </div>
      {state.kind === 'read' && state.verdict.isValid && state.writable && (
        <div className={styles.acts}>
          <Button size="small" onClick={() => state.writable && void pack(state.writable, state.verdict, state.bytes)}>
            Pack into one file
          </Button>
          <span className="quiet">
            a ZIP beside it, <span className="mono">{state.writable.folder}.zip</span>
          </span>
        </div>
      )}
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
