// Technical data that only XMP carries: of files whose EXIF was thrown away, and of those that never had any.

import type { Technical } from '../exif/technical';
import { NS, type Prefix } from '../xmp/namespaces';
import { type PropertyMap, nameKey } from '../xmp/packet';
import { saidBy } from '../xmp/values';

/** Fills what EXIF left open. */
export function technicalInXmp(technical: Technical, properties: PropertyMap): void {
  if (properties.size === 0) return;
  const text = (prefix: Prefix, name: string): string | null => {
    const said = saidBy({ xmp: { prefix, name }, form: 'single', value: 'text' }, properties.get(nameKey(NS[prefix], name))?.node);
    return said.state === 'value' ? String(said.value).trim() : null;
  };
  const { camera } = technical;
  if (camera.make === null && camera.model === null) technical.camera = { ...camera, make: text('tiff', 'Make'), model: text('tiff', 'Model') };
  technical.lens ??= text('exifEX', 'LensModel') ?? text('aux', 'Lens');
  const { exposure } = technical;
  technical.exposure = {
    ...exposure,
    seconds: exposure.seconds ?? ratioOf(text('exif', 'ExposureTime')),
    fNumber: exposure.fNumber ?? ratioOf(text('exif', 'FNumber')),
    focalMm: exposure.focalMm ?? ratioOf(text('exif', 'FocalLength')),
    iso: exposure.iso ?? ratioOf(text('exif', 'ISOSpeedRatings') ?? text('exifEX', 'PhotographicSensitivity')),
  };
  technical.gps ??= positionOf(text('exif', 'GPSLatitude'), text('exif', 'GPSLongitude'), text('exif', 'GPSAltitude'), text('exif', 'GPSAltitudeRef'));
}

function positionOf(latText: string | null, lonText: string | null, altitude: string | null, altitudeRef: string | null): Technical['gps'] {
  const lat = degreesOf(latText, 'N', 'S');
  const lon = degreesOf(lonText, 'E', 'W');
  if (lat === null || lon === null || Math.abs(lat) > 90 || Math.abs(lon) > 180) return null;
  const metres = ratioOf(altitude);
  return { lat, lon, altitudeM: metres === null ? null : altitudeRef === '1' ? -metres : metres };
}

/** `1/250` or `2.8`. */
function ratioOf(text: string | null): number | null {
  const [, top, bottom = '1'] = /^(\d+(?:\.\d+)?)(?:\/(\d+))?$/.exec(text ?? '') ?? [];
  return top === undefined || Number(bottom) === 0 ? null : Number(top) / Number(bottom);
}

/** `62,1.2345N` or `62,1,14N` (XMP specification part 2, GPSCoordinate). */
function degreesOf(text: string | null, positive: string, negative: string): number | null {
  const found = /^(\d{1,3}),(\d{1,2}(?:\.\d+)?)(?:,(\d{1,2}(?:\.\d+)?))?([NSEW])$/.exec(text ?? '');
  if (!found || (found[4] !== positive && found[4] !== negative)) return null;
  const value = Number(found[1]) + Number(found[2]) / 60 + Number(found[3] ?? 0) / 3600;
  return found[4] === negative ? -value : value;
}
