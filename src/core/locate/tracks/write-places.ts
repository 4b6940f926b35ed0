// Placed photos as files that maps of others read: GPX 1.1 way points, KML 2.2 placemarks, GeoJSON (RFC 7946) points.

import type { Position } from '../../geo/position';
import { isoOfSeconds } from '../../time/civil';
import { escapeAttribute, escapeText, xmlCharacters } from '../../formats/xmp/xml-tree';

export interface PlacedPhoto {
  /** File name. */
  name: string;
  title: string | null;
  caption: string | null;
  position: Position;
  /** When it was taken, where the instant is known. */
  utcSeconds: number | null;
  keywords: readonly string[];
}

const element = (name: string, text: string | null, indent: string): string =>
  text === null || text === '' ? '' : `${indent}<${name}>${escapeText(xmlCharacters(text))}</${name}>\n`;
const instant = (utcSeconds: number | null): string | null =>
  utcSeconds === null ? null : `${isoOfSeconds(utcSeconds)}Z`;
const number = (value: number): string =>
  value
    .toFixed(9)
    .replace(/\.?0+$/, '')
    .replace(/^-0$/, '0');

/** The order of elements is that of the schema (wptType). */
export function writeGpx(photos: readonly PlacedPhoto[], creator: string): string {
  const points = photos.map(
    ({ name, title, caption, position: { lat, lon, altitudeM }, utcSeconds, keywords }) =>
      `  <wpt lat="${number(lat)}" lon="${number(lon)}">\n${element('ele', altitudeM === null ? null : number(altitudeM), '    ')}${element('time', instant(utcSeconds), '    ')}${element('name', name, '    ')}${element('cmt', title, '    ')}${element('desc', caption, '    ')}${element('type', keywords.join(', '), '    ')}  </wpt>\n`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="${escapeAttribute(xmlCharacters(creator))}" xmlns="http://www.topografix.com/GPX/1/1" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" xsi:schemaLocation="http://www.topografix.com/GPX/1/1 http://www.topografix.com/GPX/1/1/gpx.xsd">\n${points.join('')}</gpx>\n`;
}

/** Longitude first, as KML has it; altitudes above sea level. */
export function writeKml(photos: readonly PlacedPhoto[], documentName: string): string {
  const points = photos.map(({ name, title, caption, position: { lat, lon, altitudeM }, utcSeconds }) => {
    const time = instant(utcSeconds);
    return `    <Placemark>\n${element('name', title ?? name, '      ')}${element('description', caption, '      ')}${time === null ? '' : `      <TimeStamp><when>${time}</when></TimeStamp>\n`}      <Point>${altitudeM === null ? '' : '<altitudeMode>absolute</altitudeMode>'}<coordinates>${[lon, lat, ...(altitudeM === null ? [] : [altitudeM])].map(number).join(',')}</coordinates></Point>\n    </Placemark>\n`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<kml xmlns="http://www.opengis.net/kml/2.2">\n  <Document>\n${element('name', documentName, '    ')}${points.join('')}  </Document>\n</kml>\n`;
}

export function writeGeoJson(photos: readonly PlacedPhoto[]): string {
  const features = photos.map(({ name, title, caption, position: { lat, lon, altitudeM }, utcSeconds, keywords }) => ({
    type: 'Feature',
    geometry: { type: 'Point', coordinates: [lon, lat, ...(altitudeM === null ? [] : [altitudeM])] },
    properties: {
      name,
      ...(title !== null && { title }),
      ...(caption !== null && { caption }),
      ...(utcSeconds !== null && { time: instant(utcSeconds) }),
      ...(keywords.length > 0 && { keywords }),
    },
  }));
  return `${JSON.stringify({ type: 'FeatureCollection', features }, null, 1)}\n`;
}
