'use client';

// Which photos, from which drive, to which: what that would do is said before it is done. A copy can be kept up to date.

import { Button, Checkbox, Radio, Select } from 'antd';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import { isInUse } from '@/core/fixity/keeping';
import type { Pattern } from '@/core/names/pattern';
import { copyPlanSentences } from '@/messages/safekeep';
import type { CopyPlan } from '@/core/fixity/copy-plan';
import { type CopyAsked, planCopies } from '@/storage/catalog/copy-plan';
import { type CopyRoutine, planCopyRoutine } from '@/storage/catalog/copy-routines';
import type { DriveRecord } from '@/storage/catalog/records';
import { bytes, count } from '@/ui/format';
import { PatternEditor } from '@/features/parts/naming/pattern-editor';
import { useResult } from '@/features/parts/search/use-result';
import { useScope } from '@/features/parts/search/use-scope';
import { useSelection } from '@/features/parts/selection/selection';
import { useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import { CopyRoutineList } from './copy-routine-list';
import { useVolume } from '@/features/parts/session/use-volume';
import styles from './safekeep.module.css';

type What = 'drive' | 'selection' | 'scope';
/** Photos that are chosen by themselves come from whichever drive has them. */
const EVERY = 'every';

export function CopyForm({ drives }: { drives: DriveRecord[] }) {
  const { scope } = useScope();
  const selected = useSelection((state) => state.ids);
  const order = useResult((state) => state.result?.order);
  const inScope = useMemo(() => order?.all() ?? [], [order]);
  const [what, setWhat] = useState<What>(useAskedFor(selected.size));
  const [from, setFrom] = useState<string | null>(what === 'drive' ? null : EVERY);
  const [to, setTo] = useState<string | null>(null);
  const [whole, setWhole] = useState(false);
  const [folders, setFolders] = useState<Pattern | null>(null);
  const { readable, writable } = useDrivesHere(drives);
  const photoIds = what === 'drive' ? null : what === 'selection' ? [...selected] : inScope;
  const sourceIds = from === EVERY ? readable.map(({ id }) => id).filter((id) => id !== to) : from ? [from] : [];
  const plan = useCopyPlan(what, { photoIds, sourceIds, targetId: to ?? '', folders });
  const target = drives.find(({ id }) => id === to);
  const free = useVolume(target ?? null, target !== undefined)?.freeBytes ?? null;
  const choose = (next: What) => {
    setWhat(next);
    setFrom(next === 'drive' ? null : EVERY);
  };
  const isWholeDrive = what === 'drive';
  const begin = async () => {
    if (!to || !plan) return;
    if (isWholeDrive && from) await session.startCopy(from, to, { photoIds: null, whole, folders });
    else
      for (const { driveId, photoIds: some } of plan.from)
        await session.startCopy(driveId, to, { photoIds: some, whole: false, folders });
  };
  const options = (list: readonly DriveRecord[], other: string | null) =>
    list.filter(({ id }) => id !== other).map(({ id, name }) => ({ value: id, label: name }));
  const every = isWholeDrive ? [] : [{ value: EVERY, label: 'every connected drive' }];
  return (
    <div className={styles.form}>
      <Radio.Group value={what} onChange={(event) => choose(event.target.value as What)} aria-label="Which photos">
        <Radio value="drive">the whole drive</Radio>
        <Radio value="selection" disabled={selected.size === 0}>
          the selection ({count(selected.size)})
        </Radio>
        <Radio value="scope">the search ({count(inScope.length)})</Radio>
      </Radio.Group>
      <div className={styles.fromTo}>
        <label htmlFor="copy-from">from</label>
        <Select
          id="copy-from"
          value={from}
          onChange={setFrom}
          options={[...every, ...options(readable, to)]}
          placeholder="drive"
        />
        <label htmlFor="copy-to">to</label>
        <Select
          id="copy-to"
          value={to}
          onChange={setTo}
          options={options(writable, from)}
          placeholder="another drive"
        />
        <Button
          type="primary"
          disabled={!plan || !to || (plan.photos === 0 && !(isWholeDrive && whole))}
          onClick={() => void begin()}
        >
          Copy and verify
        </Button>
      </div>
      {isWholeDrive && (
        <Checkbox checked={whole} onChange={({ target: box }) => setWhole(box.checked)}>
          all other files too: what is no photo, in its own folders
        </Checkbox>
      )}
      <FolderChoice folders={folders} onChange={setFolders} />
      <div className={styles.plan} aria-live="polite">
        {readable.length < 2 && <p>A second copy needs two connected drives.</p>}
        {plan && copyPlanSentences(plan, { bytes, free }).map((line) => <p key={line}>{line}</p>)}
      </div>
      {plan && to && what !== 'selection' && (
        <KeepChoice
          routine={{
            fromId: isWholeDrive ? from : null,
            scope: isWholeDrive ? '' : scope,
            toId: to,
            whole: isWholeDrive && whole,
            folders,
          }}
        />
      )}
      <CopyRoutineList drives={drives} />
    </div>
  );
}

const DATED: Pattern = [
  { kind: 'date', form: 'YYYY' },
  { kind: 'level' },
  { kind: 'date', form: 'YYYY-MM-DD' },
  { kind: 'text', text: ' ' },
  { kind: 'camera' },
];

/** Which folders the copies go into. */
function FolderChoice({ folders, onChange }: { folders: Pattern | null; onChange: (folders: Pattern | null) => void }) {
  return (
    <div className={styles.folderChoice}>
      <Radio.Group
        aria-label="Folders there"
        value={folders !== null}
        onChange={({ target }) => onChange(target.value ? DATED : null)}
      >
        <Radio value={false}>folders as they are</Radio>
        <Radio value>folders by a pattern</Radio>
      </Radio.Group>
      {folders && (
        <PatternEditor label="Folders there by a pattern" of="folders" pattern={folders} onChange={onChange} />
      )}
    </div>
  );
}

/** The same copy again whenever something new is there. */
function KeepChoice({ routine }: { routine: Omit<CopyRoutine, 'begins'> }) {
  const keep = (begins: boolean) =>
    void session.change(planCopyRoutine({ ...routine, begins }, crypto.randomUUID(), Date.now()));
  return (
    <p className={styles.keep}>
      Keep it up to date:
      <Button size="small" onClick={() => keep(false)}>
        offer it when the drive comes
      </Button>
      <Button size="small" onClick={() => keep(true)}>
        begin it by itself
      </Button>
    </p>
  );
}

/** What the address asks to be copied. */
function useAskedFor(selected: number): What {
  const asked = useSearchParams().get('what');
  if (asked === 'selection' && selected > 0) return 'selection';
  return asked === 'search' ? 'scope' : 'drive';
}

/** Drives that are there; to write on, those that are in use. */
function useDrivesHere(drives: readonly DriveRecord[]) {
  const connections = useSession((state) => state.connections);
  const keeping = useKeeping();
  const readable = drives.filter(({ id }) => connections[id]?.state === 'connected');
  return { readable, writable: readable.filter(({ id, access }) => access === 'write' && isInUse(keeping, id)) };
}

/** Counts anew when the choice changes or a job ends, not with every file of a running copy. */
function useCopyPlan(what: What, asked: CopyAsked): CopyPlan | null {
  const { photoIds, sourceIds, targetId, folders } = asked;
  const ended = useJobs().filter(({ endedAt }) => endedAt !== null).length;
  const question =
    targetId === '' || sourceIds.length === 0
      ? null
      : JSON.stringify([what, sourceIds, targetId, ended, photoIds?.length, photoIds?.[0], photoIds?.at(-1), folders]);
  const planned = useAsked(question, () => planCopies(session.db, asked), 100);
  return planned?.of === question ? (planned?.answer ?? null) : null;
}
