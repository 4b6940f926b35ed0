// Names that every system takes: Windows, macOS and Linux, and the drives that travel between them.
//
// Sources, from memory: Microsoft, "Naming Files, Paths, and Namespaces" (reserved characters and device names, no
// blank or full stop at the end, 260 characters for a path); POSIX.1-2017, 3.170 and 3.282 (no slash, no NUL; a hyphen
// does not come first); NTFS and APFS take 255 units, ext4 255 bytes, of which UTF-8 needs the most. Unicode: form NFC,
// as most systems write it (Unicode Standard Annex 15).

export type NameProblem = 'character' | 'device' | 'edge' | 'form' | 'empty' | 'long';

/**
 * `<>:"/\|?*` and the control characters; Windows refuses them, a slash and NUL everyone. DEL and the C1 controls are
 * as useless in a name.
 */
// eslint-disable-next-line no-control-regex
const REFUSED = /[<>:"/\\|?*\u0000-\u001f\u007f-\u009f]/g;

/** Device names, with any ending or none. The superscript digits count as digits there. */
const DEVICE = /^(?:con|prn|aux|nul|conin\$|conout\$|com[0-9¹²³]|lpt[0-9¹²³])(?:\.|$)/i;

/**
 * A blank or a full stop at the end is lost on Windows; a blank or a hyphen at the beginning misleads people and
 * programs; a full stop hides.
 */
const EDGES = /^[\s.-]+|[\s.]+$/g;

/** Leaves room for `.jpeg`, `.xmp` and the ending of a part file within the 255 bytes of ext4. */
export const BASE_LIMIT_BYTES = 220;

/**
 * Longer paths from the drive's root are out of reach of older Windows programs once the drive's own place stands
 * before them.
 */
export const PATH_LIMIT = 200;

export function problemsOfName(name: string): NameProblem[] {
  const flaws: NameProblem[] = [];
  if (name === '') return ['empty'];
  if (name.search(REFUSED) >= 0) flaws.push('character');
  if (DEVICE.test(name)) flaws.push('device');
  if (name.search(EDGES) >= 0) flaws.push('edge');
  if (name !== name.normalize('NFC')) flaws.push('form');
  if (bytesIn(name) > BASE_LIMIT_BYTES) flaws.push('long');
  return flaws;
}

/**
 * A name without its ending, or a folder, as near to `text` as every system takes it. Empty only where nothing is left.
 */
export function legalName(text: string): string {
  const name = cut(
    text
      .normalize('NFC')
      .replaceAll(/[/\\:|]/g, '-')
      .replace(REFUSED, '')
      .replace(/\s+/g, ' ')
      .replace(EDGES, ''),
  ).replace(EDGES, '');
  return DEVICE.test(name) ? `_${name}` : name;
}

function cut(name: string): string {
  let [kept, length] = ['', 0];
  for (const character of name) {
    length += bytesIn(character);
    if (length > BASE_LIMIT_BYTES) return kept;
    kept += character;
  }
  return kept;
}

/** Bytes in UTF-8. */
function bytesIn(text: string): number {
  let bytes = 0;
  for (const character of text) {
    const code = character.codePointAt(0) ?? 0;
    bytes += code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
  }
  return bytes;
}
