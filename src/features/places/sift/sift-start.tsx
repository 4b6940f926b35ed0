'use client';

// Where sifting begins: over what, which question; the rounds that were begun; and the rejected, with the three ways
// for them to go.

import { Button, Input, Popconfirm, Select } from 'antd';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { countOf } from '@/core/search/search-record';
import { RUNGS } from '@/core/sift/judging';
import { type Round, TOP_RUNG, lifted, sumsOf } from '@/core/sift/round';
import { withTerm } from '@/core/query/write-scope';
import { count, dateTime, photos } from '@/ui/format';
import type { SearchAnswer } from '@/workers/search-client';
import { beginRemoval } from '@/features/parts/judging/removal-plan';
import { Ladder, useLadder } from '@/features/parts/judging/ladder';
import { MarkerChoice } from '@/features/parts/judging/marker-choice';
import { findAddress } from '@/features/parts/search/use-scope';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { RoundBar, roundWords } from './round-card';
import styles from './sift.module.css';
import { beginRound, useRounds } from './use-round';

interface Props {
  result: SearchAnswer;
  scope: string;
  onRound: (roundId: string) => void;
  onThrough: () => void;
}

type Over = 'scope' | 'selection' | 'reached';

export function SiftStart({ result, scope, onRound, onThrough }: Props) {
  const rounds = useRounds();
  const router = useRouter();
  return (
    <div className={styles.startPlace}>
      <div className={styles.start}>
        <h1>Sift</h1>
        <section className={styles.card} aria-label="Go through">
          <h2>
            {scope === '' ? (
              'All photos'
            ) : (
              <>
                The search <code>{scope}</code>
              </>
            )}
          </h2>
          <p>
            {photos(result.order.length)}, in the order of the search line. Judge each by key, click or drag; nothing
            leaves the row while you do.
          </p>
          <Button type="primary" disabled={result.order.length === 0} onClick={onThrough}>
            Go through {photos(result.order.length)}
          </Button>
        </section>
        <BeginRound result={result} rounds={rounds} onRound={onRound} />
        <section className={styles.card} aria-label="Rounds">
          <h2>Rounds</h2>
          {rounds.length === 0 && (
            <p className="quiet">None begun yet. A round holds a fixed set of photos and asks one question of each.</p>
          )}
          <ul className={styles.rounds}>
            {rounds.map((round) => (
              <RoundLine key={round.id} round={round} onRound={onRound} />
            ))}
          </ul>
        </section>
        <Rejected result={result} scope={scope} />
      </div>
      <aside className={styles.side} aria-label="Judging">
        <Ladder
          counts={(rung) => countOf(result.ladder, rung)}
          present={null}
          preview={null}
          onRung={(rung) => router.push(findAddress(withTerm(scope, 'rating', String(rung))))}
        />
        <MarkerChoice ids={() => []} label="" naming={false} />
      </aside>
    </div>
  );
}

