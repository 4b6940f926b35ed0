'use client';

// Jobs with their progress and their end: what was done, what is wrong, what can be taken up again.

import { Button, Progress, Select } from 'antd';
import { driveProblemSentence, problemSentence } from '@/messages/problems';
import { useLive } from '@/storage/catalog/live';
import type { ItemProblem, JobRecord, JobReport } from '@/storage/catalog/records';
import { bytes, count, dateTime, photos, plural } from '@/ui/format';
import { FoldedNames, NAMES_SHOWN } from './folded-names';
import styles from './jobs-list.module.css';
import { session } from '@/engine/session';

const PHASES = {
  listing: 'listing the folders',
  reading: 'reading photos',
  digesting: 'reading every byte for its checksum',
  copying: 'copying and reading back',
  removing: 'reading once more and removing',
  waiting: 'waiting for the night',
  drawing: 'drawing',
  sending: 'made ready, placed and read back',
  recording: 'writing what the catalog knows',
  finishing: 'finishing',
};
const STATES = {
  running: '',
  paused: 'paused',
  interrupted: 'interrupted',
  done: 'finished',
  cancelled: 'cancelled',
  failed: 'stopped',
};

/** Long work on whole drives may leave them to other work. */
const SLOWED: ReadonlySet<JobRecord['kind']> = new Set(['copy', 'check', 'bag']);
const MB = 1_000_000;
const SPEEDS = [
  { value: 0, label: 'full speed' },
  ...[50, 10, 2].map((limit) => ({ value: limit * MB, label: `${limit} MB a second` })),
];

export function useJobs(): JobRecord[] {
  return useLive(async () => (await session.db.jobs.toArray()).sort((a, b) => b.startedAt - a.startedAt)) ?? [];
}

export function JobsList({ jobs, none }: { jobs: JobRecord[]; none: string }) {
  const drives =
    useLive(async () => [...(await session.db.drives.toArray()), ...(await session.db.sources.toArray())]) ?? [];
  const nameOf = (id: string | null) => drives.find((drive) => drive.id === id)?.name ?? '…';
  if (jobs.length === 0) return <p className="quiet">{none}</p>;
  return (
    <ul className={styles.list}>
      {jobs.map((job) => (
        <Job key={job.id} job={job} title={titleOf(job, nameOf)} />
      ))}
    </ul>
  );
}

const copyTitle = ({ over }: JobRecord): string => (over?.leaves ? 'Move' : over ? 'Copy' : 'Second copy');

function titleOf(job: JobRecord, nameOf: (id: string | null) => string): string {
  switch (job.kind) {
    case 'copy':
      return `${copyTitle(job)}: ${nameOf(job.driveId)} → ${nameOf(job.targetDriveId)}${job.over?.to ? `, ${job.over.to}` : ''}`;
    case 'take-in':
      return `Take in: ${nameOf(job.sourceId)} → ${nameOf(job.driveId)}`;
    case 'empty':
      return `Empty: ${nameOf(job.sourceId)}`;
    case 'scan':
      return `${job.noticed ? 'New here' : 'Catalog'}: ${nameOf(job.driveId)}`;
    case 'previews':
      return `Large previews${job.byNight ? ', by night' : ''}`;
    case 'deliver':
      return `Send out${job.targetDriveId ? `: → ${nameOf(job.targetDriveId)}` : ''}`;
    case 'check':
      return `${job.share === undefined ? 'Check' : 'Daily check'}: ${nameOf(job.driveId)}`;
    case 'free':
      return `Free room: ${nameOf(job.driveId)}`;
    case 'bag':
      return `Bag: ${nameOf(job.driveId)}, ${job.bag?.folder ?? ''}`;
    case 'backup':
      return `Backup of the catalog: ${nameOf(job.driveId)}`;
    case 'drill':
      return `Drill: from ${nameOf(job.driveId)}`;
  }
}

function Job({ job, title }: { job: JobRecord; title: string }) {
  const open = job.state === 'running' || job.state === 'paused';
  const canResume =
    job.state === 'interrupted' || job.state === 'failed' || job.state === 'cancelled' || job.state === 'paused';
  return (
    <li className={styles.job} data-state={job.state}>
      <div className={styles.head}>
        <strong>{title}</strong>
        <span className={styles.state}>{STATES[job.state]}</span>
        <span className={styles.actions}>
          {open && job.progress.totalBytes > 0 && SLOWED.has(job.kind) && (
            <Select
              size="small"
              aria-label={`Speed: ${title}`}
              value={job.limit ?? 0}
              onChange={(limit) => void session.limitJob(job.id, limit === 0 ? null : limit)}
              options={SPEEDS}
              popupMatchSelectWidth={false}
            />
          )}
          {job.state === 'running' && (
            <Button size="small" onClick={() => void session.pauseJob(job.id)}>
              Pause
            </Button>
          )}
          {canResume && (
            <Button size="small" onClick={() => void session.resumeJob(job.id)}>
              Resume
            </Button>
          )}
          {open && (
            <Button size="small" onClick={() => session.cancelJob(job.id)}>
              Cancel
            </Button>
          )}
          {!open && (
            <Button
              size="small"
              type="text"
              onClick={() => void session.dismissJob(job.id)}
              aria-label={`Dismiss: ${title}`}
            >
              Dismiss
            </Button>
          )}
        </span>
      </div>
      {(open || job.state === 'interrupted') && <JobProgress job={job} />}
      {job.problem && (
        <p className={styles.failure}>
          {job.problem.path} {driveProblemSentence(job.problem.reason)}
        </p>
      )}
      {job.report && !open && <Report report={job.report} endedAt={job.endedAt} />}
    </li>
  );
}

