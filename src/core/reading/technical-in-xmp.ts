// Technical data that only XMP carries: of files whose EXIF was thrown away, and of those that never had any.

import type { Technical } from '../exif/technical';
import { type Packet, readText } from '../xmp/packet';
import type { XmpName } from '../xmp/namespaces';

/** Fills what EXIF left open. */
export function technicalInXmp(technical: Technical, packets: readonly Packet[]): void {
  if (packets.length === 0) return;
  const text = (prefix: XmpName['prefix'], name: string): string | null => {
    for (const packet of packets) {
      const found = readText(packet, { prefix, name });
      if (found !== null) return found.trim();
    }
    return null;
  };
  const { camera } = technical;
  if (camera.make === null && camera.model === null) technical.camera = { ...camera, make: text('tiff', 'Make'), model: text('tiff', 'Model') };
  technical.lens ??= text('exifEX', 'LensModel') ?? text('aux', 'Lens');
  technical.gps ??= positionOf(text('exif', 'GPSLatitude'), text('exif', 'GPSLongitude'), text('exif', 'GPSAltitude'), text('exif', 'GPSAltitudeRef'));
}

function positionOf(latText: string | null, lonText: string | null, altitude: string | null, altitudeRef: string | null): Technical['gps'] {
  const lat = degreesOf(latText, 'N', 'S');
  const lon = degreesOf(lonText, 'E', 'W');
  if (lat === null || lon === null || Math.abs(lat) > 90 || Math.abs(lon) > 180) return null;
  const [, top, bottom = '1'] = /^(\d+(?:\.\d+)?)(?:\/(\d+))?$/.exec(altitude ?? '') ?? [];
  const metres = top === undefined || Number(bottom) === 0 ? null : Number(top) / Number(bottom);
  return { lat, lon, altitudeM: metres === null ? null : altitudeRef === '1' ? -metres : metres };
}

/** `62,1.2345N` or `62,1,14N` (XMP specification part 2, GPSCoordinate). */
function degreesOf(text: string | null, positive: string, negative: string): number | null {
  const found = /^(\d{1,3}),(\d{1,2}(?:\.\d+)?)(?:,(\d{1,2}(?:\.\d+)?))?([NSEW])$/.exec(text ?? '');
  if (!found || (found[4] !== positive && found[4] !== negative)) return null;
  const value = Number(found[1]) + Number(found[2]) / 60 + Number(found[3] ?? 0) / 3600;
  return found[4] === negative ? -value : value;
}