function BeginRound({ result, rounds, onRound }: Pick<Props, 'result' | 'onRound'> & { rounds: Round[] }) {
  const selected = useSelection((state) => state.ids.size);
  const [over, setOver] = useState<Over>('scope');
  const [rung, setRung] = useState(1);
  const [name, setName] = useState('');
  const { meanings } = useLadder();
  const { order, ratings } = result;
  const reached = ratings.reduce((sum, rating) => sum + (rating >= rung - 1 && rating > 0 ? 1 : 0), 0);
  const numbers: Record<Over, number> = { scope: order.length, selection: selected, reached };
  const usual = `Round ${rounds.length + 1}`;
  const begin = async () => {
    const all = order.all();
    const ids =
      over === 'scope'
        ? all
        : over === 'selection'
          ? inOrder(all)
          : all.filter((_, position) => (ratings[position] ?? 0) >= rung - 1 && (ratings[position] ?? 0) > 0);
    const id = await beginRound(name.trim() || usual, rung, ids, null);
    if (id !== null) onRound(id);
  };
  return (
    <section className={styles.card} aria-label="Begin a round">
      <h2>Begin a round</h2>
      <div className={styles.form}>
        <label>
          Over{' '}
          <Select<Over>
            aria-label="Over"
            value={over}
            onChange={setOver}
            popupMatchSelectWidth={false}
            options={[
              { value: 'scope', label: `the search (${count(numbers.scope)})` },
              { value: 'selection', label: `the selection (${count(numbers.selection)})`, disabled: selected === 0 },
              {
                value: 'reached',
                label: `what stands on rung ${Math.max(1, rung - 1)} or higher (${count(numbers.reached)})`,
                disabled: reached === 0,
              },
            ]}
          />
        </label>
        <label>
          Does it reach{' '}
          <Select
            aria-label="Rung asked for"
            value={rung}
            onChange={setRung}
            popupMatchSelectWidth={false}
            options={RUNGS.filter((one) => one > 0)
              .toReversed()
              .map((one) => ({ value: one, label: `rung ${one}${meanings[one] ? `: ${meanings[one]}` : ''}` }))}
          />
        </label>
        <label>
          Called{' '}
          <Input
            aria-label="Name of the round"
            value={name}
            placeholder={usual}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <Button type="primary" disabled={numbers[over] === 0} onClick={() => void begin()}>
          Begin over {photos(numbers[over])}
        </Button>
      </div>
    </section>
  );
}

/** The selection in the order of the scope; what is not in it comes after. */
function inOrder(all: string[]): string[] {
  const { ids } = useSelection.getState();
  const within = all.filter((id) => ids.has(id));
  const shown = new Set(within);
  return [...within, ...[...ids].filter((id) => !shown.has(id))];
}

function RoundLine({ round, onRound }: { round: Round; onRound: (id: string) => void }) {
  const sums = sumsOf(round);
  const next = async () => {
    const id = await beginRound(`${round.name}, then`, Math.min(TOP_RUNG, round.rung + 1), lifted(round), round.id);
    if (id !== null) onRound(id);
  };
  return (
    <li className={styles.roundLine}>
      <div>
        <strong>{round.name}</strong>{' '}
        <span className="quiet">
          to rung {round.rung}, begun {dateTime(round.startedAt)}
        </span>
        <RoundBar round={round} />
        <span className={styles.roundSums}>{roundWords(round)}</span>
      </div>
      <div className={styles.roundActs}>
        <Button size="small" type={sums.undecided > 0 ? 'primary' : 'default'} onClick={() => onRound(round.id)}>
          {sums.undecided === 0 ? 'Look at it again' : sums.done === 0 ? 'Begin' : 'Take it up again'}
        </Button>
        {sums.up > 0 && round.rung < TOP_RUNG && (
          <Button size="small" onClick={() => void next()}>
            Next over {count(sums.up)}
          </Button>
        )}
        <Popconfirm
          title="Remove this round? The ratings it gave stay."
          okText="Remove"
          onConfirm={() => void session.changeKept('rounds', round, { deleted: true })}
        >
          <Button size="small" type="text" aria-label={`Remove ${round.name}`}>
            ×
          </Button>
        </Popconfirm>
      </div>
    </li>
  );
}

/** All that is rejected in the scope. */
function Rejected({ result, scope }: { result: SearchAnswer; scope: string }) {
  const number = countOf(result.ladder, -1);
  const ids = () => result.order.all().filter((_, position) => result.ratings[position] === -1);
  return (
    <section className={styles.card} aria-label="Rejected">
      <h2>Rejected</h2>
      <p>
        {number === 0
          ? 'Nothing in this search is rejected.'
          : `${photos(number)} of the search ${number === 1 ? 'is' : 'are'} rejected. Nothing happens by that: what is rejected can be set aside, taken out of the catalog, or later erased; three acts, each told before it is done.`}
      </p>
      {number > 0 && (
        <div className={styles.row}>
          <a href={findAddress(withTerm(scope, 'rating', '-1'))}>
            <Button size="small">Look at them</Button>
          </a>
          <Button size="small" onClick={() => void beginRemoval(ids())}>
            Remove {photos(number)}…
          </Button>
        </div>
      )}
    </section>
  );
}
