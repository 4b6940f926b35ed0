// What a job does, by its kind.

import { archiveItem, historyItem, manifestItem } from '@/storage/catalog/changes';
import type { JobRecord, JobReport } from '@/storage/catalog/records';
import type { Connection } from '@/storage/connections/connections';
import { type Drive, DriveError } from '@/storage/drives/drive';
import { sendOut, settleDelivery } from '@/storage/jobs/delivering';
import { emptySource } from '@/storage/jobs/emptying';
import { makeBag } from '@/storage/jobs/bagging';
import { checkDrive } from '@/storage/jobs/checking';
import { copyPhotos } from '@/storage/jobs/copying';
import { freeRoom } from '@/storage/jobs/freeing';
import { backUp } from '@/storage/jobs/backing-up';
import { runDrill } from '@/storage/jobs/drilling';
import { type JobTools, startProgress } from '@/storage/jobs/job-tools';
import { drawLargePreviews, isNight } from '@/storage/jobs/large-previews';
import { clearLeftovers, scanDrive } from '@/storage/jobs/scan';
import { takeIn } from '@/storage/jobs/take-in';
import { today } from '@/ui/format';
import { drawWatermark } from './watermark-drawing';

type Connected = Extract<Connection, { state: 'connected' }>;

export interface DrivesAtHand {
  /** The drive or source, asked anew whether it is there. Rejects with `DriveError` when it is not. */
  connected: (id: string) => Promise<Connected>;
  /** As last known. */
  now: (id: string) => Drive | null;
  /** The same, without drives that share their place with a card. */
  apartFrom: (sourceId: string) => Promise<(id: string) => Drive | null>;
}

export async function workOf(job: JobRecord, tools: JobTools, drives: DrivesAtHand): Promise<JobReport> {
  if (job.kind === 'take-in') return workOfTakeIn(job, tools, drives);
  if (job.kind === 'previews')
    return drawLargePreviews(tools, {
      photoIds: job.photoIds ?? [],
      size: job.previewSize ?? 'large',
      driveOf: drives.now,
      untilNight: () => untilNight(job, tools),
    });
  if (job.kind === 'deliver') {
    const runId = job.deliveryId ?? '';
    const report = await sendOut(tools, { runId, driveOf: drives.now, drawOverlay: drawWatermark });
    await settleDelivery(tools.db, runId, tools.now());
    return report;
  }
  const { drive, writable } = await drives.connected(job.driveId);
  switch (job.kind) {
    case 'scan':
      return scan(job, tools, drive, writable);
    case 'check':
      return checkDrive(tools, job.driveId, drive, writable, {
        since: job.startedAt,
        share: job.share ?? null,
      });
    case 'empty':
      return emptySource(
        tools,
        drive,
        job.agreed ?? { files: 0, copies: 2, awayCounts: false },
        await drives.apartFrom(job.driveId),
      );
    case 'free':
      return workOfFreeing(job, tools, drive, writable, drives);
    case 'backup':
      if (!writable) throw new DriveError('target-gone', '');
      return backUp(tools, { driveId: job.driveId, drive });
    case 'bag':
      return workOfBag(job, tools, drive, writable, drives);
    case 'drill': {
      const target = await drives.connected(job.targetDriveId ?? '');
      if (!target.writable) throw new DriveError('target-gone', '');
      return runDrill(tools, { source: { id: job.driveId, drive }, target: target.drive, name: job.id });
    }
    case 'copy': {
      const targetId = job.targetDriveId ?? '';
      const target = await drives.connected(targetId);
      return copyPhotos(tools, {
        source: { id: job.driveId, drive, writable },
        target: { id: targetId, drive: target.drive },
        photoIds: job.photoIds,
        folders: job.folders ?? null,
        over: job.over ? { going: job.over, day: today() } : null,
        whole: job.whole ?? false,
        replacesOn: job.replaces ? today() : null,
      });
    }
  }
}

async function workOfFreeing(
  { driveId, photoIds, agreed }: JobRecord,
  tools: JobTools,
  drive: Drive,
  writable: boolean,
  { now: driveOf }: DrivesAtHand,
): Promise<JobReport> {
  if (!writable) throw new DriveError('no-permission', '');
  return freeRoom(tools, { driveId, drive, photoIds, agreed: agreed ?? { files: 0, awayCounts: false }, driveOf });
}

async function workOfBag(
  { bag, photoIds }: JobRecord,
  tools: JobTools,
  target: Drive,
  writable: boolean,
  { now: driveOf }: DrivesAtHand,
): Promise<JobReport> {
  if (!bag || !writable) throw new DriveError('target-gone', '');
  return makeBag(tools, { asked: bag, photoIds: photoIds ?? [], target, driveOf, day: today() });
}

/** How often it is asked whether the night has come. */
const NIGHT_LOOK_MS = 30_000;

async function untilNight({ byNight, photoIds }: JobRecord, { control }: JobTools): Promise<void> {
  while (byNight && !isNight(new Date().getHours())) {
    control.progress(startProgress('waiting', photoIds?.length ?? 0));
    await new Promise((resolve) => {
      const timer = setTimeout(resolve, NIGHT_LOOK_MS);
      control.signal.addEventListener(
        'abort',
        () => {
          clearTimeout(timer);
          resolve(null);
        },
        { once: true },
      );
    });
    await control.atRest();
  }
}

async function scan(
  { driveId, noticed }: JobRecord,
  tools: JobTools,
  drive: Drive,
  writable: boolean,
): Promise<JobReport> {
  const report = await scanDrive(tools, driveId, drive);
  if (writable) await clearLeftovers(drive, report.leftovers, Date.now());
  if (writable && !noticed)
    await tools.db.outbox.bulkPut([
      archiveItem(driveId, Date.now()),
      manifestItem(driveId, Date.now()),
      historyItem(driveId, Date.now(), 0),
    ]);
  return report;
}

async function workOfTakeIn(job: JobRecord, tools: JobTools, drives: DrivesAtHand): Promise<JobReport> {
  const accession = await tools.db.accessions.get(job.accessionId ?? '');
  if (!accession) throw new Error('there is no such accession');
  const main = await drives.connected(job.driveId).catch(() => null);
  if (!main) throw new DriveError('target-gone', '');
  const source = await drives.connected(job.sourceId ?? '').catch(() => null);
  if (!source) throw new DriveError('source-gone', accession.source);
  // a second drive that is away, or may not be written, gets its copies later
  const second =
    job.targetDriveId === null
      ? null
      : {
          id: job.targetDriveId,
          drive: await drives.connected(job.targetDriveId).then(
            ({ drive, writable }) => (writable ? drive : null),
            () => null,
          ),
        };
  const { asItIs } = accession.sheet;
  const kept = asItIs ? await drives.connected(asItIs).catch(() => null) : null;
  if (asItIs && !kept?.writable) throw new DriveError('target-gone', '');
  return takeIn(tools, {
    accession,
    source: source.drive,
    main: { id: job.driveId, drive: main.drive },
    second,
    asItIs: kept?.drive ?? null,
  });
}
