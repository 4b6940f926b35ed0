// Which clock difference explains the photos best. Two kinds of evidence: photos of the camera that have a position by
// other means, which should lie on the track at their time; and the stops of the track, since people stand still to
// take pictures.
//
// All differences within a day and two hours either way are tried: first in steps, then finer around the best. The
// answer says how sure it is: how much worse the best difference elsewhere would be.

import type { LatLon } from '../geo/position';
import { distanceM } from '../geo/sphere';
import type { Track } from './tracks/track';
import { TrackMatcher } from './match';
import { segmentsOf, pointAt } from './tracks/track';

/** A camera set to the wrong day is found by its date, not here; zones reach from −12 to +14 hours. */
const REACH_SECONDS = 26 * 3600;
const STEP_SECONDS = 10;
/** A second best nearer than this is the same answer. */
const APART_SECONDS = 180;
const GAP_SECONDS = 900;
/** More photos than these say nothing more. */
const PHOTOS_LIMIT = 80;

export interface Fit {
  differenceSeconds: number;
  by: 'positions' | 'stops';
  /** Photos that the difference explains, of those that were asked. */
  explained: number;
  asked: number;
  /** 0 (another difference explains as much) to 1. */
  sureness: number;
  /** By positions: how far the photos lie from the track, the median, in metres. */
  medianM: number | null;
}

export interface PlacedInTime extends LatLon {
  /** What the camera's clock showed, as seconds UTC by its zone without a difference. */
  utcSeconds: number;
}

/** From photos whose place is known; needs two at least that the track explains. */
export function fitByPositions(photos: readonly PlacedInTime[], tracks: readonly Track[]): Fit | null {
  const asked = spread(photos, PHOTOS_LIMIT);
  const matcher = new TrackMatcher(tracks);
  /** Near is good without limit; past 200 m a photo counts as not explained. */
  const cost = (difference: number) => {
    let sum = 0;
    for (const photo of asked) {
      const found = matcher.at(photo.utcSeconds + difference, GAP_SECONDS);
      sum += found.state === 'matched' ? Math.min(200, distanceM(photo, found.position)) : 200;
    }
    return sum / asked.length;
  };
  if (asked.length < 2) return null;
  const { best, second, bestCost, secondCost } = search(cost, usefulRange(asked, tracks), false);
  if (best === null) return null;
  const distances = asked
    .flatMap((photo) => {
      const found = matcher.at(photo.utcSeconds + best, GAP_SECONDS);
      return found.state === 'matched' ? [distanceM(photo, found.position)] : [];
    })
    .sort((a, b) => a - b);
  const explained = distances.filter((metres) => metres < 100).length;
  if (explained < 2) return null;
  return {
    differenceSeconds: best,
    by: 'positions',
    explained,
    asked: asked.length,
    sureness: second === null ? 1 : surenessOf(bestCost, secondCost),
    medianM: distances[Math.floor(distances.length / 2)] ?? null,
  };
}

/** From the stops of the track; needs ten photos, and a track with both stops and ways. */
export function fitByStops(utcSeconds: readonly number[], tracks: readonly Track[]): Fit | null {
  const asked = spread(utcSeconds, PHOTOS_LIMIT);
  if (asked.length < 10) return null;
  const speeds = new SpeedGrid(tracks);
  const cost = (difference: number) => {
    let sum = 0;
    for (const at of asked) sum += speeds.cost(at + difference);
    return sum / asked.length;
  };
  const { best, second, bestCost, secondCost } = search(
    cost,
    usefulRange(
      asked.map((at) => ({ utcSeconds: at })),
      tracks,
    ),
    true,
  );
  if (best === null) return null;
  const explained = asked.filter((at) => speeds.cost(at + best) < 0.3).length;
  return {
    differenceSeconds: best,
    by: 'stops',
    explained,
    asked: asked.length,
    sureness: second === null ? 1 : surenessOf(bestCost, secondCost),
    medianM: null,
  };
}

const surenessOf = (best: number, second: number): number =>
  second <= 0 ? 0 : Math.max(0, Math.min(1, 1 - best / second));

function spread<T>(items: readonly T[], limit: number): T[] {
  if (items.length <= limit) return [...items];
  return Array.from({ length: limit }, (_, at) => items[Math.floor((at * items.length) / limit)] as T);
}

/** The differences at which any photo meets the track at all. */
function usefulRange(photos: readonly { utcSeconds: number }[], tracks: readonly Track[]): [from: number, to: number] {
  let [first, last] = [Infinity, -Infinity];
  for (const track of tracks)
    for (const [from, to] of segmentsOf(track))
      [first, last] = [Math.min(first, track.utc[from] ?? Infinity), Math.max(last, track.utc[to - 1] ?? -Infinity)];
  let [early, late] = [Infinity, -Infinity];
  for (const { utcSeconds } of photos) [early, late] = [Math.min(early, utcSeconds), Math.max(late, utcSeconds)];
  return [
    Math.max(-REACH_SECONDS, Math.floor(first - late - GAP_SECONDS)),
    Math.min(REACH_SECONDS, Math.ceil(last - early + GAP_SECONDS)),
  ];
}