function JobProgress({ job: { progress } }: { job: JobRecord }) {
  const { phase, doneItems, totalItems, doneBytes, totalBytes } = progress;
  if (phase === 'waiting')
    return (
      <p className="quiet">
        {PHASES[phase]}, from ten in the evening: {photos(totalItems)}
      </p>
    );
  if (phase === 'finishing') return <p className="quiet">{PHASES[phase]}…</p>;
  // counted, whatever their bytes
  if (phase === 'drawing' || phase === 'sending' || phase === 'recording')
    return (
      <div>
        <Progress
          percent={totalItems > 0 ? Math.floor((100 * doneItems) / totalItems) : 100}
          size="small"
          aria-label="progress"
        />
        <p className="quiet">
          {PHASES[phase]}: {count(doneItems)} of{' '}
          {phase === 'recording' ? plural(totalItems, 'record') : photos(totalItems)}
        </p>
      </div>
    );
  const percent = totalBytes > 0 ? Math.floor((100 * doneBytes) / totalBytes) : 0;
  return (
    <div>
      {phase !== 'listing' && <Progress percent={percent} size="small" aria-label="progress" />}
      <p className="quiet">
        {PHASES[phase]}:{' '}
        {phase === 'listing'
          ? `${plural(doneItems, 'file')} so far, ${bytes(doneBytes)}`
          : `${count(doneItems)} of ${plural(totalItems, 'file')}, ${bytes(doneBytes)} of ${bytes(totalBytes)}`}
      </p>
    </div>
  );
}

function Report({ report, endedAt }: { report: JobReport; endedAt: number | null }) {
  return (
    <div>
      <p>
        {sentence(report)} {endedAt !== null && <span className={styles.when}>{dateTime(endedAt)}</span>}
      </p>
      {report.kind === 'scan' && <FoldedNames title="Missing" names={report.missing} />}
      {report.kind === 'scan' && (
        <FoldedNames title="Damaged: not what was first measured" names={report.damaged ?? []} alarm />
      )}
      {report.kind === 'scan' && (
        <FoldedNames title="Folders that are drives of their own, and were left to them" names={report.nested ?? []} />
      )}
      {report.kind === 'scan' && (
        <FoldedNames title="Bags that were made here, and were left alone" names={report.bags ?? []} />
      )}
      {(report.kind === 'copy' || report.kind === 'empty' || report.kind === 'free') && (
        <FoldedNames title="Found damaged" names={report.damaged ?? []} alarm />
      )}
      {report.kind === 'scan' && (
        <FoldedNames title="Moved" names={report.moved.map(({ from, to }) => `${from} → ${to}`)} />
      )}
      {report.kind === 'check' && <FoldedNames title="Not what its checksum says" names={report.damaged} alarm />}
      {report.kind === 'check' && <FoldedNames title="Missing" names={report.missing} alarm />}
      {report.kind === 'check' && <FoldedNames title="New, not cataloged yet" names={report.added} />}
      {report.kind === 'take-in' && (
        <FoldedNames
          title="Got a number, because the name was taken meanwhile"
          names={report.renamed.map(({ from, to }) => `${from} → ${to}`)}
        />
      )}
      {report.kind === 'bag' && <FoldedNames title="Damaged, so not in the bag" names={report.damaged} alarm />}
      {report.kind === 'bag' && <FoldedNames title="On no connected drive" names={report.away} alarm />}
      {report.kind === 'drill' && <FoldedNames title="Damaged" names={report.damaged} alarm />}
      {report.kind === 'drill' && (
        <FoldedNames title="What you wrote about them is not on that drive" names={report.words} alarm />
      )}
      {report.kind === 'deliver' && <FoldedNames title="Not sent: damaged" names={report.damaged} alarm />}
      {report.kind === 'deliver' && <FoldedNames title="Not sent: on no connected drive" names={report.away} alarm />}
      {report.kind === 'empty' && <FoldedNames title="Stay on the card" names={report.kept} />}
      <Problems problems={report.problems} />
    </div>
  );
}

/** What became of the files that are no photos, and of the drive. */
function othersWords({ others, replaced }: JobReport & { kind: 'copy' }): string {
  const words = others ? ` ${plural(others.copied, 'other file')} copied, ${count(others.there)} there already.` : '';
  if (replaced === undefined) return words;
  return `${words} ${replaced ? 'The drive took the place of the old one, which is retired; Undo takes that back.' : 'The old drive was not replaced: not all of it is verified on the other one.'}`;
}

