// The name of a colour profile (ICC.1:2010): its `desc` tag, as text (version 2) or in languages (version 4).

import { decodeUtf16In, decodeUtf8OrWindows1252 } from '../../bytes/text';
import { ByteView } from '../../bytes/view';

export function profileName(profile: Uint8Array): string | null {
  const view = new ByteView(profile);
  const count = Math.min(view.u32(128) ?? 0, 100);
  for (let index = 0; index < count; index++) {
    const entry = 132 + index * 12;
    if (view.ascii(entry, 4) === 'desc') return described(view, view.u32(entry + 4) ?? 0);
  }
  return null;
}

function described(view: ByteView, at: number): string | null {
  const kind = view.ascii(at, 4);
  const utf16 = kind === 'mluc';
  const start = utf16 ? at + (view.u32(at + 24) ?? 0) : at + 12;
  const bytes = view.slice(start, Math.min((utf16 ? view.u32(at + 20) : view.u32(at + 8)) ?? 0, 1000));
  if (!bytes || (kind !== 'desc' && !utf16)) return null;
  const text = (utf16 ? (decodeUtf16In(bytes, false) ?? '') : decodeUtf8OrWindows1252(bytes))
    .replace(/\0.*$/s, '')
    .trim();
  return text === '' ? null : text;
}
