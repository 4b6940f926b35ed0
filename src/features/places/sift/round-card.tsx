'use client';

// A round beside the picture: what it asks, how far it is, and what went which way.

import { Button, Checkbox } from 'antd';
import { TOP_RUNG, type RoundDecision, type Round, sumsOf } from '@/core/sift/round';
import { count } from '@/ui/format';
import { useLadder } from '@/features/parts/judging/ladder';
import styles from './sift.module.css';

export interface RoundChoices {
  /** After a decision, to the next one that is not decided. */
  goOn: boolean;
  /** What is decided leaves the strip at once. */
  leaving: boolean;
}

interface Props {
  round: Round;
  photoId: string | null;
  choices: RoundChoices;
  onChoices: (choices: Partial<RoundChoices>) => void;
  onDecide: (decision: RoundDecision) => void;
  onLeave: () => void;
  onNext: () => void;
}

export function RoundCard({ round, photoId, choices, onChoices, onDecide, onLeave, onNext }: Props) {
  const meaning = useLadder().meanings[round.rung];
  const sums = sumsOf(round);
  const now = photoId === null ? undefined : round.decided[photoId]?.decision;
  const over = sums.undecided === 0;
  return (
    <section className={styles.roundCard} aria-label="Round">
      <h2>{round.name}</h2>
      <p className={styles.question}>
        Does it reach rung {round.rung}
        {meaning ? `: “${meaning}”` : ''}?
      </p>
      <RoundBar round={round} />
      <p className={styles.roundSums} role="status">
        {roundWords(round)}
      </p>
      <div className={styles.decisions}>
        <Button type={now === 'up' ? 'primary' : 'default'} onClick={() => onDecide('up')} aria-pressed={now === 'up'}>
          Up <kbd>W</kbd>
        </Button>
        <Button
          type={now === 'leave' ? 'primary' : 'default'}
          onClick={() => onDecide('leave')}
          aria-pressed={now === 'leave'}
        >
          Stay <kbd>S</kbd>
        </Button>
        <Button
          type={now === 'reject' ? 'primary' : 'default'}
          onClick={() => onDecide('reject')}
          aria-pressed={now === 'reject'}
        >
          Reject <kbd>Q</kbd>
        </Button>
      </div>
      <Checkbox checked={choices.goOn} onChange={(event) => onChoices({ goOn: event.target.checked })}>
        on to the next after each
      </Checkbox>
      <Checkbox checked={choices.leaving} onChange={(event) => onChoices({ leaving: event.target.checked })}>
        hide what is decided
      </Checkbox>
      <div className={styles.roundEnd}>
        {over && sums.up > 0 && round.rung < TOP_RUNG && (
          <Button type="primary" onClick={onNext}>
            Next round over the {count(sums.up)} that went up
          </Button>
        )}
        <Button onClick={onLeave}>{over ? 'Close' : 'Pause the round'}</Button>
      </div>
    </section>
  );
}

/** Done and still to do, and which way; together they make all. */
export function roundWords(round: Round): string {
  const { all, done, undecided, up, left, rejected, share } = sumsOf(round);
  return `${count(done)} of ${count(all)} done, ${count(undecided)} to do · ${count(up)} up (${(100 * share).toFixed(1)} %), ${count(left)} stay, ${count(rejected)} rejected`;
}

export function RoundBar({ round }: { round: Round }) {
  const { all, up, left, rejected } = sumsOf(round);
  const part = (number: number) => ({ width: `${(100 * number) / Math.max(1, all)}%` });
  return (
    <div className={styles.roundBar} aria-hidden>
      <i data-way="up" style={part(up)} />
      <i data-way="left" style={part(left)} />
      <i data-way="rejected" style={part(rejected)} />
    </div>
  );
}
