'use client';

import { Button, Progress } from 'antd';
import Link from 'next/link';
import { useLive } from '@/storage/catalog/live';
import { changesSinceBackup, readLastBackup } from '@/storage/jobs/backing-up';
import { readLastDrill } from '@/storage/jobs/drilling';
import { bytes, count, dayWords, photos } from '@/ui/format';
import { useCounts } from '@/features/parts/search/use-counts';
import { findAddress } from '@/features/parts/search/use-scope';
import { ConnectButton } from '@/features/parts/connecting/connect-drive';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { leaveDemo, openDemo, whichCatalog } from '@/engine/which-catalog';
import { ArchiveProblems } from './archive-problems';
import { CardRows } from './card-rows';
import { DriveRow } from './drive-row';
import styles from './overview.module.css';
import { YearsChart } from './years-chart';
import { useSession } from '@/features/parts/session/use-session';

export function OverviewPlace() {
  const stage = useSession((state) => state.stage.state);
  const indexed = useSession((state) => state.indexed);
  const drives = useLive(() => session.db.drives.toArray());
  const jobs = useJobs();
  if (stage === 'opening' || !drives)
    return <main className={styles.opening}>Opening the catalog: {count(indexed)} photos so far</main>;
  const inDemo = whichCatalog() === 'demo';
  if (drives.length === 0) return inDemo ? <DemoLoading /> : <Begin />;
  return (
    <main className={styles.place}>
      <h1 className="visually-hidden">Overview</h1>
      <section className={styles.panel}>
        <header>
          <h2>Drives</h2>
          {inDemo ? <DemoProgress /> : <ConnectButton />}
        </header>
        <ul>
          {drives.map((drive) => (
            <DriveRow key={drive.id} drive={drive} />
          ))}
        </ul>
        <SafetyLine />
        <ArchiveProblems drives={drives} />
        <CardRows />
        <Storage />
      </section>
      <section className={styles.panel}>
        <header>
          <h2>Photos by year</h2>
          <Link href={findAddress('')}>{photos(indexed)} in all</Link>
        </header>
        <YearsChart />
      </section>
      <section className={styles.panel}>
        <header>
          <h2>What ran</h2>
        </header>
        <JobsList jobs={jobs} none="Nothing has run yet." />
      </section>
    </main>
  );
}

/** The first screen: nothing is connected yet. */
function Begin() {
  const demo = useSession((state) => state.demo);
  return (
    <main className={styles.begin}>
      <h1>Twenty years of photographs, on your own drives, findable.</h1>
      <p>
        Wembo catalogs photos where they lie. What you write goes into open files beside them; nothing leaves this
        machine, and no original is altered.
      </p>
      <div className={styles.choices}>
        <section>
          <h2>Begin with your own</h2>
          <p>
            Pick a folder or a whole drive, or drop one anywhere on this window. Cataloging writes nothing into your
            photos.
          </p>
          <ConnectButton primary />
        </section>
        {demo.state !== 'none' && (
          <section>
            <h2>Look around first</h2>
            <p>
              The made-up archive of the Faroe Harbours Survey: twenty-two years on six practice drives inside this
              browser. It has a catalog of its own and can be removed at any time.
            </p>
            <Button disabled={demo.state === 'unknown'} onClick={openDemo}>
              Open the demo
            </Button>
          </section>
        )}
      </div>
    </main>
  );
}

/** The demo's first moments, before its first drive is there. */
function DemoLoading() {
  const demo = useSession((state) => state.demo);
  return (
    <main className={styles.begin}>
      <h1>The Faroe Harbours Survey</h1>
      <p>
        Its practice drives are being laid out in this browser. Everything in them is made up: people, pictures,
        problems.
      </p>
      {demo.state === 'loading' && (
        <Progress percent={Math.floor((100 * demo.done) / demo.total)} aria-label="Loading the demo" />
      )}
      {demo.state === 'none' && (
        <p className={styles.problem}>This server has no demo to offer: it was started without its data.</p>
      )}
      <DemoFailure />
      {demo.state !== 'loading' && <Button onClick={leaveDemo}>Leave the demo</Button>}
    </main>
  );
}

function DemoProgress() {
  const demo = useSession((state) => state.demo);
  if (demo.state === 'loading')
    return (
      <span className="quiet" aria-live="polite">
        The demo is loading: {count(demo.done)} of {count(demo.total)} files
      </span>
    );
  return demo.state === 'failed' ? <DemoFailure /> : <span className="quiet">practice drives of the demo</span>;
}

function DemoFailure() {
  const demo = useSession((state) => state.demo);
  if (demo.state !== 'failed') return null;
  return (
    <p className={styles.problem}>
      The demo could not be loaded: {demo.reason}{' '}
      <Button size="small" onClick={() => void session.loadDemo()}>
        Try again
      </Button>
    </p>
  );
}

/** How much is safe, and when the way back was last walked. */
function SafetyLine() {
  const [all = 0, safe = 0] = useCounts(SAFETY_SCOPES);
  const drill = useLive(() => readLastDrill(session.db));
  const backup = useLive(() => readLastBackup(session.db));
  const since = useLive(() => changesSinceBackup(session.db)) ?? 0;
  if (all === 0) return null;
  return (
    <p className={styles.safety}>
      <Link href="/safekeep">
        {safe === all ? `All ${photos(all)} are safe` : `${count(safe)} of ${photos(all)} are safe`}
      </Link>
      {drill &&
        `; last drill ${dayWords(drill.at)}${drill.wrong > 0 ? `, ${count(drill.wrong)} did not come back right` : ''}`}
      {drill === null && '; no drill was run yet'}
      {backup && `; last backup of the catalog ${dayWords(backup.at)}`}
      {backup === null && '; no backup of the catalog was made yet'}
      {since >= MANY_ACTS && (
        <>
          , <Link href="/safekeep#backup">{count(since)} acts are not in one</Link>
        </>
      )}
    </p>
  );
}

/** After so many a new backup is offered. */
const MANY_ACTS = 100;
const SAFETY_SCOPES = ['', 'safe:yes'];

function Storage() {
  const storage = useSession((state) => state.storage);
  if (!storage) return null;
  return (
    <p className={styles.storage}>
      {storage.persisted
        ? 'This browser has promised to keep the catalog.'
        : 'This browser has not promised to keep the catalog: short of space, it may drop it. Nothing would be lost: everything you entered is in the files on your drives, and connecting them brings it back.'}{' '}
      <span className="mono">
        {bytes(storage.usedBytes)} of {bytes(storage.quotaBytes)} used
      </span>
    </p>
  );
}
