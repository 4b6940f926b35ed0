import { describe, expect, it } from 'vitest';
import { type RoundDecision, type Round, decideInRound, lifted, nextUndecided, sumsOf } from './round';

const round = (photoIds: string[], rung = 1): Round => ({
  id: 'r',
  name: 'First',
  rung,
  photoIds,
  decided: {},
  startedAt: 0,
  after: null,
  updatedAt: 0,
  deleted: false,
});
const frames = (count: number) => Array.from({ length: count }, (_, index) => String(index));

/** Judges every photo of a round; the ratings are changed with it. */
function judge(of: Round, ratings: Map<string, number>, decisionOf: (index: number) => RoundDecision | null): Round {
  const decided: Round['decided'] = { ...of.decided };
  of.photoIds.forEach((id, index) => {
    const decision = decisionOf(index);
    if (!decision) return;
    const { entry, rating } = decideInRound({ rung: of.rung, decided }, id, decision, ratings.get(id) ?? 0);
    if (entry) decided[id] = entry;
    ratings.set(id, rating);
  });
  return { ...of, decided };
}

describe('three rounds over 85 frames', () => {
  it('leave 62, then 26, then 9; shown and hidden make 85 each time (common practice)', () => {
    const ratings = new Map<string, number>();
    const first = judge(round(frames(85)), ratings, (index) => (index < 62 ? 'up' : 'leave'));
    const second = judge(round(lifted(first), 2), ratings, (index) => (index < 26 ? 'up' : 'leave'));
    const third = judge(round(lifted(second), 3), ratings, (index) =>
      index < 9 ? 'up' : index < 12 ? 'reject' : null,
    );
    expect(sumsOf(first)).toEqual({ all: 85, done: 85, undecided: 0, up: 62, left: 23, rejected: 0, share: 62 / 85 });
    expect(sumsOf(second)).toMatchObject({ all: 62, up: 26, left: 36 });
    expect(sumsOf(third)).toMatchObject({ all: 26, done: 12, undecided: 14, up: 9, rejected: 3 });
    const atLeast = (rung: number) => [...ratings.values()].filter((rating) => rating >= rung).length;
    expect([atLeast(2), 85 - atLeast(2)]).toEqual([23, 62]); // 26 of them, less 3 rejected since
    expect([atLeast(3), 85 - atLeast(3)]).toEqual([9, 76]);
  });

  it('18 of 131 are 13.7 %, 32 of 936 are 3.4 % (common practice)', () => {
    const share = (up: number, all: number) =>
      (100 * sumsOf(judge(round(frames(all)), new Map(), (index) => (index < up ? 'up' : 'leave'))).share).toFixed(1);
    expect([share(18, 131), share(32, 936)]).toEqual(['13.7', '3.4']);
  });
});

describe('a decision', () => {
  it('lifts to the rung of the round, never lowers, and leaves what was there', () => {
    expect(decideInRound(round(['a'], 2), 'a', 'up', 1)).toEqual({ entry: { decision: 'up', was: 1 }, rating: 2 });
    expect(decideInRound(round(['a'], 2), 'a', 'up', 4).rating).toBe(4);
    expect(decideInRound(round(['a'], 2), 'a', 'leave', 1)).toEqual({
      entry: { decision: 'leave', was: 1 },
      rating: 1,
    });
    expect(decideInRound(round(['a'], 2), 'a', 'reject', 3).rating).toBe(-1);
  });

  it('changed, starts from what was there before the round; made twice, is taken back', () => {
    const rejected = { ...round(['a'], 2), decided: { a: { decision: 'reject' as const, was: 1 } } };
    expect(decideInRound(rejected, 'a', 'leave', -1)).toEqual({ entry: { decision: 'leave', was: 1 }, rating: 1 });
    expect(decideInRound(rejected, 'a', 'up', -1)).toEqual({ entry: { decision: 'up', was: 1 }, rating: 2 });
    expect(decideInRound(rejected, 'a', 'reject', -1)).toEqual({ entry: null, rating: 1 });
  });
});

describe('what comes next', () => {
  const some = {
    ...round(frames(5)),
    decided: {
      0: { decision: 'up' as const, was: 0 },
      2: { decision: 'leave' as const, was: 0 },
      4: { decision: 'reject' as const, was: 0 },
    },
  };

  it('is the next one not judged, round the end to the beginning', () => {
    expect([
      nextUndecided(some, null),
      nextUndecided(some, '1'),
      nextUndecided(some, '2'),
      nextUndecided(some, '4'),
    ]).toEqual(['1', '1', '3', '1']);
    expect(nextUndecided({ photoIds: ['0'], decided: some.decided }, null)).toBeNull();
    expect(nextUndecided(round([]), null)).toBeNull();
  });
});
