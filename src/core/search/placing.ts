// What matching photos to tracks needs to know of them: their clocks, by camera and shoot, and the positions they have.

import type { LatLon } from '../geo/position';
import { clockId } from '../locate/kept';
import { accessionOf } from '../take-in/accession';
import { parseCaptured } from '../time/captured';
import type { Columns } from './columns';

/** One camera in one shoot: an accession, else a folder. */
export interface ClockGroup {
  id: string;
  /** Its name as shown, and the body: make, model, serial number. */
  camera: string;
  body: string;
  shoot: string;
}

/** Everything by position in the order taken. */
export interface Placing {
  ids: string[];
  names: string[];
  /** What the clock showed, as written; empty where no time is known. */
  captured: string[];
  /** Index into `groups`. */
  groupOf: Uint32Array;
  groups: ClockGroup[];
  /** Degrees; NaN without a position. */
  lat: Float64Array;
  lon: Float64Array;
}

/** Where the photo at a place of the order is; `null` without a position. */
export function placedAt({ lat, lon }: Pick<Placing, 'lat' | 'lon'>, at: number): LatLon | null {
  const position = { lat: lat[at] ?? NaN, lon: lon[at] ?? NaN };
  return Number.isNaN(position.lat) ? null : position;
}

export function placingOf(slots: Uint32Array, columns: Columns): Placing {
  const numbers = new Map<string, number>();
  const groups: ClockGroup[] = [];
  const [lat, lon] = [columns.column('lat'), columns.column('lon')];
  const groupOf = Uint32Array.from(slots, (slot) => {
    const [body, shoot] = [columns.textColumn('body').text(slot), shootOf(slot, columns)];
    const id = clockId(body, shoot);
    const known = numbers.get(id);
    if (known !== undefined) return known;
    numbers.set(id, groups.length);
    return groups.push({ id, camera: columns.textColumn('camera').text(slot), body, shoot }) - 1;
  });
  return {
    ids: Array.from(slots, (slot) => columns.ids.text(slot)),
    names: Array.from(slots, (slot) => columns.strings('names', slot)[0] ?? ''),
    groupOf,
    groups,
    captured: Array.from(slots, (slot) => {
      const written = columns.field('captured', slot);
      const captured = typeof written === 'string' ? parseCaptured(written) : null;
      return captured && captured.written.length >= 19 ? `${captured.written}${captured.offset ?? ''}` : '';
    }),
    lat: Float64Array.from(slots, (slot) => lat[slot] ?? NaN),
    lon: Float64Array.from(slots, (slot) => lon[slot] ?? NaN),
  };
}

function shootOf(slot: number, columns: Columns): string {
  const number = columns.textColumn('accession').text(slot);
  return number === '' ? (columns.strings('folders', slot)[0] ?? '') : accessionOf(number);
}
