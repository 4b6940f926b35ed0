// A table with named columns: time (or date and time), latitude, longitude, and an altitude in metres where there is
// one.

import { readTable } from '../../text/delimited';
import { TrackBuilder, type TrackReading } from './track';
import { parseTrackTime } from './times';

const COLUMNS = {
  time: /^(time|timestamp|date ?time|utc|utc ?time|date and time)$/,
  date: /^(date|utc ?date)$/,
  lat: /^(lat|latitude)$/,
  lon: /^(lon|lng|long|longitude)$/,
  altitude: /^(ele|elevation|alt|altitude|height)$/,
} as const;

/** `null` where the columns are not there. */
export function readTableTrack(text: string): TrackReading | null {
  const [head, ...rows] = readTable(text);
  const names = (head ?? []).map((cell) =>
    cell
      .trim()
      .toLowerCase()
      .replaceAll('_', ' ')
      .replace(/\s*[([].*$/, ''),
  );
  const at = (column: keyof typeof COLUMNS) => names.findIndex((name) => COLUMNS[column].test(name));
  const [time, date, lat, lon, altitude] = [at('time'), at('date'), at('lat'), at('lon'), at('altitude')];
  if (lat < 0 || lon < 0 || (time < 0 && date < 0)) return null;
  const builder = new TrackBuilder();
  for (const row of rows) {
    const cell = (index: number) => (index < 0 ? '' : (row[index] ?? '').trim());
    const said = `${date >= 0 && date !== time ? `${cell(date)} ` : ''}${cell(time)}`.trim();
    if (said === '') {
      builder.dropped.withoutTime += 1;
      continue;
    }
    const parsed = parseTrackTime(said);
    if (!parsed) {
      builder.dropped.unreadable += 1;
      continue;
    }
    if (parsed.zoneless) builder.dropped.zoneless += 1;
    const metres = decimal(cell(altitude));
    if (
      !builder.add({
        utc: parsed.utc,
        lat: decimal(cell(lat)),
        lon: decimal(cell(lon)),
        altitudeM: Number.isNaN(metres) ? null : metres,
      })
    )
      break;
  }
  return builder.reading();
}

const decimal = (text: string): number => (/^[-+]?\d+([.,]\d+)?$/.test(text) ? Number(text.replace(',', '.')) : NaN);
