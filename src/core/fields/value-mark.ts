// A short mark of a field's value, by which it is seen that another program wrote a field after us. FNV-1a, 32 bits,
// over UTF-8 (RFC 9923).

import { encodeUtf8 } from '../bytes/text';
import { type FieldValue, isStructure } from './shape';

const OFFSET = 0x811c9dc5;
const PRIME = 0x01000193;

export function fnv1a(bytes: Uint8Array): number {
  let hash = OFFSET;
  for (const byte of bytes) hash = Math.imul(hash ^ byte, PRIME) >>> 0;
  return hash;
}

/** Eight hexadecimal digits; the same for values that say the same. */
export const valueMark = (value: FieldValue | undefined): string =>
  fnv1a(encodeUtf8(canonical(value)))
    .toString(16)
    .padStart(8, '0');

/** One text for one value: members of structures by their names. */
function canonical(value: FieldValue | undefined): string {
  if (value === undefined) return '';
  if (Array.isArray(value)) return `[${value.map((item: FieldValue) => canonical(item)).join(',')}]`;
  if (!isStructure(value)) return JSON.stringify(value);
  return `{${Object.keys(value)
    .sort()
    .map((key) => `${JSON.stringify(key)}:${canonical(value[key])}`)
    .join(',')}}`;
}
