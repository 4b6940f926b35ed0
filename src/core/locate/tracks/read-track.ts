// A track file of any kind we know, from its bytes: told apart by what stands in it, not by its name.

import { decodeUtf8, decodeUtf16 } from '../../bytes/text';
import type { TrackProblem } from '../../problems/problem';
import { decodeTable } from '../../text/delimited';
import { readGeoJson } from './geojson-track';
import { readNmea } from './nmea';
import { readTableTrack } from './table-track';
import type { TrackReading } from './track';
import { readXmlTrack } from './xml-tracks';

export type TrackFile =
  /** `problem` where the file breaks off or goes wrong after points that could be read. */
  | { state: 'read'; kind: TrackKind; reading: TrackReading; problem: TrackProblem | null }
  | { state: 'unreadable'; problem: TrackProblem };

export type TrackKind = 'gpx' | 'kml' | 'geojson' | 'nmea' | 'table';

export const TRACK_BYTES_LIMIT = 512 * 1024 * 1024;

/** Names by which a folder's files are taken for tracks; a table or plain JSON only when a person hands it over. */
export const isTrackName = (name: string): boolean => /\.(gpx|kml|nmea|geojson)$/i.test(name);

export function readTrack(bytes: Uint8Array): TrackFile {
  if (bytes.length > TRACK_BYTES_LIMIT)
    return { state: 'unreadable', problem: { code: 'too-large', bytes: bytes.length, limit: TRACK_BYTES_LIMIT } };
  const text = (decodeUtf8(bytes) ?? decodeUtf16(bytes) ?? decodeTable(bytes)).replace(/^\uFEFF/, '');
  const head = text.slice(0, 2000).trimStart();
  if (head.startsWith('<')) return xmlFile(text);
  if (/^[{[]/.test(head)) return judged('geojson', readGeoJson(text));
  if (
    /^(?:!.*|\$[A-Z]{2,}.*|#.*|\s*)(?:\r?\n|$)/m.test(head.split('\n', 1)[0] ?? '') &&
    /\$[A-Z]{2}(?:RMC|GGA),/i.test(text)
  )
    return judged('nmea', readNmea(text));
  return judged('table', readTableTrack(text));
}

function xmlFile(text: string): TrackFile {
  const { reading, problem } = readXmlTrack(text);
  if (problem?.reason === 'doctype') return { state: 'unreadable', problem: { code: 'doctype' } };
  if (problem?.reason === 'other-root') return { state: 'unreadable', problem: { code: 'not-a-track' } };
  const broken: TrackProblem | null = problem ? { code: 'not-well-formed', detail: problem.detail } : null;
  if (reading.track.utc.length === 0)
    return {
      state: 'unreadable',
      problem: broken ?? { code: 'no-timed-points', withoutTime: reading.dropped.withoutTime },
    };
  return {
    state: 'read',
    kind: /<(?:\w+:)?kml\b/i.test(text.slice(0, 4000)) ? 'kml' : 'gpx',
    reading,
    problem: broken,
  };
}

function judged(kind: TrackKind, reading: TrackReading | null): TrackFile {
  if (!reading) return { state: 'unreadable', problem: { code: 'not-a-track' } };
  if (reading.track.utc.length === 0)
    return { state: 'unreadable', problem: { code: 'no-timed-points', withoutTime: reading.dropped.withoutTime } };
  return { state: 'read', kind, reading, problem: null };
}
