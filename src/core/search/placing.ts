// What matching photos to tracks needs to know of them: their clocks, by camera and shoot, and the positions they have.

import { capturedIn, wordsIn } from '../fields/values';
import type { LatLon } from '../geo/position';
import { clockId } from '../locate/kept';
import { accessionOf, numberAmong } from '../take-in/accession';
import type { Columns } from './columns';
import type { SearchRecord } from './search-record';

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

export function placingOf(slots: Uint32Array, records: readonly (SearchRecord | null)[], columns: Pick<Columns, 'lat' | 'lon'>): Placing {
  const numbers = new Map<string, number>();
  const groups: ClockGroup[] = [];
  const photos = Array.from(slots, (slot) => ({ slot, record: records[slot] })).filter((one): one is { slot: number; record: SearchRecord } => Boolean(one.record));
  const groupOf = Uint32Array.from(photos, ({ record }) => {
    const shoot = shootOf(record);
    const id = clockId(record.shot.body, shoot);
    const known = numbers.get(id);
    if (known !== undefined) return known;
    numbers.set(id, groups.length);
    return groups.push({ id, camera: record.camera, body: record.shot.body, shoot }) - 1;
  });
  const column = <T>(of: (one: { slot: number; record: SearchRecord }) => T): T[] => photos.map(of);
  return {
    ids: column(({ record }) => record.id), names: column(({ record }) => record.names[0] ?? ''), groupOf, groups,
    captured: column(({ record }) => {
      const captured = capturedIn(record.fields);
      return captured && captured.written.length >= 19 ? `${captured.written}${captured.offset ?? ''}` : '';
    }),
    lat: Float64Array.from(photos, ({ slot }) => columns.lat[slot] ?? NaN),
    lon: Float64Array.from(photos, ({ slot }) => columns.lon[slot] ?? NaN),
  };
}

function shootOf(record: SearchRecord): string {
  const number = numberAmong(wordsIn(record.fields.identifier));
  return number === null ? (record.folders[0] ?? '') : accessionOf(number);
}
