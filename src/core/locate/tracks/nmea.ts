// NMEA 0183 sentences RMC and GGA, of whatever talker, with their checksums (the standard is not public; the sentences
// are described in many receivers' manuals: common practice). RMC gives the date; GGA the altitude above sea level.

import { secondsOfIso } from '../../time/civil';
import { TrackBuilder, type TrackReading } from './track';

const SENTENCE = /^\$[A-Z]{2}(RMC|GGA),([^*]*)(?:\*([0-9A-F]{2}))?\s*$/i;
const HALF_DAY = 43_200;

export function readNmea(text: string): TrackReading {
  const builder = new TrackBuilder();
  let midnight: number | null = null;
  let lastSecond = 0;
  /** Of GGA sentences that came before the RMC of the same second. */
  let heard: { second: number; altitudeM: number | null } | null = null;
  for (const raw of text.split(/\r\n|\n|\r/)) {
    const found = SENTENCE.exec(raw.trim());
    if (!found) continue;
    if (found[3] !== undefined && checksum(raw.trim()) !== Number.parseInt(found[3], 16)) {
      builder.dropped.unreadable += 1;
      continue;
    }
    const cells = (found[2] ?? '').split(',');
    const second = secondOfDay(cells[0]);
    if (second === null) continue;
    if (found[1]?.toUpperCase() === 'RMC') {
      const date = dateOf(cells[8]);
      if (cells[1]?.toUpperCase() !== 'A' || date === null) continue; // no fix
      [midnight, lastSecond] = [date, second];
      const altitudeM = heard?.second === second ? heard.altitudeM : null;
      if (
        !builder.add({ utc: date + second, lat: angle(cells[2], cells[3]), lon: angle(cells[4], cells[5]), altitudeM })
      )
        break;
      continue;
    }
    if (!(Number(cells[5]) > 0)) continue; // no fix
    const altitudeM = cells[8] !== undefined && /^-?\d+(\.\d+)?$/.test(cells[8]) ? Number(cells[8]) : null;
    heard = { second, altitudeM };
    if (midnight === null) continue;
    if (second < lastSecond - HALF_DAY) midnight += 86_400; // past midnight before the next RMC says so
    lastSecond = second;
    const utc = midnight + second;
    if (builder.last?.utc === utc) builder.last.altitudeM ??= altitudeM;
    else if (!builder.add({ utc, lat: angle(cells[1], cells[2]), lon: angle(cells[3], cells[4]), altitudeM })) break;
  }
  return builder.reading();
}

/** All characters between `$` and `*`, exclusive-or. */
function checksum(sentence: string): number {
  let sum = 0;
  for (let at = 1; at < sentence.length && sentence[at] !== '*'; at++) sum ^= sentence.charCodeAt(at);
  return sum;
}

function secondOfDay(cell: string | undefined): number | null {
  const found = /^(\d{2})(\d{2})(\d{2}(?:\.\d+)?)$/.exec(cell ?? '');
  return found ? Number(found[1]) * 3600 + Number(found[2]) * 60 + Number(found[3]) : null;
}

/** `040719`: years from 80 on are of the last century. */
function dateOf(cell: string | undefined): number | null {
  const found = /^(\d{2})(\d{2})(\d{2})$/.exec(cell ?? '');
  return found
    ? secondsOfIso(`${Number(found[3]) >= 80 ? '19' : '20'}${found[3]}-${found[2]}-${found[1]}T00:00:00`)
    : null;
}

/** `6213.62` and `N`. */
function angle(cell: string | undefined, side: string | undefined): number {
  const found = /^(\d{1,3})(\d{2}(?:\.\d+)?)$/.exec(cell ?? '');
  if (!found || !/^[NSEW]$/i.test(side ?? '')) return NaN;
  return (/[SW]/i.test(side ?? '') ? -1 : 1) * (Number(found[1]) + Number(found[2]) / 60);
}
