// GPX 1.0 and 1.1 (topografix.com/GPX) and KML 2.2 with gx:Track (OGC 07-147r2 and its extension namespace), read as a
// stream by a strict XML reader that expands no entities of the file. A document type has no place in either and is
// refused.

import { SaxesParser } from 'saxes';
import { TrackBuilder, type TrackReading } from './track';
import { parseTrackTime } from './times';

export type XmlProblem =
  { reason: 'doctype' } | { reason: 'not-well-formed'; detail: string } | { reason: 'other-root'; root: string };

/** Text in one element that we keep; times and coordinates are short, names are cut. */
const TEXT_LIMIT = 10_000;

/** What was read before a problem comes with it: of a file cut short the points up to there. */
export function readXmlTrack(text: string): { reading: TrackReading; problem: XmlProblem | null } {
  const builder = new TrackBuilder();
  const parser = new SaxesParser({ position: false });
  const path: string[] = [];
  let format: GpxReader | KmlReader | null = null;
  let problem: XmlProblem | null = null;
  let full = false;
  let words = '';
  parser.on('doctype', () => (problem ??= { reason: 'doctype' }));
  parser.on('error', ({ message }) => (problem ??= { reason: 'not-well-formed', detail: message.slice(0, 200) }));
  parser.on('opentag', ({ name, attributes }) => {
    const local = localName(name);
    if (path.length === 0) {
      if (local === 'gpx') format = new GpxReader(builder);
      else if (local === 'kml') format = new KmlReader(builder);
      else problem ??= { reason: 'other-root', root: local.slice(0, 40) };
    }
    path.push(local);
    words = '';
    format?.open(local, attributes as Record<string, string>);
  });
  const take = (part: string) => {
    if (words.length < TEXT_LIMIT || format?.wantsAll(path.at(-1) ?? '')) words += part;
  };
  parser.on('text', take);
  parser.on('cdata', take);
  parser.on('closetag', () => {
    const local = path.pop() ?? '';
    if (format && !format.close(local, words.trim(), path.at(-1) ?? '')) full = true;
    words = '';
  });
  const STEP = 1 << 20;
  for (let at = 0; at < text.length && !problem && !full; at += STEP) parser.write(text.slice(at, at + STEP));
  if (!problem && !full) parser.close();
  return { reading: builder.reading(), problem };
}

const localName = (name: string): string => name.slice(name.indexOf(':') + 1);

const metres = (text: string | null): number | null =>
  text !== null && /^[-+]?\d+(\.\d+)?(e[-+]?\d+)?$/i.test(text) ? Number(text) : null;
const degrees = (text: string | undefined): number =>
  text !== undefined && /^\s*[-+]?\d+(\.\d+)?(e[-+]?\d+)?\s*$/i.test(text) ? Number(text) : NaN;

function addTimed(
  builder: TrackBuilder,
  point: { lat: number; lon: number; altitudeM: number | null },
  time: string | null,
): boolean {
  if (time === null || time === '') {
    builder.dropped.withoutTime += 1;
    return true;
  }
  const parsed = parseTrackTime(time);
  if (!parsed) {
    builder.dropped.unreadable += 1;
    return true;
  }
  if (parsed.zoneless) builder.dropped.zoneless += 1;
  return builder.add({ ...point, utc: parsed.utc });
}

class GpxReader {
  private point: { lat: number; lon: number } | null = null;
  private time: string | null = null;
  private altitude: string | null = null;

  constructor(private readonly builder: TrackBuilder) {}

  wantsAll = (_: string): boolean => false;

  open(local: string, attributes: Record<string, string>): void {
    if (local === 'trkseg') this.builder.newSegment();
    if (local !== 'trkpt') return;
    this.point = { lat: degrees(attributes.lat), lon: degrees(attributes.lon) };
    this.time = this.altitude = null;
  }

  close(local: string, text: string, parent: string): boolean {
    if (local === 'name' && parent === 'trk') this.builder.name ??= text.slice(0, 200);
    if (parent === 'trkpt' && local === 'time') this.time = text;
    if (parent === 'trkpt' && local === 'ele') this.altitude = text;
    if (local !== 'trkpt' || !this.point) return true;
    const { point } = this;
    this.point = null;
    return addTimed(this.builder, { ...point, altitudeM: metres(this.altitude) }, this.time);
  }
}

/** `gx:Track` lists times and places in step; a Placemark with a time and a point is a fix by itself. */
class KmlReader {
  private times: string[] = [];
  private places: string[] = [];
  private pointTime: string | null = null;
  private pointPlace: string | null = null;

  constructor(private readonly builder: TrackBuilder) {}

  wantsAll = (local: string): boolean => local === 'coordinates';

  open(local: string, _: Record<string, string>): void {
    if (local === 'Track') [this.times, this.places] = [[], []];
    if (local === 'Placemark') this.pointTime = this.pointPlace = null;
  }

  close(local: string, text: string, parent: string): boolean {
    if (local === 'name' && parent === 'Placemark') this.builder.name ??= text.slice(0, 200);
    if (local === 'when' && parent === 'Track') this.times.push(text);
    if (local === 'coord' && parent === 'Track') this.places.push(text);
    if (local === 'when' && parent === 'TimeStamp') this.pointTime = text;
    if (local === 'coordinates' && parent === 'Point') this.pointPlace = text;
    if (local === 'coordinates' && parent === 'LineString')
      this.builder.dropped.withoutTime += text.split(/\s+/).length;
    if (local === 'Track') return this.track();
    if (local === 'Placemark' && this.pointPlace !== null)
      return addTimed(this.builder, placeOf(this.pointPlace.split(',')), this.pointTime);
    return true;
  }

  private track(): boolean {
    this.builder.newSegment();
    const { times, places } = this;
    this.builder.dropped.unreadable += Math.abs(times.length - places.length);
    for (let at = 0; at < Math.min(times.length, places.length); at++) {
      if (!addTimed(this.builder, placeOf((places[at] ?? '').split(/\s+/)), times[at] ?? null)) return false;
    }
    return true;
  }
}

/** KML puts the longitude first. */
const placeOf = ([lon, lat, altitude]: string[]): { lat: number; lon: number; altitudeM: number | null } => ({
  lat: degrees(lat),
  lon: degrees(lon),
  altitudeM: metres(altitude?.trim() ?? null),
});
