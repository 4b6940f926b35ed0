'use client';

import { Button, Radio, Select } from 'antd';
import { useSearchParams } from 'next/navigation';
import { useEffect, useMemo, useState } from 'react';
import type { DriveRecord } from '@/storage/catalog/records';
import { bytes, count, photos } from '@/ui/format';
import { useResult } from '@/features/parts/search/use-result';
import { useSelection } from '@/features/parts/selection/selection';
import { useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import styles from './safekeep.module.css';
import { useSession } from '@/features/parts/session/use-session';

type What = 'drive' | 'selection' | 'scope';

/** Which photos, from which drive, to which: and one sentence that says what will happen. */
export function CopyForm({ drives }: { drives: DriveRecord[] }) {
  const connections = useSession((state) => state.connections);
  const selected = useSelection((state) => state.ids);
  const order = useResult((state) => state.result?.order);
  const inScope = useMemo(() => order?.all() ?? [], [order]);
  const params = useSearchParams();
  const [what, setWhat] = useState<What>(
    params.get('what') === 'selection' && selected.size > 0 ? 'selection' : 'drive',
  );
  const [from, setFrom] = useState<string | null>(null);
  const [to, setTo] = useState<string | null>(null);
  const connected = drives.filter(({ id }) => connections[id]?.state === 'connected');
  const writable = connected.filter(({ access }) => access === 'write');
  const photoIds = what === 'drive' ? null : what === 'selection' ? [...selected] : inScope;
  const ended = useJobs().filter(({ endedAt }) => endedAt !== null).length;
  const plan = usePlan(from, to, what === 'drive' ? null : what === 'selection' ? selected : inScope, ended);
  const options = (list: DriveRecord[], other: string | null) =>
    list.filter(({ id }) => id !== other).map(({ id, name }) => ({ value: id, label: name }));
  return (
    <div className={styles.form}>
      <Radio.Group value={what} onChange={(event) => setWhat(event.target.value as What)} aria-label="Which photos">
        <Radio value="drive">the whole drive</Radio>
        <Radio value="selection" disabled={selected.size === 0}>
          the selection ({count(selected.size)})
        </Radio>
        <Radio value="scope">the search ({count(inScope.length)})</Radio>
      </Radio.Group>
      <div className={styles.fromTo}>
        <label htmlFor="copy-from">from</label>
        <Select id="copy-from" value={from} onChange={setFrom} options={options(connected, to)} placeholder="drive" />
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
          disabled={!plan || plan.photos === 0 || !from || !to}
          onClick={() => from && to && void session.startCopy(from, to, photoIds)}
        >
          Copy and verify
        </Button>
      </div>
      <p className={styles.plan} aria-live="polite">
        {connected.length < 2 && 'A second copy needs two connected drives. '}
        {plan && plan.photos === 0 && plan.there === 0 && 'None of these photos is on the drive to copy from.'}
        {plan && plan.photos === 0 && plan.there > 0 && `All ${photos(plan.there)} have a verified copy there already.`}
        {plan &&
          plan.photos > 0 &&
          `${photos(plan.photos)}, ${bytes(plan.bytes)}, will be copied with their sidecars into the same folders, read back and compared by SHA-256${plan.there > 0 ? `; ${count(plan.there)} are there already` : ''}. Nothing on either drive is replaced.`}
      </p>
    </div>
  );
}

type Plan = Awaited<ReturnType<typeof planCopy>>;

/** Counts anew when the choice changes or a job ends, not with every file of a running copy. */
function usePlan(
  from: string | null,
  to: string | null,
  photoIds: Iterable<string> | null,
  jobsEnded: number,
): Plan | null {
  const [plan, setPlan] = useState<Plan | null>(null);
  useEffect(() => {
    let current = true;
    if (!from || !to) setPlan(null);
    else
      planCopy(from, to, photoIds && new Set(photoIds)).then(
        (found) => current && setPlan(found),
        () => {},
      );
    return () => {
      current = false;
    };
  }, [from, to, photoIds, jobsEnded]);
  return plan;
}

async function planCopy(from: string, to: string, chosen: Set<string> | null) {
  const verified = new Set<string | null>();
  await session.db.files
    .where('driveId')
    .equals(to)
    .each(({ photoId, state, verifiedAt }) => {
      if (state === 'present' && verifiedAt !== null) verified.add(photoId);
    });
  const plan = { photos: 0, bytes: 0, there: 0 };
  await session.db.files
    .where('driveId')
    .equals(from)
    .each(({ photoId, state, sizeBytes }) => {
      if (photoId === null || state !== 'present' || (chosen && !chosen.has(photoId))) return;
      if (verified.has(photoId)) plan.there += 1;
      else {
        plan.photos += 1;
        plan.bytes += sizeBytes;
      }
    });
  return plan;
}
