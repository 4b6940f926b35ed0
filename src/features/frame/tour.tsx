'use client';

// The short tour of the demo: five steps, each of which does a real thing, in the order of the work; it ends in front of
// photos. It can be put away at any time.

import { plainly } from '@/core/search/search-record';
import { App, Button } from 'antd';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { z } from 'zod';
import { findAddress } from '@/features/parts/search/use-scope';
import { climb } from '@/features/parts/judging/rate';
import { selectOnly } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { setField } from '@/engine/set-field';
import { keptChoice } from '@/ui/kept-choice';
import styles from './frame.module.css';
import { useSession } from '@/features/parts/session/use-session';

interface Step {
  title: string;
  text: string;
  /** What the button says, and does. Given the way to open an address. */
  act: string;
  do: (open: (address: string) => void) => Promise<void>;
  /** What can be seen now. */
  done: string;
}

const SHOWN = 'Kvirrulýsið';
const DRIVE = 'Harbours 2012–2019';
const COPY = 'Copy, Klaksvík';

async function firstShown(): Promise<string> {
  const { order } = await session.search.search(plainly(SHOWN));
  const first = order.at(0);
  if (first === undefined) throw new Error('the photos of the tour are not cataloged yet; try again in a moment');
  return first;
}

async function driveNamed(wanted: string): Promise<string> {
  const drive = (await session.db.drives.toArray()).find(({ name }) => name === wanted);
  if (!drive) throw new Error(`the drive “${wanted}” is not there; it was renamed or has not been loaded yet`);
  return drive.id;
}

const STEPS: Step[] = [
  {
    title: 'Judge it with one key',
    text: 'The photos of one boat come up. W and S go up and down the ladder of ratings, Q rejects, A and D go to the photos beside it.',
    act: 'Take the first one rung up',
    do: async (open) => {
      open(findAddress(SHOWN));
      const id = await firstShown();
      selectOnly(id);
      await climb([id], 1);
    },
    done: 'The bars on the photo and its record card at the right say so. Ctrl+Z takes it back, as it does everything.',
  },
  {
    title: 'Write while its drive is away',
    text: `These photos lie on the drive “${DRIVE}”. Unplug it, and give the first one a title all the same.`,
    act: 'Unplug it and write',
    do: async (open) => {
      open(findAddress(SHOWN));
      const id = await firstShown();
      await session.drives.setTakenOut(await driveNamed(DRIVE), true);
      selectOnly(id);
      await setField('title', 'Seen on the tour', [id]);
    },
    done: 'The photos stay in sight. What you wrote waits in the outbox: “to write”, at the top.',
  },
  {
    title: 'Put the drive in again',
    text: 'The outbox is emptied as soon as the drive is there.',
    act: 'Plug it in',
    do: async () => session.drives.setTakenOut(await driveNamed(DRIVE), false),
    done: 'The title stands in a sidecar beside the photo now, in an open format, with or without Wembo.',
  },
  {
    title: 'Verify a copy',
    text: `“${COPY}” holds second copies. A check reads every byte of it and holds it against the checksums.`,
    act: 'Check the copy',
    do: async (open) => {
      await session.startCheck(await driveNamed(COPY));
      open('/safekeep');
    },
    done: 'It will find one damaged file and some that are missing or were moved: the troubles of a real archive, put there on purpose.',
  },
  {
    title: 'Find a picture again',
    text: 'Type what you remember into the line at the top. Captions, names, keywords and places are all looked through; accents and capitals do not matter.',
    act: `Search for ${SHOWN}`,
    do: async (open) => open(findAddress(SHOWN)),
    done: 'The photos of one boat, out of twenty-two years; the sheet of years above shows when they were taken. Look around: ? shows all keys, and whatever you do can be taken back.',
  },
];

const OVER = STEPS.length;

const useTour = keptChoice<{ step: number }>('wembo-tour-step', z.object({ step: z.int().min(0) }), { step: 0 });

const goTo = (step: number): void => useTour.setState({ step });

export const startTour = (): void => goTo(0);

export function Tour() {
  const { step } = useTour();
  const ready = useSession((state) => state.demo.state === 'loaded');
  const now = STEPS[step];
  return now && ready ? <Card key={step} number={step} step={now} /> : null;
}

function Card({ number, step }: { number: number; step: Step }) {
  const { message } = App.useApp();
  const router = useRouter();
  const [state, setState] = useState<'before' | 'busy' | 'done'>('before');
  const act = async () => {
    setState('busy');
    try {
      await step.do((address) => router.push(address));
      setState('done');
    } catch (error) {
      setState('before');
      message.warning(`This step did not work: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  return (
    <section className={styles.tour} aria-label="Tour of the demo">
      <header>
        <h2>{step.title}</h2>
        <span className="mono">
          {number + 1} of {STEPS.length}
        </span>
      </header>
      <p aria-live="polite">{state === 'done' ? step.done : step.text}</p>
      <footer>
        <Button size="small" type="text" onClick={() => goTo(OVER)}>
          {number + 1 < STEPS.length ? 'Skip the tour' : 'Close'}
        </Button>
        {state !== 'done' && (
          <Button size="small" type="primary" loading={state === 'busy'} onClick={() => void act()}>
            {step.act}
          </Button>
        )}
        {state === 'done' && (
          <Button size="small" type="primary" onClick={() => goTo(number + 1)}>
            {number + 1 < STEPS.length ? 'Next' : 'Done'}
          </Button>
        )}
      </footer>
    </section>
  );
}
