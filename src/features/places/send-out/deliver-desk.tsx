'use client';

// Photos sent by a delivery profile: what will come out of it, what should be known before, and what went where.

import { Button } from 'antd';
import { useState } from 'react';
import { joinedPath, nameIn } from '@/core/names/file-names';
import { legalName } from '@/core/names/legal';
import { type BlankName, type NameFacts, fillFolder } from '@/core/names/pattern';
import { deliverySentence } from '@/messages/delivery';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord, JobRecord } from '@/storage/catalog/records';
import { bytes, photos as photosWords, today } from '@/ui/format';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { Findings } from './findings';
import { OnePhoto } from './one-photo';
import { ProfileLine } from './profile-line';
import { ProfileSettings } from './profile-settings';
import styles from './send-out.module.css';
import { type Draft, useDraft } from './use-draft';
import { type DeliveryAtHand, useDeliveryPlan } from './use-delivery-plan';

const NO_BLANKS: NameFacts['blanks'] = { kind: '', client: '', subject: '' };

export function DeliverDesk({ photoIds }: { photoIds: readonly string[] }) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const draft = useDraft();
  const [blanks, setBlanks] = useState(NO_BLANKS);
  const jobs = useJobs().filter(({ kind }) => kind === 'deliver');
  const planned = useDeliveryPlan(photoIds, draft, blanks, jobs.filter(({ endedAt }) => endedAt !== null).length);
  const setBlank = (name: BlankName, text: string) => setBlanks((before) => ({ ...before, [name]: text }));
  return (
    <div className={styles.desk}>
      <div className={styles.column}>
        <section className={styles.panel}>
          <header>
            <h2>By which profile</h2>
          </header>
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
    </div>
  );
}

interface ComingProps {
  draft: Draft;
  planned: DeliveryAtHand | null;
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

function PlannedDelivery({ draft, planned, drives, jobs }: Omit<ComingProps, 'photos'> & { planned: DeliveryAtHand }) {
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
      { id, profile: used, day: today(), begunAt: Date.now(), zipPath },
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
          disabled={plan.files.length === 0 || plan.open.length > 0 || !hasDrive || isUnderWay || !planned.isCurrent}
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
function zipPathOf({ photos, used, blanks }: DeliveryAtHand): string {
  const { folder } = used;
  if (folder.kind !== 'zip') return '';
  const [first] = photos;
  return joinedPath(
    first ? fillFolder(folder.parts, { ...first.naming, blanks }) : '',
    `${legalName(folder.name) || 'photos'}.zip`,
  );
}
