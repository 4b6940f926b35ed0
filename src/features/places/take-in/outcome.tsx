'use client';

// The outcome, always in sight: the folders, the names, what is in the way, one sentence that says what will happen,
// and the start; then how far it is, and how it ended.

import { App, Button, Input, Progress } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import { nameIn } from '@/core/names/file-names';
import type { PlannedFolder, TakeInPlan } from '@/core/take-in/plan';
import { driveProblemSentence } from '@/messages/problems';
import { useLive } from '@/storage/catalog/live';
import type { SourceRecord } from '@/storage/catalog/records';
import { bytes, count, photos, plural } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { NOTE_LENGTH } from '@/storage/archive/schemas';
import { session } from '@/engine/session';
import { begin } from './begin';
import { useTakeIn } from './take-in-state';
import styles from './take-in.module.css';
import { type Chosen, hasSecond, usePlan } from './use-plan';
import { useSession } from '@/features/parts/session/use-session';

interface Props {
  source: SourceRecord | null;
  chosen: Chosen;
}

export function TakeInOutcome({ source, chosen }: Props) {
  const { begun, note, mark, survey } = useTakeIn();
  const { plan, number, planFor } = usePlan(chosen.ticked, source?.name ?? '');
  const cataloging = useJobs().some(({ kind, state }) => kind === 'scan' && state === 'running');
  const way = useInTheWay(source, plan);
  const { message } = App.useApp();
  const [starting, setStarting] = useState(false);
  const start = async () => {
    if (!source) return;
    setStarting(true);
    try {
      await begin(source, chosen, planFor);
    } catch (error) {
      message.error(`It did not begin: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      setStarting(false);
    }
  };
  return (
    <aside className={styles.outcome} aria-label="Outcome">
      {begun && <Begun accessionId={begun} />}
      {plan && source && (
        <>
          <header className={styles.number}>
            <span className="mono">{number}</span>
            <span className="quiet">the next accession</span>
          </header>
          <Folders folders={plan.folders} />
          <Names plan={plan} marked={mark?.last ?? null} />
          <InTheWay plan={plan} />
          <Sentence plan={plan} source={source} />
          {(survey?.progress.phase !== 'done' || cataloging) && (
            <p className={styles.caution}>
              {cataloging ? 'A drive is still being cataloged' : `${source.name} is still being scanned`}: some of the
              ticked frames may yet be found to be known.
            </p>
          )}
          {way.length > 0 && (
            <ul className={styles.way}>
              {way.map((reason) => (
                <li key={reason}>{reason}</li>
              ))}
            </ul>
          )}
          <Input.TextArea
            value={note}
            maxLength={NOTE_LENGTH}
            autoSize={{ minRows: 1, maxRows: 4 }}
            placeholder="Note for the record"
            aria-label="Note for the record"
            onChange={({ target }) => useTakeIn.setState({ note: target.value })}
          />
          <Button type="primary" disabled={way.length > 0} loading={starting} onClick={() => void start()}>
            Take in {photos(plan.photos)}
          </Button>
        </>
      )}
      {!plan && !begun && (
        <p className="quiet">
          {source
            ? 'Tick frames to see where they go and what they will be called.'
            : 'Choose a card or a folder: here you see what will become of it before anything is done.'}
        </p>
      )}
    </aside>
  );
}

function useInTheWay(source: SourceRecord | null, plan: TakeInPlan | null): string[] {
  const { sheet } = useTakeIn();
  const connections = useSession((state) => state.connections);
  const reasons: string[] = [];
  if (!plan || !source) return reasons;
  if (sheet.driveId === null) reasons.push('Say which drive it goes to.');
  else if (connections[sheet.driveId]?.state !== 'connected') reasons.push('The drive it goes to is away.');
  if (connections[source.id]?.state !== 'connected') reasons.push(`${source.name} is away.`);
  if (sheet.second.driveId !== null && sheet.second.driveId === sheet.driveId)
    reasons.push('The second copy must go to another drive.');
  if (sheet.asItIs && connections[sheet.asItIs]?.state !== 'connected')
    reasons.push('The drive on which the card is to be kept as it is is away.');
  return reasons;
}

function Folders({ folders }: { folders: PlannedFolder[] }) {
  return (
    <section>
      <h3>Folders</h3>
      <ul className={styles.tree} aria-label="Folders">
        {folders.map(({ path, isNew, frames }) => (
          <li key={path} style={{ paddingLeft: `${path.split('/').length - 1}em` }} data-new={isNew}>
            <span>{nameIn(path)}</span>
            {isNew && <em>new</em>}
            {frames > 0 && <span className={styles.treeCount}>{count(frames)}</span>}
          </li>
        ))}
        {folders.length === 0 && <li className="quiet">at the root of the drive</li>}
      </ul>
    </section>
  );
}

/** The first and the last name, and that of the frame marked last. */
function Names({ plan, marked }: { plan: TakeInPlan; marked: string | null }) {
  const [first, last] = [plan.frames[0], plan.frames.at(-1)];
  const chosen = plan.frames.find(({ key }) => key === marked);
  const lines = [
    { what: 'first', frame: first },
    { what: 'last', frame: last },
    ...(chosen ? [{ what: 'marked', frame: chosen }] : []),
  ];
  return (
    <section>
      <h3>Names</h3>
      <dl className={styles.names}>
        {lines.map(
          ({ what, frame }) =>
            frame && (
              <div key={what}>
                <dt>{what}</dt>
                <dd>
                  <span className="mono">{nameIn(frame.path)}</span>
                  <span className="quiet"> from {nameIn(frame.key)}</span>
                </dd>
              </div>
            ),
        )}
      </dl>
    </section>
  );
}

function InTheWay({ plan }: { plan: TakeInPlan }) {
  const lists: [string, string[]][] = [
    ['taken already, and get a number', plan.taken],
    ['have a long path that some Windows programs will not reach', plan.long],
    ['taken on the second drive, and get a number there', plan.secondTaken],
  ];
  return lists.map(
    ([words, keys]) =>
      keys.length > 0 && (
        <details key={words} className={styles.details}>
          <summary>
            {plural(keys.length, 'name')}: {words}
          </summary>
          <ul className="mono">
            {keys.slice(0, 100).map((key) => (
              <li key={key}>
                {key} → {nameIn(plan.frames.find((frame) => frame.key === key)?.path ?? key)}
              </li>
            ))}
          </ul>
        </details>
      ),
  );
}

function Sentence({ plan, source }: { plan: TakeInPlan; source: SourceRecord }) {
  const { sheet, runs } = useTakeIn();
  const names = useLive(async () => new Map((await session.db.drives.toArray()).map(({ id, name }) => [id, name])));
  const kits =
    useLive(
      async () =>
        (await session.db.kits.bulkGet(sheet.kitIds)).flatMap((kit) => (kit && !kit.deleted ? [kit.name] : [])),
      [sheet.kitIds],
    ) ?? [];
  const into = plan.folders.filter(({ frames }) => frames > 0);
  const fresh = into.filter(({ isNew }) => isNew).length;
  const beside = plan.files.length - plan.photos;
  const words = [
    ...kits.map((name) => `the kit “${name}”`),
    ...(sheet.keywords.length > 0 ? [plural(sheet.keywords.length, 'keyword')] : []),
    ...(sheet.marker ? [`the marker “${sheet.marker}”`] : []),
    ...(runs.length > 0 ? [`the words of ${plural(runs.length, 'run')}`] : []),
  ];
  const drive = (id: string | null) => (id === null ? 'a drive' : (names?.get(id) ?? '…'));
  const second = hasSecond(sheet)
    ? `, and at the same time to ${drive(sheet.second.driveId)}${sheet.second.layout === 'card' ? ' as the card is' : ''}`
    : '';
  return (
    <p className={styles.sentence} aria-live="polite">
      {photos(plan.photos)}
      {beside > 0 && ` and ${plural(beside, 'file')} beside them`}, {bytes(plan.bytes)}, go from {source.name} to{' '}
      {drive(sheet.driveId)} into {plural(into.length, 'folder')}
      {fresh > 0 && ` (${count(fresh)} new)`}
      {second}
      {sheet.asItIs && `, and every file of the card as it is to ${drive(sheet.asItIs)}`}. Each copy is read back and
      compared by SHA-256.
      {words.length > 0 && ` On arrival they get ${words.join(', ')}.`} {source.name} is not changed.
    </p>
  );
}

/** The accession that was begun: how far it is, or how it ended. */
function Begun({ accessionId }: { accessionId: string }) {
  const accession = useLive(() => session.db.accessions.get(accessionId), [accessionId]);
  const job = useLive(
    async () =>
      (await session.db.jobs.toArray())
        .filter((one) => one.accessionId === accessionId)
        .sort((a, b) => b.startedAt - a.startedAt)[0],
    [accessionId],
  );
  if (!accession) return null;
  const { progress } = job ?? {};
  const running = job?.state === 'running' || job?.state === 'paused';
  return (
    <section className={styles.begun} aria-label={`Accession ${accession.number}`}>
      <header className={styles.number}>
        <span className="mono">{accession.number}</span>
        <span>{accession.name || accession.source}</span>
      </header>
      {running && progress && (
        <>
          <Progress
            percent={
              progress.totalBytes > 0 ? Math.min(100, Math.floor((100 * progress.doneBytes) / progress.totalBytes)) : 0
            }
            size="small"
            aria-label="Taking in"
          />
          <p className="quiet" aria-live="polite">
            {count(progress.doneItems)} of {plural(progress.totalItems, 'file')}, {bytes(progress.doneBytes)} of{' '}
            {bytes(progress.totalBytes)} read, written and read back
          </p>
          <div className={styles.line}>
            {job.state === 'paused' ? (
              <Button size="small" onClick={() => void session.resumeJob(job.id)}>
                Go on
              </Button>
            ) : (
              <Button size="small" onClick={() => void session.pauseJob(job.id)}>
                Pause
              </Button>
            )}
            <Button size="small" onClick={() => session.cancelJob(job.id)}>
              Cancel
            </Button>
          </div>
        </>
      )}
      {job?.report?.kind === 'take-in' && !running && (
        <p className={styles.done} data-sound={job.state === 'done' && job.report.line.endsWith('all checksums equal')}>
          {job.report.line}
        </p>
      )}
      {job?.problem && <p className={styles.problem}>{driveProblemSentence(job.problem.reason)}</p>}
      {job && !running && (job.state !== 'done' || (job.report?.problems.length ?? 0) > 0) && (
        <JobsList jobs={[job]} none="" />
      )}
      {accession.endedAt !== null && (
        <p>
          <Link href={findAddress(`accession:${accession.number}`)}>See them in Find</Link>
        </p>
      )}
    </section>
  );
}
