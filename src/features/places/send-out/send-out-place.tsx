'use client';

// Send out: a destination's profile, what will come out of it, what should be known before, and what went where.

import { Button, Radio } from 'antd';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import { joinedPath, nameIn } from '@/core/names/file-names';
import { legalName } from '@/core/names/legal';
import { type BlankName, type NameFacts, fillFolder } from '@/core/names/pattern';
import { deliverySentence } from '@/messages/delivery';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord, JobRecord } from '@/storage/catalog/records';
import { bytes, count, photos as photosWords, today } from '@/ui/format';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { useResult } from '@/features/parts/search/use-result';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { Findings } from './findings';
import { OnePhoto } from './one-photo';
import { ProfileLine } from './profile-line';
import { ProfileSettings } from './profile-settings';
import styles from './send-out.module.css';
import { type Draft, useDraft } from './use-draft';
import { type Planned, usePlan } from './use-plan';

const NO_BLANKS: NameFacts['blanks'] = { kind: '', client: '', subject: '' };

export function SendOutPlace() {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const draft = useDraft();
  const { photoIds, what, setWhat, selected, inScope } = useChosen();
  const [blanks, setBlanks] = useState(NO_BLANKS);
  const jobs = useJobs().filter(({ kind }) => kind === 'deliver');
  const planned = usePlan(photoIds, draft, blanks, jobs.filter(({ endedAt }) => endedAt !== null).length);
  const setBlank = (name: BlankName, text: string) => setBlanks((before) => ({ ...before, [name]: text }));
  return (
    <main className={styles.place}>
      <h1 className="visually-hidden">Send out</h1>
      <div className={styles.column}>
        <section className={styles.panel}>
          <header>
            <h2>What, and by which profile</h2>
          </header>
          <Radio.Group
            value={what}
            onChange={({ target }) => setWhat(target.value as 'selection' | 'search')}
            aria-label="Which photos"
          >
            <Radio value="selection" disabled={selected === 0}>
              the selection ({count(selected)})
            </Radio>
            <Radio value="search">the search ({count(inScope)})</Radio>
          </Radio.Group>
          <ProfileLine draft={draft} />
        </section>
        {draft.content ? (
          <ProfileSettings
            content={draft.content}
            onChange={draft.change}
            drives={drives}
            blanks={blanks}
            onBlank={setBlank}
          />
        ) : (
          <p className={`quiet ${styles.hint}`}>
            A delivery profile is a destination’s settings under a name: picture, names, folder, which words leave.
            Choose one, or begin a new one; nothing of the last delivery is applied.
          </p>
        )}
      </div>
      <div className={styles.column}>
        <Coming draft={draft} planned={planned} photos={photoIds.length} drives={drives} jobs={jobs} />
        <section className={styles.panel}>
          <header>
            <h2>What went out</h2>
          </header>
          <JobsList jobs={jobs} none="Nothing was sent from here yet." />
        </section>
      </div>
    </main>
  );
}

function useChosen() {
  const params = useSearchParams();
  const selection = useSelection((state) => state.ids);
  const order = useResult((state) => state.result?.order);
  const inScope = useMemo(() => order?.all() ?? [], [order]);
  const [what, setWhat] = useState<'selection' | 'search'>(
    params.get('what') === 'selection' && selection.size > 0 ? 'selection' : 'search',
  );
  const isSelection = what === 'selection' && selection.size > 0;
  const photoIds = useMemo(
    // in the order of the search, whichever was clicked first
    () => (isSelection ? [...inScope.filter((id) => selection.has(id)), ...missing(selection, inScope)] : inScope),
    [isSelection, inScope, selection],
  );
  return {
    photoIds,
    what: isSelection ? ('selection' as const) : ('search' as const),
    setWhat,
    selected: selection.size,
    inScope: inScope.length,
  };
}

function missing(selection: ReadonlySet<string>, inScope: readonly string[]): string[] {
  const there = new Set(inScope);
  return [...selection].filter((id) => !there.has(id));
}

interface ComingProps {
  draft: Draft;
  planned: Planned | null;
  photos: number;
  drives: DriveRecord[];
  jobs: JobRecord[];
}

function Coming({ draft, planned, photos, drives, jobs }: ComingProps) {
  return (
    <section className={styles.panel} aria-busy={draft.content !== null && photos > 0 && planned === null}>
      <header>
        <h2>What will come out</h2>
      </header>
      {!draft.content ? (
        <p className="quiet">No profile is chosen.</p>
      ) : photos === 0 ? (
        <p>No photo is in this search, and none is selected. Find some first.</p>
      ) : !planned ? (
        <p className="quiet">Looking at {photosWords(photos)} …</p>
      ) : (
        <PlannedDelivery draft={draft} planned={planned} drives={drives} jobs={jobs} />
      )}
    </section>
  );
}

function PlannedDelivery({ draft, planned, drives, jobs }: Omit<ComingProps, 'photos'> & { planned: Planned }) {
  const { plan, used } = planned;
  const { folder } = used;
  const first = plan.files[0];
  const zipPath = folder.kind === 'zip' ? zipPathOf(planned) : null;
  const inside = zipPath ?? first?.path ?? '';
  const to =
    folder.kind === 'beside'
      ? `“${folder.name}” beside each original`
      : folder.driveId === null
        ? '… choose a drive'
        : [
            drives.find(({ id }) => id === folder.driveId)?.name ?? '…',
            ...(zipPath === null ? inside.split('/').slice(0, -1) : inside.split('/')),
          ].join(' / ');
  const hasDrive = folder.kind === 'beside' || folder.driveId !== null;
  const [begun, setBegun] = useState<string | null>(null);
  const isUnderWay =
    begun !== null && !jobs.some(({ deliveryId, endedAt }) => deliveryId === begun && endedAt !== null);
  const start = async () => {
    const id = crypto.randomUUID();
    setBegun(id);
    await session.startDelivery(
      { id, profile: used, day: today(), zipPath },
      plan.files.map(({ photoId, driveId, path, pixels }, order) => ({
        order,
        id: `${id}/${photoId}`,
        runId: id,
        photoId,
        driveId,
        path,
        pixels: pixels && { width: pixels.width, height: pixels.height },
        sent: null,
      })),
    );
  };
  return (
    <>
      <p className={styles.sentence} aria-live="polite">
        {deliverySentence(used, { photos: plan.files.length, name: first ? nameIn(first.path) : '', to })}
      </p>
      <Findings planned={planned} draft={draft} />
      <p className={styles.start}>
        <Button
          type="primary"
          disabled={plan.files.length === 0 || plan.open.length > 0 || !hasDrive || isUnderWay}
          onClick={() => void start()}
        >
          Send out {photosWords(plan.files.length)}
        </Button>
        <span className="quiet">
          {isUnderWay
            ? 'It is under way.'
            : plan.open.length > 0
              ? 'Say of each question above whether such photos go.'
              : !hasDrive
                ? 'Choose the drive they go to.'
                : plan.files.length > 0
                  ? `about ${bytes(plan.estimatedBytes)}`
                  : 'Nothing is left to send.'}
        </span>
      </p>
      <OnePhoto planned={planned} />
    </>
  );
}

/** Where the ZIP goes: its folder by the pattern, as for the first photo. */
function zipPathOf({ photos, used, blanks }: Planned): string {
  const { folder } = used;
  if (folder.kind !== 'zip') return '';
  const [first] = photos;
  return joinedPath(
    first ? fillFolder(folder.parts, { ...first.naming, blanks }) : '',
    `${legalName(folder.name) || 'photos'}.zip`,
  );
}
