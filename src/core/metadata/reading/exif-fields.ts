// What the tags of EXIF say about the fields of the registry.

import { decodeUtf16, decodeUtf16In, decodeUtf8OrWindows1252 } from '../../bytes/text';
import type { FieldRow } from '../../fields/registry';
import { parseCaptured } from '../../time/captured';
import { MAIN } from '../../formats/tiff/exif-tags';
import { textOf } from '../../formats/tiff/exif-text';
import { directionOfTags, positionOfTags, timeOfTags } from '../../formats/tiff/gps';
import type { Tag, Tags, Tiff } from '../../formats/tiff/tiff';
import { numberOf, tagsOf } from '../../formats/tiff/tiff';

/** What cameras and scanners put into ImageDescription when nobody said anything (common practice). */
const FILLERS =
  /^(?:OLYMPUS DIGITAL CAMERA|MINOLTA DIGITAL CAMERA|KONICA MINOLTA DIGITAL CAMERA|SONY DSC|DIGITAL CAMERA|KODAK Digital Still Camera|Digital StillCamera|LEAD Technologies.*|default|untitled|dav|binary comment|My great photo|<?Digimax.*|SAMSUNG DIGITAL CAMERA)$/i;

/**
 * What EXIF says about a field, as XMP would hold it: artists one by one, dates in ISO 8601 with sub-seconds and
 * offset.
 */
export function exifStrings(tiffs: readonly Tiff[], row: FieldRow): string[] {
  const { exif } = row;
  if (!exif) return [];
  const tags = tagsOf(tiffs, exif.directory);
  const tag = tags.get(exif.tag);
  if (!tag) return [];
  if (exif.notation === 'position') return present(positionOfTags(tags));
  if (exif.notation === 'direction') return present(directionOfTags(tags));
  if (exif.notation === 'gps-time') return present(timeOfTags(tags));
  if (exif.notation === 'rating') return ratingOf(tag);
  if (exif.notation === 'comment') return present(commentOf(tag));
  if (exif.notation === 'date') return present(dateOf(tags, tag, exif.subSec, exif.offset));
  if (exif.notation === 'artists')
    return (textOf(tag) ?? '')
      .split(';')
      .map((part) => part.trim())
      .filter((part) => part !== '');
  if (exif.tag === MAIN.copyright) return present(copyrightOf(tag));
  return present(textOf(tag)).filter((text) => exif.tag !== MAIN.imageDescription || !FILLERS.test(text.trim()));
}

/** One to five; cameras write 0 where nobody rated anything, which says nothing. */
function ratingOf(tag: Tag): string[] {
  const rating = numberOf(tag);
  return rating !== null && Number.isInteger(rating) && rating >= 1 && rating <= 5 ? [String(rating)] : [];
}

const present = (text: string | null): string[] => (text === null ? [] : [text]);

/** The photographer's and the editor's notice, with a zero between (EXIF 2.32, tag 0x8298). */
function copyrightOf(tag: Tag): string | null {
  const parts = decodeUtf8OrWindows1252(tag.view.bytes)
    .split('\0')
    .slice(0, 2)
    .map((part) => part.trimEnd())
    .filter((part) => part !== '');
  return parts.length > 0 ? parts.join('\n') : null;
}

function dateOf(tags: Tags, tag: Tag, subSec: number | undefined, offset: number | undefined): string | null {
  const written = textOf(tag);
  const captured = written ? parseCaptured(written, textOf(tags.get(offset ?? -1))) : null;
  if (!captured) return null;
  const fraction = textOf(tags.get(subSec ?? -1))?.trim();
  const seconds = captured.written.length === 19 && fraction && /^\d{1,9}$/.test(fraction) ? `.${fraction}` : '';
  return `${captured.written}${seconds}${captured.written.length >= 16 ? (captured.offset ?? '') : ''}`;
}

/** UserComment opens with eight bytes that name its character set (EXIF 2.32, table 9). */
function commentOf({ view }: Tag): string | null {
  const code = view.ascii(0, 8);
  const words = view.bytes.subarray(8);
  const unicode = code.startsWith('UNICODE');
  const known = unicode || code.startsWith('ASCII') || code.startsWith('JIS') || code === '\0'.repeat(8);
  const text = unicode
    ? (decodeUtf16(words) ?? decodeUtf16In(evenBytes(words), isLittle(words, view.littleEndian)))
    : decodeUtf8OrWindows1252(known ? words : view.bytes);
  const kept = (text ?? '').replace(/\0.*$/s, '').trimEnd();
  return kept.trim() === '' ? null : kept;
}

const evenBytes = (bytes: Uint8Array) => bytes.subarray(0, bytes.length - (bytes.length % 2));

/**
 * The standard leaves the order open. Where the high bytes of Latin text tell it they decide, else the order of the
 * file.
 */
function isLittle(words: Uint8Array, fileOrder: boolean): boolean {
  const [even, odd] = [0, 1].map((side) => words.filter((byte, at) => byte === 0 && at % 2 === side).length) as [
    number,
    number,
  ];
  return even === odd ? fileOrder : odd > even;
}
