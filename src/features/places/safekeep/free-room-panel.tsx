'use client';

// Room on a drive: what may go because it stays safe without it, what stays and why, and the one act that removes it,
// which names the number of files.

import { App, Button, Checkbox } from 'antd';
import { useRef, useState } from 'react';
import { STAY_REASONS } from '@/core/fixity/leaving';
import { driveName } from '@/messages/drive-name';
import { stayWords } from '@/messages/safekeep';
import { type RoomAsked, type RoomPlan, planRoom } from '@/storage/catalog/free-room';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { bytes, count, photos, plural } from '@/ui/format';
import { FoldedNames } from '@/features/parts/jobs/folded-names';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { useSelection } from '@/features/parts/selection/selection';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import { DriveSelect } from './drive-select';
import styles from './safekeep.module.css';

interface Looking {
  photos: number;
  /** 0 while it is not known. */
  of: number;
}

function useRoomPlan() {
  const { message } = App.useApp();
  const [plan, setPlan] = useState<RoomPlan | Looking | null>(null);
  const stop = useRef<AbortController | null>(null);
  const look = async (asked: RoomAsked) => {
    stop.current?.abort();
    const { signal } = (stop.current = new AbortController());
    setPlan({ photos: 0, of: 0 });
    try {
      const onProgress = (done: Looking) => !signal.aborted && setPlan(done);
      const found = await planRoom(session.db, asked, { signal, onProgress });
      if (!signal.aborted) setPlan(found);
    } catch (error) {
      if (signal.aborted) return;
      setPlan(null);
      message.error(`It could not be looked at: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  const leave = () => {
    stop.current?.abort();
    setPlan(null);
  };
  return { plan, look, leave };
}

export function FreeRoomPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const { rule } = useKeeping();
  const selected = useSelection((state) => state.ids);
  const [driveId, setDriveId] = useState<string | null>(null);
  const [ofSelection, setOfSelection] = useState(false);
  const [awayCounts, setAwayCounts] = useState(false);
  const { plan, look, leave } = useRoomPlan();
  const isHere = (id: string) => connections[id]?.state === 'connected';
  const here = drives.filter(({ id, access }) => isHere(id) && access === 'write');
  const photoIds = ofSelection && selected.size > 0 ? [...selected] : null;
  const last = useJobs()
    .filter(({ kind }) => kind === 'free')
    .slice(0, 1);
  const choose = (change: () => void) => {
    change();
    leave();
  };
  const isLooking = plan !== null && 'of' in plan;
  const free = async (files: number) => {
    if (!driveId) return;
    await session.startFreeing(driveId, photoIds, { files, awayCounts });
    leave();
  };
  return (
    <section className={styles.panel} aria-label="Free room" id="free-room">
      <header>
        <h2>Free room</h2>
      </header>
      <p className="quiet">
        What stays safe by your rule without a drive may go from it:{' '}
        {plural(rule.copies, 'verified copy', 'verified copies')} on other drives
        {rule.elsewhere > 0 ? `, ${count(rule.elsewhere)} elsewhere` : ''}. Nothing is removed by asking.
      </p>
      <div className={styles.acts}>
        <DriveSelect
          label="Free room on"
          placeholder="on which drive"
          drives={here}
          value={driveId}
          onChange={(id) => choose(() => setDriveId(id))}
        />
        <Button
          size="small"
          disabled={!driveId || isLooking}
          onClick={() => driveId && void look({ driveId, photoIds, awayCounts, isHere, now: Date.now() })}
        >
          What may go?
        </Button>
      </div>
      <div className={styles.acts}>
        <Checkbox
          checked={ofSelection && selected.size > 0}
          disabled={selected.size === 0}
          onChange={({ target }) => choose(() => setOfSelection(target.checked))}
        >
          only of the selection ({count(selected.size)})
        </Checkbox>
        <Checkbox checked={awayCounts} onChange={({ target }) => choose(() => setAwayCounts(target.checked))}>
          copies on drives that are away count
        </Checkbox>
      </div>
      <div aria-live="polite">
        {plan !== null && 'of' in plan && (
          <p className="quiet">
            {plan.of === 0 ? 'Asking the catalog…' : `${count(plan.photos)} of ${photos(plan.of)} looked at`}
            <Button size="small" type="text" onClick={leave}>
              Cancel
            </Button>
          </p>
        )}
        {plan !== null && !('of' in plan) && driveId && (
          <WhatGoes
            plan={plan}
            name={driveName(drives, driveId)}
            away={awayCounts ? drives.filter(({ id }) => !isHere(id)).map(({ name }) => name) : []}
            onFree={(files) => void free(files)}
            onLeave={leave}
          />
        )}
      </div>
      {last.length > 0 && <JobsList jobs={last} none="" />}
    </section>
  );
}

function WhatGoes({
  plan: { leaving, bytes: size, staying },
  name,
  away,
  onFree,
  onLeave,
}: {
  plan: RoomPlan;
  name: string;
  /** Drives that cannot be looked at, and count. */
  away: readonly string[];
  onFree: (files: number) => void;
  onLeave: () => void;
}) {
  const stay = STAY_REASONS.reduce((sum, why) => sum + staying[why].length, 0);
  return (
    <>
      <p>
        {leaving.length === 0
          ? 'Nothing may go.'
          : `${plural(leaving.length, 'file')} may go from ${name}, ${bytes(size)}.`}
        {stay > 0 && ` ${plural(stay, 'file stays', 'files stay')}:`}
      </p>
      {leaving.length > 0 && away.length > 0 && (
        <p className={styles.caution}>
          {away.join(', ')} {away.length === 1 ? 'is' : 'are'} away and cannot be looked at; copies there count, since
          you said so.
        </p>
      )}
      {leaving.length > 0 && <FoldedNames title={`May go from ${name}`} names={leaving.map(({ path }) => path)} />}
      {STAY_REASONS.map((why) => (
        <FoldedNames key={why} title={stayWords(why)} names={staying[why]} />
      ))}
      {leaving.length > 0 && (
        <p className="quiet">
          Each is read once more before it goes, its copies are looked at where they lie, and what lies beside it goes
          only where it lies beside a copy too. This cannot be undone.
        </p>
      )}
      {leaving.length > 0 && (
        <div className={styles.acts}>
          <Button danger size="small" onClick={() => onFree(leaving.length)}>
            Remove {plural(leaving.length, 'file')} from {name}
          </Button>
          <Button size="small" onClick={onLeave}>
            Leave it as it is
          </Button>
        </div>
      )}
    </>
  );
}
