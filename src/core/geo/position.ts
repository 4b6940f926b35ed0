// A position on the earth as a field holds it: `62.227, -6.589` or `62.227, -6.589, 12.5 m`. Latitude first, decimal
// degrees of WGS-84, nine places at most (a tenth of a millimetre, as fine as files say it); the altitude is above sea
// level, below it negative, to the millimetre. One text, so that latitude and longitude of two different sources can
// never be merged into a place nobody was at.

export interface LatLon {
  /** Degrees, −90 to 90. */
  lat: number;
  /** Degrees, −180 to 180. */
  lon: number;
}

export interface Position extends LatLon {
  /** Metres above sea level; `null` where nobody said. */
  altitudeM: number | null;
}

const PLACES = 9;
const ALTITUDE_PLACES = 3;

export const onEarth = ({ lat, lon }: LatLon): boolean => Math.abs(lat) <= 90 && Math.abs(lon) <= 180;

/** The text a field holds. Two positions that differ by less than a tenth of a millimetre give the same one. */
export function positionText({ lat, lon, altitudeM }: Position): string {
  const flat = `${rounded(lat, PLACES)}, ${rounded(lon, PLACES)}`;
  return altitudeM === null ? flat : `${flat}, ${rounded(altitudeM, ALTITUDE_PLACES)} m`;
}

/** Without an exponent, which `String` gives numbers near zero, and without a minus before nothing. */
function rounded(value: number, places: number): string {
  const text = value.toFixed(places).replace(/\.?0+$/, '');
  return text === '-0' ? '0' : text;
}

const FORM = /^(-?\d{1,2}(?:\.\d{1,12})?), (-?\d{1,3}(?:\.\d{1,12})?)(?:, (-?\d{1,7}(?:\.\d{1,6})?) m)?$/;

/** Reads what `positionText` writes, and nothing else; what people type goes through `parseCoordinates`. */
export function parsePosition(text: string): Position | null {
  const found = FORM.exec(text);
  if (!found) return null;
  const position = {
    lat: Number(found[1]),
    lon: Number(found[2]),
    altitudeM: found[3] === undefined ? null : Number(found[3]),
  };
  return onEarth(position) ? position : null;
}

/** Readings of one position by formats of different fineness lie within this, in degrees: about two metres. */
const SAME_WITHIN_DEGREES = 0.00002;

/** Whether two texts mean one position, as one format and another hold it. */
export function samePosition(a: string, b: string): boolean {
  const [one, other] = [parsePosition(a), parsePosition(b)];
  if (!one || !other) return false;
  const sameAltitude =
    one.altitudeM === null || other.altitudeM === null || Math.abs(one.altitudeM - other.altitudeM) < 1;
  return (
    sameAltitude &&
    Math.abs(one.lat - other.lat) <= SAME_WITHIN_DEGREES &&
    Math.abs(one.lon - other.lon) <= SAME_WITHIN_DEGREES
  );
}
