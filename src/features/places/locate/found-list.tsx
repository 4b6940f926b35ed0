'use client';

import { differenceText } from '@/core/locate/clock';
import type { MatchOutcome } from '@/core/locate/plan-matches';
import type { Placing } from '@/core/search/placing';
import { isoOfSeconds } from '@/core/time/civil';
import { count, positionWords } from '@/ui/format';
import { selectOnly, useSelection } from '@/features/parts/selection/selection';
import styles from './locate.module.css';
import type { Matching } from './use-matching';

/** More are counted, not drawn. */
const SHOWN = 500;

const REASONS = {
  'no-time': 'has no time',
  'no-zone': 'zone of its clock not known',
  'zone-unknown': 'this system does not know the zone',
} as const;

const span = (seconds: number): string => differenceText(seconds).replace(/^\+/, '');

/** How it was found, or why not, in words. */
function wordsOf(outcome: MatchOutcome, { used }: Matching): string {
  if (outcome.state === 'keeps') return 'keeps its position';
  if (outcome.state === 'unmatched') {
    if (outcome.reason !== 'no-point') return REASONS[outcome.reason];
    return outcome.nearestSeconds === null
      ? 'no track is used'
      : `nearest point of a track ${span(outcome.nearestSeconds)} away`;
  }
  const { beforeSeconds, afterSeconds } = outcome;
  const track = used.length > 1 ? `, ${used[outcome.track]?.name ?? ''}` : '';
  const doubt = outcome.doubtful ? '; its clock shows this time twice, or never' : '';
  if (outcome.how === 'nearest')
    return `at the nearest point, ${span(Math.min(beforeSeconds ?? Infinity, afterSeconds ?? Infinity))} away${track}${doubt}`;
  return beforeSeconds === 0
    ? `on a point${track}${doubt}`
    : `between points ${span(beforeSeconds ?? 0)} before and ${span(afterSeconds ?? 0)} after${track}${doubt}`;
}

export function FoundList({
  placing,
  matching,
  kind,
}: {
  placing: Placing;
  matching: Matching;
  kind: MatchOutcome['state'];
}) {
  const selected = useSelection((state) => state.ids);
  const rows = matching.outcomes.flatMap((outcome, at) => (outcome.state === kind ? [{ outcome, at }] : []));
  if (rows.length === 0) return <p className={styles.note}>{EMPTY[kind]}</p>;
  return (
    <ul className={styles.foundRows} aria-label="Photos and what was found">
      {rows.slice(0, SHOWN).map(({ outcome, at }) => {
        const id = placing.ids[at] ?? '';
        return (
          <li key={id}>
            <button type="button" aria-pressed={selected.has(id)} onClick={() => selectOnly(id)}>
              <span className={styles.foundName}>
                <span className="mono">{placing.names[at]}</span>
                {outcome.utcSeconds !== null && (
                  <span className="mono quiet">{isoOfSeconds(outcome.utcSeconds).slice(11)} UTC</span>
                )}
              </span>
              {outcome.state === 'matched' && <span>{positionWords(outcome.position)}</span>}
              <span className="quiet">{wordsOf(outcome, matching)}</span>
            </button>
          </li>
        );
      })}
      {rows.length > SHOWN && <li className="quiet">and {count(rows.length - SHOWN)} more</li>}
    </ul>
  );
}

const EMPTY: Record<MatchOutcome['state'], string> = {
  matched: 'Nothing is matched. Are the tracks of these days there, and the clocks right?',
  keeps: 'No photo of the search keeps a position of its own.',
  unmatched: 'Every photo was matched, or keeps the position it has.',
};