interface Searched {
  best: number | null;
  second: number | null;
  bestCost: number;
  secondCost: number;
}

interface Tried {
  difference: number;
  cost: number;
}

/**
 * Of equal costs the difference nearest to none is taken. Differences around it that explain as much, without a worse
 * one between, are the same answer.
 */
function search(cost: (difference: number) => number, [from, to]: [number, number], middleOfEquals: boolean): Searched {
  const tried: Tried[] = [];
  for (let difference = Math.ceil(from / STEP_SECONDS) * STEP_SECONDS; difference <= to; difference += STEP_SECONDS)
    tried.push({ difference, cost: cost(difference) });
  const top = tried.reduce<Tried | null>((best, one) => (best && lower(best, one) <= 0 ? best : one), null);
  if (!top) return { best: null, second: null, bestCost: 0, secondCost: 0 };
  const [low, high] = asGoodAs(top, tried);
  const isApart = ({ difference }: Tried) => difference < low - APART_SECONDS || difference > high + APART_SECONDS;
  const second = tried.filter(isApart).sort(lower)[0] ?? null;
  const best = middleOfEquals ? { ...top, difference: Math.round((low + high) / 2) } : toTheSecond(top, cost);
  return {
    best: best.difference,
    second: second?.difference ?? null,
    bestCost: best.cost,
    secondCost: second?.cost ?? 0,
  };
}

const lower = (a: Tried, b: Tried): number => a.cost - b.cost || Math.abs(a.difference) - Math.abs(b.difference);

/** The differences around the best that cost hardly more, without a worse one between. */
function asGoodAs(top: Tried, tried: readonly Tried[]): [low: number, high: number] {
  const worst = tried.reduce((most, one) => Math.max(most, one.cost), 0);
  const asGood = top.cost + (worst - top.cost) * 0.02;
  const costAt = (at: number) => tried[at]?.cost ?? Infinity;
  let [left, right] = [tried.indexOf(top), tried.indexOf(top)];
  while (costAt(left - 1) <= asGood) left--;
  while (costAt(right + 1) <= asGood) right++;
  return [tried[left]?.difference ?? 0, tried[right]?.difference ?? 0];
}

/** Second by second, between the differences that were tried on either side. */
function toTheSecond(top: Tried, cost: (difference: number) => number): Tried {
  let best = top;
  for (let difference = top.difference - STEP_SECONDS; difference <= top.difference + STEP_SECONDS; difference++) {
    const one = { difference, cost: cost(difference) };
    if (lower(one, best) < 0) best = one;
  }
  return best;
}

/** How fast the receiver went, every ten seconds: 0 standing, 1 moving or not known. */
class SpeedGrid {
  private readonly first: number;
  private readonly moving: Float32Array;
  private static readonly CELL_SECONDS = 10;
  /** Slower than this is standing: a receiver at rest wanders (common practice, 0.3 to 0.5 m/s). */
  private static readonly STANDING_M_PER_S = 0.35;
  /** Half a minute either way, so that one wandering fix makes no way. */
  private static readonly WINDOW_SECONDS = 30;

  constructor(tracks: readonly Track[]) {
    const ends = tracks.flatMap((track) =>
      segmentsOf(track).flatMap(([from, to]) => [track.utc[from] ?? 0, track.utc[to - 1] ?? 0]),
    );
    this.first = Math.min(...ends);
    const cells =
      ends.length === 0
        ? 0
        : Math.min(2_000_000, Math.ceil((Math.max(...ends) - this.first) / SpeedGrid.CELL_SECONDS) + 1);
    this.moving = new Float32Array(cells).fill(1);
    for (const track of tracks) for (const [from, to] of segmentsOf(track)) this.fill(track, from, to);
  }

  private fill(track: Track, from: number, to: number): void {
    const { utc } = track;
    let [back, ahead] = [from, from];
    for (
      let cell = Math.ceil(((utc[from] ?? 0) - this.first) / SpeedGrid.CELL_SECONDS);
      cell < this.moving.length;
      cell++
    ) {
      const at = this.first + cell * SpeedGrid.CELL_SECONDS;
      if (at > (utc[to - 1] ?? 0)) break;
      while (back + 1 < to && (utc[back + 1] ?? 0) <= at - SpeedGrid.WINDOW_SECONDS) back++;
      while (ahead + 1 < to && (utc[ahead] ?? 0) < at + SpeedGrid.WINDOW_SECONDS) ahead++;
      const seconds = (utc[ahead] ?? 0) - (utc[back] ?? 0);
      if (seconds <= 0 || seconds > GAP_SECONDS) continue;
      const speed = distanceM(pointAt(track, back), pointAt(track, ahead)) / seconds;
      this.moving[cell] = Math.min(1, speed / (2 * SpeedGrid.STANDING_M_PER_S));
    }
  }

  cost(utcSeconds: number): number {
    return this.moving[Math.round((utcSeconds - this.first) / SpeedGrid.CELL_SECONDS)] ?? 1;
  }
}
