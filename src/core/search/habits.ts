// How a person photographs: focal lengths, apertures, sensitivities, hours of the day, and how much of each shoot was
// kept. One pass over the photos.

import type { SearchContext } from './search-context';

/** Photos of a range of values. */
export interface HabitBin {
  /** Inclusive. */
  from: number;
  /** Exclusive; `Infinity` for all above. */
  to: number;
  photos: number;
}

/** Of one accession. */
export interface ShootKept {
  accession: string;
  photos: number;
  /** Rated one or higher. */
  kept: number;
  rejected: number;
  unrated: number;
}

export interface Habits {
  /** By millimetres, as the camera wrote them. */
  focal: HabitBin[];
  /** By the full stop that is nearest. */
  apertures: HabitBin[];
  iso: HabitBin[];
  /** By the hour of the camera's clock, 0 to 23. */
  hours: number[];
  /** In the order of their numbers. */
  shoots: ShootKept[];
}

/** Where lenses change their character: common practice. */
const FOCAL_EDGES = [0, 18, 24, 35, 50, 70, 105, 200, 400, Infinity];
/** Half a stop below each full one: f/1 is 2^0, and each stop is a factor of √2. */
const APERTURE_EDGES = Array.from({ length: 13 }, (_, stop) => Math.SQRT2 ** (stop - 0.5));
/** Half a step of sensitivity below 50, 100, 200 …: each is twice the one before. */
const ISO_EDGES = Array.from({ length: 14 }, (_, step) => 50 * 2 ** (step - 0.5));

const HOUR_SECONDS = 3600;

export function habitsOf(slots: Uint32Array, { columns }: SearchContext): Habits {
  const hours = new Array<number>(24).fill(0);
  const [day, second] = [columns.column('day'), columns.column('second')];
  for (let at = 0; at < slots.length; at++) {
    const slot = slots[at] as number;
    // what is dated to the day alone has no hour
    if (day[slot] === 0 || Number.isNaN(columns.column('clock')[slot])) continue;
    const hour = Math.trunc((second[slot] as number) / HOUR_SECONDS);
    if (hour >= 0 && hour < 24) hours[hour] = (hours[hour] as number) + 1;
  }
  return {
    focal: binned(slots, columns.column('focal'), FOCAL_EDGES),
    apertures: binned(slots, columns.column('fNumber'), [...APERTURE_EDGES, Infinity]),
    iso: binned(slots, columns.column('iso'), [...ISO_EDGES, Infinity]),
    hours,
    shoots: shootsOf(slots, columns),
  };
}

/** Without the empty ones at either end. */
function binned(slots: Uint32Array, column: Float32Array, edges: readonly number[]): HabitBin[] {
  const bins: HabitBin[] = edges.slice(0, -1).map((from, at) => ({ from, to: edges[at + 1] as number, photos: 0 }));
  for (let at = 0; at < slots.length; at++) {
    const value = column[slots[at] as number] as number;
    const bin = bins.find(({ from, to }) => value >= from && value < to);
    if (bin) bin.photos += 1;
  }
  const [first, last] = [bins.findIndex(({ photos }) => photos > 0), bins.findLastIndex(({ photos }) => photos > 0)];
  return first < 0 ? [] : bins.slice(first, last + 1);
}

function shootsOf(slots: Uint32Array, columns: SearchContext['columns']): ShootKept[] {
  const [rating, number] = [columns.column('rating'), columns.textColumn('accession')];
  const shoots = new Map<string, ShootKept>();
  for (let at = 0; at < slots.length; at++) {
    const slot = slots[at] as number;
    const text = number.text(slot);
    if (text === '') continue;
    const accession = text.slice(0, text.lastIndexOf('.'));
    const shoot = shoots.get(accession) ?? { accession, photos: 0, kept: 0, rejected: 0, unrated: 0 };
    shoots.set(accession, shoot);
    shoot.photos += 1;
    const rung = rating[slot] as number;
    shoot[rung > 0 ? 'kept' : rung < 0 ? 'rejected' : 'unrated'] += 1;
  }
  return [...shoots.values()].sort((a, b) => (a.accession < b.accession ? -1 : 1));
}
