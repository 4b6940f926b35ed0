// Where a photo was taken, in XMP: several properties of EXIF's schema that are one field (XMP specification part 2,
// 3.3 and the type GPSCoordinate; EXIF 2.32 for XMP, CIPA DC-010). From memory; tests/reference has ExifTool and exiv2
// read it.

import type { Shape } from '../../fields/shape';
import { directionText, parseDirection } from '../../geo/direction';
import { type Position, onEarth, positionText } from '../../geo/position';
import { type Wanted, setXmpField } from './edit';
import { NS } from '../../formats/xmp/namespaces';
import { type Packet, type PropertyMap, nameKey } from '../../formats/xmp/packet';
import { type Said, saidBy } from './values';

const property = (name: string): Shape => ({ xmp: { prefix: 'exif', name }, form: 'single', value: 'text' });
const LAT = property('GPSLatitude');
const LON = property('GPSLongitude');
const ALTITUDE = property('GPSAltitude');
const ALTITUDE_REF = property('GPSAltitudeRef');
const DATUM = property('GPSMapDatum');
const DIRECTION = property('GPSImgDirection');
const DIRECTION_REF = property('GPSImgDirectionRef');

const saidOf = (map: PropertyMap, shape: Shape): Said =>
  saidBy(shape, map.get(nameKey(NS[shape.xmp.prefix], shape.xmp.name))?.node);
const textOf = (map: PropertyMap, shape: Shape): string | null => {
  const said = saidOf(map, shape);
  return said.state === 'value' ? String(said.value).trim() : null;
};

/** The position in the properties; half of one, or one off the earth, is not understood. */
export function positionSaid(map: PropertyMap): Said {
  const [lat, lon] = [saidOf(map, LAT), saidOf(map, LON)];
  if (lat.state === 'absent' && lon.state === 'absent') return lat;
  if (lat.state === 'empty' && lon.state === 'empty') return lat;
  if (lat.state !== 'value' || lon.state !== 'value') return { state: 'foreign' };
  const position = { lat: degreesOf(String(lat.value), 'N', 'S'), lon: degreesOf(String(lon.value), 'E', 'W') };
  if (position.lat === null || position.lon === null || !onEarth({ lat: position.lat, lon: position.lon }))
    return { state: 'foreign' };
  const metres = ratioOf(textOf(map, ALTITUDE));
  const below = textOf(map, ALTITUDE_REF) === '1';
  return {
    state: 'value',
    value: positionText({
      lat: position.lat,
      lon: position.lon,
      altitudeM: metres === null ? null : below ? -metres : metres,
    }),
  };
}

/** Puts a position in, or takes it out with all that belongs to it. */
export function setPosition(packet: Packet, wanted: Position | 'empty' | 'absent'): void {
  if (typeof wanted === 'string') {
    for (const shape of [LAT, LON]) setXmpField(packet, shape, { state: wanted });
    for (const shape of [ALTITUDE, ALTITUDE_REF]) setXmpField(packet, shape, { state: 'absent' });
    return;
  }
  const { altitudeM } = wanted;
  set(packet, LAT, coordinateText(wanted.lat, 'N', 'S'));
  set(packet, LON, coordinateText(wanted.lon, 'E', 'W'));
  set(packet, ALTITUDE, altitudeM === null ? null : ratioText(Math.abs(altitudeM)));
  set(packet, ALTITUDE_REF, altitudeM === null ? null : altitudeM < 0 ? '1' : '0');
  set(packet, DATUM, 'WGS-84');
}

/** `243.5`, from true north; `243.5 magnetic` where it is from the compass's. */
export function directionSaid(map: PropertyMap): Said {
  const said = saidOf(map, DIRECTION);
  if (said.state !== 'value') return said;
  const degrees = ratioOf(String(said.value));
  if (degrees === null || degrees < 0 || degrees > 360) return { state: 'foreign' };
  return { state: 'value', value: directionText(degrees, textOf(map, DIRECTION_REF) === 'M') };
}

export function setDirection(packet: Packet, wanted: Wanted): void {
  const parts = wanted.state === 'value' ? parseDirection(String(wanted.value)) : null;
  if (!parts) {
    for (const shape of [DIRECTION, DIRECTION_REF])
      setXmpField(packet, shape, { state: wanted.state === 'empty' ? 'empty' : 'absent' });
    return;
  }
  set(packet, DIRECTION, ratioText(parts.degrees));
  set(packet, DIRECTION_REF, parts.magnetic ? 'M' : 'T');
}

function set(packet: Packet, shape: Shape, text: string | null): void {
  setXmpField(packet, shape, text === null ? { state: 'absent' } : { state: 'value', value: text });
}

/**
 * Hundred-millionths of a minute: a fiftieth of a millimetre, so that nine places of a degree come back as they were.
 */
const PER_MINUTE = 1e8;

/** `62,13.62N`: whole degrees and decimal minutes. */
export function coordinateText(degrees: number, positive: string, negative: string): string {
  const units = Math.round(Math.abs(degrees) * 60 * PER_MINUTE);
  const whole = Math.floor(units / (60 * PER_MINUTE));
  const minutes = ((units - whole * 60 * PER_MINUTE) / PER_MINUTE).toFixed(8).replace(/0{1,6}$/, '');
  return `${whole},${minutes}${degrees < 0 ? negative : positive}`;
}

/** `62,13.62N` or `62,13,37N`, in degrees; `null` for anything else. */
export function degreesOf(text: string, positive: string, negative: string): number | null {
  const found = /^(\d{1,3}),(\d{1,2}(?:\.\d+)?)(?:,(\d{1,2}(?:\.\d+)?))?([NSEW])$/.exec(text.trim());
  if (!found || (found[4] !== positive && found[4] !== negative)) return null;
  const value = Number(found[1]) + Number(found[2]) / 60 + Number(found[3] ?? 0) / 3600;
  return found[4] === negative ? -value : value;
}

/** `1/250` or `2.8`. */
export function ratioOf(text: string | null): number | null {
  const [, top, bottom = '1'] = /^(\d+(?:\.\d+)?)(?:\/(\d+))?$/.exec(text ?? '') ?? [];
  return top === undefined || Number(bottom) === 0 ? null : Number(top) / Number(bottom);
}

/** A number as XMP writes a rational, with no more places than it has, three at most. */
export function ratioText(value: number): string {
  const bottom =
    [1, 10, 100, 1000].find((factor) => Math.abs(value * factor - Math.round(value * factor)) < 1e-6) ?? 1000;
  return `${Math.round(value * bottom)}/${bottom}`;
}
