// GeoJSON (RFC 7946): lines whose properties hold a time for each point (`coordTimes` or `times`, as converters of
// tracks write it: common practice), and points with a time of their own.

import { TrackBuilder, type TrackReading } from './track';
import { parseTrackTime } from './times';

type Unknown = Record<string, unknown>;
const isRecord = (value: unknown): value is Unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** `null` where the text is no GeoJSON. */
export function readGeoJson(text: string): TrackReading | null {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch {
    return null;
  }
  if (!isRecord(parsed) || typeof parsed.type !== 'string') return null;
  const builder = new TrackBuilder();
  const features = parsed.type === 'FeatureCollection' && Array.isArray(parsed.features) ? parsed.features : [parsed];
  if (!features.every((feature) => isRecord(feature) && (feature.type === 'Feature' || 'coordinates' in feature)))
    return null;
  for (const feature of features as Unknown[]) readFeature(builder, feature);
  return builder.reading();
}

function readFeature(builder: TrackBuilder, feature: Unknown): void {
  const geometry = isRecord(feature.geometry) ? feature.geometry : feature;
  const properties = isRecord(feature.properties) ? feature.properties : {};
  const inner = isRecord(properties.coordinateProperties) ? properties.coordinateProperties : {};
  const times = properties.coordTimes ?? properties.times ?? inner.times;
  if (typeof properties.name === 'string') builder.name ??= properties.name.slice(0, 200);
  if (geometry.type === 'Point') addPoint(builder, geometry.coordinates, properties.time ?? properties.timestamp);
  if (geometry.type === 'LineString') addLine(builder, geometry.coordinates, times);
  if (geometry.type === 'MultiLineString' && Array.isArray(geometry.coordinates))
    geometry.coordinates.forEach((line, at) => addLine(builder, line, Array.isArray(times) ? times[at] : undefined));
}

function addLine(builder: TrackBuilder, line: unknown, times: unknown): void {
  builder.newSegment();
  if (Array.isArray(line))
    line.forEach((point, at) => addPoint(builder, point, Array.isArray(times) ? times[at] : undefined));
}

function addPoint(builder: TrackBuilder, point: unknown, time: unknown): void {
  if (time === undefined || time === null) {
    builder.dropped.withoutTime += 1;
    return;
  }
  const parsed = typeof time === 'string' || typeof time === 'number' ? parseTrackTime(String(time)) : null;
  if (!parsed || !Array.isArray(point)) {
    builder.dropped.unreadable += 1;
    return;
  }
  if (parsed.zoneless) builder.dropped.zoneless += 1;
  const [lon, lat, altitude] = point as unknown[];
  builder.add({
    utc: parsed.utc,
    lat: typeof lat === 'number' ? lat : NaN,
    lon: typeof lon === 'number' ? lon : NaN,
    altitudeM: typeof altitude === 'number' ? altitude : null,
  });
}