function drillSentence({
  photos: restored,
  bytes: size,
  damaged,
  words,
  problems,
}: JobReport & { kind: 'drill' }): string {
  const wrong = damaged.length + problems.length;
  if (wrong === 0 && words.length === 0)
    return `${photos(restored)} (${bytes(size)}) restored from it: every byte is what its manifest says, and all that you wrote is there. What was written for the drill is removed again.`;
  return `${photos(restored)} restored from it; ${count(wrong)} could not be, and of ${count(words.length)} what you wrote is not there.`;
}

const bagSentence = ({ photos: placed, files, bytes: size, finished }: JobReport & { kind: 'bag' }): string =>
  finished
    ? `${photos(placed)} in ${plural(files, 'file')}, ${bytes(size)}, each read back. It is a bag: complete, and valid by what was read.`
    : `${photos(placed)} placed. It is no bag yet: what is told below is missing. Resume when it is put right; what is there is not copied again.`;

function sentence(report: JobReport): string {
  if (report.kind === 'copy')
    return `${photos(report.copied)} copied and verified, ${count(report.alreadyThere)} there already.${othersWords(report)}${report.left === undefined ? '' : ` ${photos(report.left)} left the drive ${report.left === 1 ? 'it' : 'they'} came from, and ${report.left === 1 ? 'is' : 'are'} set aside there; Undo takes it back.`}${report.inDoubt > 0 ? ` ${photos(report.inDoubt)} in doubt ${report.inDoubt === 1 ? 'was' : 'were'} not copied: settle ${report.inDoubt === 1 ? 'it' : 'them'} in Safekeep.` : ''}`;
  if (report.kind === 'drill') return drillSentence(report);
  if (report.kind === 'bag') return bagSentence(report);
  if (report.kind === 'backup')
    return `${plural(report.rows, 'record')} in ${bytes(report.bytes)}, read back: ${report.path}.${report.outlived > 0 ? ` ${plural(report.outlived, 'older backup')} had outlived ${report.outlived === 1 ? 'its' : 'their'} use.` : ''}`;
  if (report.kind === 'deliver')
    return `${report.name}: ${count(report.arrived)} of ${count(report.asked)} arrived, ${bytes(report.bytes)}; each was read back and decoded.${report.there > 0 ? ` ${count(report.there)} lay there already.` : ''}`;
  if (report.kind === 'take-in')
    return `Accession ${report.number}: ${report.line}.${report.waiting > 0 ? ` ${plural(report.waiting, 'second copy waits', 'second copies wait')} in the outbox.` : ''}${report.asItIs ? ` The card as it is: ${plural(report.asItIs.files, 'file')}, ${bytes(report.asItIs.bytes)}, each read back.` : ''}`;
  if (report.kind === 'previews')
    return `${plural(report.drawn, 'large preview')} drawn, ${count(report.there)} there already${report.away > 0 ? `, ${photos(report.away)} on drives that are away` : ''}.`;
  if (report.kind === 'empty' || report.kind === 'free')
    return `${plural(report.removed, 'file')} removed, ${bytes(report.bytes)}; every one was read once more, and its copies were looked at where they lie.`;
  if (report.kind === 'check') {
    const bad = report.damaged.length + report.missing.length;
    return bad === 0
      ? `All ${plural(report.sound, 'file')} read and found right.`
      : `${plural(report.sound, 'file')} right, ${count(report.damaged.length)} not what the checksum says, ${count(report.missing.length)} missing.`;
  }
  return scanSentence(report);
}

function scanSentence(report: JobReport & { kind: 'scan' }): string {
  const parts = [
    `${photos(report.photos)} found`,
    `${count(report.added)} added`,
    `${count(report.changed)} changed`,
    `${count(report.moved.length)} moved`,
    `${count(report.missing.length)} missing`,
  ];
  if (report.damaged?.length) parts.push(`${count(report.damaged.length)} damaged`);
  if (report.leftBehind)
    parts.push(`${plural(report.leftBehind, 'sidecar')} without a photo beside, listed in Safekeep`);
  if (report.sentHere) parts.push(`${plural(report.sentHere, 'file')} sent from here`);
  if (report.sidecarsTaken > 0) parts.push(`${plural(report.sidecarsTaken, 'sidecar')} taken over from other programs`);
  if (report.conflicts > 0) parts.push(`${plural(report.conflicts, 'conflict')} to decide`);
  return `${parts.join(', ')}.`;
}

function Problems({ problems }: { problems: ItemProblem[] }) {
  if (problems.length === 0) return null;
  return (
    <details className={styles.details} open>
      <summary data-alarm>Could not be read or written: {count(problems.length)}</summary>
      <ul>
        {problems.slice(0, NAMES_SHOWN).map(({ path, problem }) => (
          <li key={path + problem.code}>
            <span className="mono">{path}</span> {problemSentence(problem)}
          </li>
        ))}
      </ul>
    </details>
  );
}
