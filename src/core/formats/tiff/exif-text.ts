// Text in EXIF: what a tag says in words.

import { decodeUtf8OrWindows1252 } from '../../bytes/text';
import type { Tag } from './tiff';

/**
 * Text of an ASCII tag, ended at its first zero, the blanks at its end (cameras pad) taken off. `null` when nothing is
 * left.
 */
export function textOf(tag: Tag | undefined): string | null {
  if (!tag) return null;
  const zero = tag.view.bytes.indexOf(0);
  const text = decodeUtf8OrWindows1252(zero < 0 ? tag.view.bytes : tag.view.bytes.subarray(0, zero)).trimEnd();
  return text.trim() === '' ? null : text;
}
