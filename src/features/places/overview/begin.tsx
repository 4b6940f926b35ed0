'use client';

// The first screens: nothing is connected yet, or the demo is being laid out.

import { Button, Progress } from 'antd';
import { session } from '@/engine/session';
import { leaveDemo, openDemo } from '@/engine/which-catalog';
import { count } from '@/ui/format';
import { ConnectButton } from '@/features/parts/connecting/connect-drive';
import { useSession } from '@/features/parts/session/use-session';
import styles from './overview.module.css';

/** Of the demo, drawn small. */
const PICTURES = ['harbour', 'boat', 'sails', 'net', 'aurora', 'sheep'];

/** The first screen: nothing is connected yet. */
export function Begin() {
  const demo = useSession((state) => state.demo);
  return (
    <main className={styles.begin}>
      <h1>Twenty years of photographs, on your own drives, findable.</h1>
      <p>
        Wembo catalogs photos where they lie. What you write goes into open files beside them; nothing leaves this
        machine, and no original is altered.
      </p>
      <ul className={styles.beginPictures} aria-hidden>
        {PICTURES.map((name) => (
          <li key={name}>
            <img src={`/begin/${name}.jpg`} alt="" width={210} height={140} />
          </li>
        ))}
      </ul>
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
              The made-up archive of the Faroe Harbours Survey: twenty-two years on five practice drives and a card,
              inside this browser. It has a catalog of its own and can be removed at any time.
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
export function DemoLoading() {
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

export function DemoProgress() {
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
