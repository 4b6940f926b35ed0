// Coordinates as people write and paste them, in any usual notation: decimal degrees with point or comma, degrees with
// minutes and seconds, signs or letters, `geo:` URIs (RFC 5870), ISO 6709 strings, the forms of XMP and of NMEA 0183.
//
// Where letters tell which number is the latitude they decide; else latitude comes first (ISO 6709 and common
// practice). What could mean two places means none: an `O`, which is west in French and east in German; a sign against
// a letter.

import { type LatLon, onEarth } from './position';

/** Degrees, WGS-84; `null` where the text is no position, or could be two. */
export function parseCoordinates(text: string): LatLon | null {
  if (text.length > 200) return null;
  const plain = unified(text);
  const position = geoUri(plain) ?? iso6709(plain) ?? nmea(plain) ?? twoAngles(plain);
  return position && onEarth(position) ? position : null;
}

/** One sign for each thing: `°`, `'`, `"`, `-`, and letters for directions. */
function unified(text: string): string {
  return text
    .normalize('NFC')
    .replace(/[\u00a0\u2007\u2009\u202f]/g, ' ')
    .replace(/[\u2212\u2010-\u2014]/g, '-')
    .replace(/[\u2033\u201c\u201d\u02ba]|''|\u2032\u2032|\u2019\u2019/g, '"')
    .replace(/[\u2032\u2019\u2018\u02b9\u00b4`]/g, "'")
    .replace(/[\u00ba\u02da]|\b(?:degrees?|deg)\b\.?/gi, '°')
    .replace(/\b(?:minutes?|min)\b\.?/gi, "'")
    .replace(/\b(?:seconds?|sec)\b\.?/gi, '"')
    .replace(/\b(?:latitude|longitude|lat|lon|lng|long)\b\s*[.:=]*/gi, ' ')
    .replace(/\bnorth\b/gi, 'N')
    .replace(/\bsouth\b/gi, 'S')
    .replace(/\beast\b/gi, 'E')
    .replace(/\bwest\b/gi, 'W')
    .replace(/^[\s([{]+|[\s)\]}]+$/g, '');
}

/** `geo:62.227,-6.589;u=10`; of reference systems only WGS-84, which holds where none is named. */
function geoUri(text: string): LatLon | null {
  const found = /^geo:(-?\d+(?:\.\d+)?),(-?\d+(?:\.\d+)?)(?:,-?\d+(?:\.\d+)?)?((?:[;?].*)?)$/i.exec(text);
  if (!found || (/;crs=/i.test(found[3] ?? '') && !/;crs=wgs84\b/i.test(found[3] ?? ''))) return null;
  return { lat: Number(found[1]), lon: Number(found[2]) };
}

/**
 * `+62.227-006.589/`, `+6213.62-00635.34/`, `+621337.2-0063520.4/`: how many digits stand before the point tells the
 * form (ISO 6709, annex H).
 */
function iso6709(text: string): LatLon | null {
  const found = /^([+-])(\d{2,6}(?:\.\d+)?)([+-])(\d{3,7}(?:\.\d+)?)(?:[+-]\d+(?:\.\d+)?)?(?:CRS\w*)?\/?$/.exec(text);
  if (!found) return null;
  const lat = packed(found[2] ?? '', 2);
  const lon = packed(found[4] ?? '', 3);
  return lat === null || lon === null
    ? null
    : { lat: found[1] === '-' ? -lat : lat, lon: found[3] === '-' ? -lon : lon };
}

/** `DD`, `DDMM` or `DDMMSS`, the last with decimals. */
function packed(digits: string, degreeDigits: number): number | null {
  const whole = digits.split('.')[0] ?? '';
  const extra = whole.length - degreeDigits;
  if (extra !== 0 && extra !== 2 && extra !== 4) return null;
  const rest = digits.slice(degreeDigits);
  const parts =
    extra === 0
      ? [digits]
      : extra === 2
        ? [digits.slice(0, degreeDigits), rest]
        : [digits.slice(0, degreeDigits), rest.slice(0, 2), rest.slice(2)];
  return sexagesimal(parts.map(Number));
}

/** `6213.62,N,00635.34,W` */
function nmea(text: string): LatLon | null {
  const found = /^(\d{4}(?:\.\d+)?)\s*,\s*([NS])\s*,\s*(\d{5}(?:\.\d+)?)\s*,\s*([EW])$/i.exec(text);
  if (!found) return null;
  const [lat, lon] = [packed(found[1] ?? '', 2), packed(found[3] ?? '', 3)];
  return lat === null || lon === null
    ? null
    : { lat: /s/i.test(found[2] ?? '') ? -lat : lat, lon: /w/i.test(found[4] ?? '') ? -lon : lon };
}

function sexagesimal([degrees = 0, minutes = 0, seconds = 0]: number[]): number | null {
  return minutes < 60 && seconds < 60 ? degrees + minutes / 60 + seconds / 3600 : null;
}

interface Angle {
  value: number;
  axis: 'lat' | 'lon' | null;
  /** How many numbers it was written with. */
  parts: number;
  decimalComma: boolean;
}

/** Where a text can be parted in two, the surest signs first. */
const SEPARATORS = [
  /\s*[;\n|]\s*/g,
  /\s*,\s+/g,
  /(?<=[NSEW])\s*,?\s*(?=[-+\d])/gi,
  /(?<=\d["'°]?)\s*,?\s*(?=[NSEW]\s*[-+]?\d)/gi,
  /\s*,\s*/g,
  /\s*\/\s*/g,
  /\s+(?=[-+])/g,
  /\s+/g,
];

function twoAngles(text: string): LatLon | null {
  for (const separator of SEPARATORS) {
    const found: LatLon[] = [];
    for (const at of text.matchAll(separator)) {
      const [a, b] = [angleOf(text.slice(0, at.index)), angleOf(text.slice(at.index + at[0].length))];
      const position = a && b && paired(a, b);
      if (position) found.push(position);
    }
    if (found.length === 1) return found[0] ?? null;
    if (found.length > 1) return null;
  }
  return null;
}

/** Both halves are written the same way, and their letters, if any, name both axes. */
function paired(a: Angle, b: Angle): LatLon | null {
  if (a.parts !== b.parts || (a.decimalComma && !b.decimalComma && !Number.isInteger(b.value))) return null;
  if ((a.axis === null) !== (b.axis === null) || (a.axis !== null && a.axis === b.axis)) return null;
  const [lat, lon] = a.axis === 'lon' ? [b, a] : [a, b];
  return { lat: lat.value, lon: lon.value };
}

const NUMBER = String.raw`\d{1,9}(?:[.,]\d{1,15})?`;
/** Degrees alone; with minutes; with seconds. Between them the signs, colons, blanks, or the commas of XMP. */
const ANGLE = new RegExp(
  String.raw`^([NSEW])?\s*([-+])?\s*(${NUMBER})\s*°?(?:[\s:,]*(${NUMBER})\s*'?(?:[\s:,]*(${NUMBER})\s*"?)?)?\s*([NSEW])?$`,
  'i',
);

function angleOf(text: string): Angle | null {
  const xmp = /^(\d{1,3}),(\d{1,2})(?:\.(\d+)|,(\d{1,2}(?:\.\d+)?))\s*([NSEW])$/i.exec(text.trim());
  if (xmp)
    return angle(
      [
        xmp[1] ?? '',
        xmp[3] === undefined ? (xmp[2] ?? '') : `${xmp[2]}.${xmp[3]}`,
        ...(xmp[4] === undefined ? [] : [xmp[4]]),
      ],
      undefined,
      xmp[5],
    );
  const found = ANGLE.exec(text.trim());
  if (!found) return null;
  const [, before, sign, degrees = '', minutes, seconds, after] = found;
  if (before && after) return null;
  return angle(
    [degrees, minutes, seconds].filter((part) => part !== undefined),
    sign,
    before ?? after,
  );
}

function angle(parts: string[], sign: string | undefined, letter: string | undefined): Angle | null {
  if (sign && letter) return null;
  if (parts.slice(0, -1).some((part) => /[.,]/.test(part))) return null; // only the last part has decimals
  const size = sexagesimal(parts.map((part) => Number(part.replace(',', '.'))));
  if (size === null || size > 180) return null;
  const direction = letter?.toUpperCase();
  const negative = sign === '-' || direction === 'S' || direction === 'W';
  const axis = direction === undefined ? null : direction === 'N' || direction === 'S' ? 'lat' : 'lon';
  return {
    value: negative ? -size : size,
    axis,
    parts: parts.length,
    decimalComma: parts.some((part) => part.includes(',')),
  };
}
