// Of the makers' notes only what a catalog needs, and only where it is safe: families whose notes are plain TIFF
// directories (common knowledge of these files, numbers from memory). The notes themselves are never touched. A note
// that was moved without its offsets being mended gives values outside itself; those count as absent.

import { decodeUtf8 } from '../../bytes/text';
import { ByteView } from '../../bytes/view';
import { EXIF } from './exif-tags';
import { type Tag, type Tiff, tagsOf } from './tiff';

export interface MakerNote {
  lens: string | null;
  serial: string | null;
  shutterCount: number | null;
  /** Where EXIF has none. */
  iso: number | null;
}

const NOTHING: MakerNote = { lens: null, serial: null, shutterCount: null, iso: null };

interface Family {
  make: RegExp;
  /** What the note opens with, and where its directory then lies. */
  opens: string;
  directoryAt: number;
  /** Whether the note is a TIFF of its own, with its own byte order and its offsets counted from `directoryAt`. */
  ownHeader?: true;
  lens?: number;
  lensRange?: number;
  serial?: number;
  shutterCount?: number;
  iso?: { tag: number; of: (value: ByteView) => number | null };
}

const FAMILIES: readonly Family[] = [
  {
    make: /^nikon/i,
    opens: 'Nikon\0\x02',
    directoryAt: 10,
    ownHeader: true,
    lensRange: 0x0084,
    serial: 0x001d,
    shutterCount: 0x00a7,
    // two numbers, of which the second is the speed
    iso: { tag: 0x0002, of: (value) => value.u16(2) },
  },
  {
    make: /^canon/i,
    opens: '',
    directoryAt: 0,
    lens: 0x0095,
    serial: 0x000c,
    iso: { tag: 0x0001, of: (settings) => canonIso(settings.u16(2 * 16)) },
  },
  { make: /^panasonic/i, opens: 'Panasonic\0\0\0', directoryAt: 12, lens: 0x0051 },
];

export function makerNoteOf(tiffs: readonly Tiff[], make: string | null): MakerNote {
  const tag = tagsOf(tiffs, 'exif').get(EXIF.makerNote);
  const family = FAMILIES.find((candidate) => candidate.make.test(make ?? ''));
  if (!tag || !family || !tag.view.startsWith(family.opens)) return NOTHING;
  const note = family.ownHeader
    ? ownNote(tag, family.directoryAt)
    : { view: tag.view, directoryAt: family.directoryAt, base: tag.offset };
  if (!note) return NOTHING;
  const values = directoryOf(note.view, note.directoryAt, note.base);
  const count = values.get(family.shutterCount ?? -1)?.view.u32(0) ?? null;
  return {
    lens: words(values.get(family.lens ?? -1)) ?? lensRange(values.get(family.lensRange ?? -1)),
    serial: serialOf(values.get(family.serial ?? -1)),
    shutterCount: count !== null && count > 0 && count < 10_000_000 ? count : null,
    iso: isoIn(values, family),
  };
}

function ownNote(tag: Tag, at: number) {
  const order = tag.view.ascii(at, 2);
  if (order !== 'II' && order !== 'MM') return null;
  const view = new ByteView(tag.view.bytes.subarray(at), order === 'II');
  const directoryAt = view.u32(4);
  return directoryAt === null ? null : { view, directoryAt, base: 0 };
}

/** Steps of the camera’s wheel, 16 for ISO 50, or the number itself with a bit before it; 15 is automatic, and says nothing. */
function canonIso(setting: number | null): number | null {
  if (setting === null) return null;
  if (setting & 0x4000 && setting < 0x8000) return setting & 0x3fff;
  return setting >= 16 && setting <= 20 ? 50 * 2 ** (setting - 16) : null;
}

function isoIn(values: ReadonlyMap<number, NoteValue>, { iso }: Family): number | null {
  const value = iso && values.get(iso.tag);
  const found = value?.type === 3 ? iso?.of(value.view) : null;
  return found && found > 0 ? found : null;
}

interface NoteValue {
  type: number;
  view: ByteView;
}

/** The short values of a directory inside the note: ASCII, SHORT, LONG and RATIONAL. */
function directoryOf(view: ByteView, at: number, base: number): Map<number, NoteValue> {
  const values = new Map<number, NoteValue>();
  const count = Math.min(view.u16(at) ?? 0, 512);
  for (let index = 0; index < count; index++) {
    const entry = at + 2 + index * 12;
    const type = view.u16(entry + 2) ?? 0;
    const bytes = ({ 2: 1, 3: 2, 4: 4, 5: 8 }[type] ?? 0) * (view.u32(entry + 4) ?? 0);
    const from = bytes <= 4 ? entry + 8 : (view.u32(entry + 8) ?? 0) - base;
    const value = bytes > 0 && bytes <= 1024 ? view.slice(from, bytes) : null;
    if (value) values.set(view.u16(entry) ?? 0, { type, view: new ByteView(value, view.littleEndian) });
  }
  return values;
}

function words(value: NoteValue | undefined): string | null {
  if (value?.type !== 2) return null;
  const text = decodeUtf8(value.view.bytes)?.replace(/\0.*$/s, '').trim() ?? '';
  return /^[\p{L}\p{N}\p{P}\p{S} ]*[\p{L}\p{N}][\p{L}\p{N}\p{P}\p{S} ]*$/u.test(text) ? text : null;
}

function serialOf(value: NoteValue | undefined): string | null {
  if (value?.type !== 4) return words(value);
  const number = value.view.u32(0);
  return number ? String(number) : null;
}

/** Shortest and longest focal length, and the largest aperture at each: `24-70mm f/2.8`. */
function lensRange(value: NoteValue | undefined): string | null {
  if (value?.type !== 5) return null;
  const [short, long, wide, tele] = [0, 8, 16, 24].map((at) => {
    const bottom = value.view.u32(at + 4);
    return bottom ? Number(((value.view.u32(at) ?? 0) / bottom).toFixed(1)) : 0;
  });
  if (!short || !long || !wide || !tele) return null;
  return `${short === long ? short : `${short}-${long}`}mm f/${wide === tele ? wide : `${wide}-${tele}`}`;
}
