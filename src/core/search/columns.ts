// What is known of each photo, by slot: one typed array for each thing that is counted, compared or sorted, and columns
// of texts for the fields of the registry. Nothing else is kept of a photo, so that a million of them fit and are saved
// as they lie.

import { wrongCodes } from '../fields/check-codes';
import { hasOpenBlank } from '../describe/blanks';
import { noticeLacks } from '../fields/notice';
import { correctionsIn, isIdentity } from '../looks/corrections';
import { FIELDS, type FieldKey, type FieldValues } from '../fields/registry';
import type { FieldValue } from '../fields/shape';
import { wordsIn, positionIn } from '../fields/values';
import { isCameraName } from '../names/telling';
import { packColour } from '../picture/measures';
import { numbered } from '../text/natural';
import type { Shot } from '../sift/sets';
import { numberAmong } from '../take-in/accession';
import { type Bits, bitsFor, clearBit, hasBit, setBit } from './bit-set';
import { FILE_MARKS } from '../fixity/copies';
import { statusText } from './status-text';
import { FLAG, type SearchRecord } from './search-record';
import type { Sections } from './sections';
import { type TypedColumn, Strings, grown } from './strings';
import { ListColumn, TextColumn } from './value-columns';

/** Numbers, with the value of what has none. */
const NUMBER_COLUMNS = {
  day: Int32Array,
  second: Float64Array,
  addedAt: Float64Array,
  rating: Int8Array,
  copies: Uint8Array,
  flags: Uint32Array,
  aspect: Float32Array,
  /** NaN for photos without. */
  lat: Float64Array,
  lon: Float64Array,
  iso: Float32Array,
  fNumber: Float32Array,
  focal: Float32Array,
  exposure: Float32Array,
  bias: Float32Array,
  megapixels: Float32Array,
  clock: Float64Array,
  /** Milliseconds since 1970 until which it stays safe if nothing is done; 0 for never. */
  safeUntil: Float64Array,
  /** 64 bits of the hash, and up to so many colours of it. */
  hashHigh: Uint32Array,
  hashLow: Uint32Array,
  colour0: Uint32Array,
  colour1: Uint32Array,
  colour2: Uint32Array,
  colour3: Uint32Array,
  colour4: Uint32Array,
} as const;
type NumberName = keyof typeof NUMBER_COLUMNS;
type Numbers = { [N in NumberName]: InstanceType<(typeof NUMBER_COLUMNS)[N]> };

/** Texts of which a photo has one. */
export type SingleText = 'camera' | 'lens' | 'format' | 'profile';

/**
 * Texts that are no fields. `drives`, `onlyOn`, `names`, `folders`, `driveFolders` and `stems` are lists; `onDrives` says
 * how it stands on each drive (status-text.ts).
 */
const TEXTS = [
  'camera',
  'lens',
  'format',
  'profile',
  'drives',
  'onlyOn',
  'onDrives',
  'names',
  'folders',
  'driveFolders',
  'stems',
  'body',
  'given',
  'accession',
  'place',
] as const;
type TextName = (typeof TEXTS)[number];

/** Lists whose words are counted and looked up by themselves. */
export const LISTS = ['keywords', 'personShown', 'sent'] as const;
export type ListName = (typeof LISTS)[number];
const isListed = (key: string): key is ListName => LISTS.some((name) => name === key);

export const COLOUR_COLUMNS = ['colour0', 'colour1', 'colour2', 'colour3', 'colour4'] as const;
function colourAt({ measures }: SearchRecord, at: number): number {
  const colour = measures?.colours[at];
  return colour ? packColour(colour) : 0;
}

const orNaN = (value: number | null): number => value ?? NaN;
const finite = (value: number | undefined): number | null =>
  value === undefined || Number.isNaN(value) ? null : value;

export class Columns {
  /** Slots in use or used before. */
  size = 0;
  live: Bits = new Uint32Array(0);
  liveCount = 0;
  ids = new Strings();
  private numbers: Numbers = Object.fromEntries(
    Object.entries(NUMBER_COLUMNS).map(([name, kind]) => [name, new kind(0)]),
  ) as unknown as Numbers;
  private texts = Object.fromEntries(TEXTS.map((name) => [name, new TextColumn()])) as Record<TextName, TextColumn>;
  private fields = new Map<FieldKey, TextColumn>();
  private lists = Object.fromEntries(LISTS.map((name) => [name, new ListColumn()])) as Record<ListName, ListColumn>;
  private overlaps = new Map<number, Shot['overlaps']>();

  column<N extends NumberName>(name: N): Numbers[N] {
    return this.numbers[name];
  }

  textColumn(name: TextName): TextColumn {
    return this.texts[name];
  }

  /** `null` where no photo ever had the field. */
  fieldColumn(key: FieldKey): TextColumn | null {
    return this.fields.get(key) ?? null;
  }

  list(name: ListName): ListColumn {
    return this.lists[name];
  }

  isLive(slot: number): boolean {
    return slot >= 0 && hasBit(this.live, slot);
  }

  /** −1 for a photo that is not in the catalog. */
  slotOf(id: string): number {
    const slot = this.ids.find(id);
    return this.isLive(slot) ? slot : -1;
  }

  strings(name: 'drives' | 'onlyOn' | 'names' | 'folders' | 'stems', slot: number): string[] {
    return listIn(this.texts[name].text(slot));
  }

  /** The value of a field; lists that are counted by themselves included. */
  field(key: FieldKey, slot: number): FieldValue | undefined {
    if (isListed(key)) {
      const words = this.lists[key].texts(slot);
      return words.length > 0 ? words : undefined;
    }
    const text = this.fields.get(key)?.text(slot) ?? '';
    return text === '' ? undefined : valueOf(text);
  }

  hasField(key: FieldKey, slot: number): boolean {
    return isListed(key) ? this.lists[key].numbers(slot).length > 0 : (this.fields.get(key)?.number(slot) ?? 0) > 0;
  }

  shot(slot: number): Shot {
    const number = (name: 'clock' | 'exposure' | 'fNumber' | 'iso' | 'focal' | 'bias') =>
      finite(this.numbers[name][slot]);
    const flags = this.numbers.flags[slot] ?? 0;
    return {
      body: this.texts.body.text(slot),
      at: number('clock'),
      fraction: (flags & FLAG.fraction) !== 0,
      seconds: number('exposure'),
      fNumber: number('fNumber'),
      iso: number('iso'),
      focalMm: number('focal'),
      biasEv: number('bias'),
      stems: this.strings('stems', slot),
      raw: (flags & FLAG.raw) !== 0,
      given: this.texts.given.text(slot) || null,
      overlaps: this.overlaps.get(slot) ?? {},
    };
  }

  /** @returns its slot, and what a change of it may have moved */
  put(record: SearchRecord): { slot: number; order: boolean; sets: boolean } {
    const slot = this.ids.number(record.id);
    const isNew = slot >= this.size || !hasBit(this.live, slot);
    this.room(slot);
    const { shot, fields } = record;
    const moved = (name: NumberName, value: number): boolean => {
      const column = this.numbers[name];
      const before = column[slot];
      column[slot] = value;
      return !Object.is(before, column[slot]);
    };
    const timed = [moved('day', record.day), moved('second', record.second)].some(Boolean);
    const named = this.texts.names.set(slot, textOfList(record.names));
    moved('addedAt', record.addedAt);
    moved('rating', typeof fields.rating === 'number' ? fields.rating : 0);
    moved('copies', Math.min(255, record.copies));
    moved('flags', flagsOf(record));
    moved('aspect', record.aspect);
    moved('megapixels', record.megapixels);
    moved('safeUntil', record.safeUntil);
    moved('hashHigh', record.measures?.high ?? 0);
    moved('hashLow', record.measures?.low ?? 0);
    COLOUR_COLUMNS.forEach((name, at) => moved(name, colourAt(record, at)));
    const position = positionIn(fields);
    moved('lat', position?.lat ?? NaN);
    moved('lon', position?.lon ?? NaN);
    const shots = [
      moved('clock', orNaN(shot.at)),
      moved('exposure', orNaN(shot.seconds)),
      moved('fNumber', orNaN(shot.fNumber)),
      moved('iso', orNaN(shot.iso)),
      moved('focal', orNaN(shot.focalMm)),
      moved('bias', orNaN(shot.biasEv)),
      this.texts.body.set(slot, shot.body),
      this.texts.given.set(slot, shot.given ?? ''),
      this.texts.stems.set(slot, textOfList(shot.stems)),
      !sameOverlaps(this.overlaps.get(slot), shot.overlaps),
    ].some(Boolean);
    if (Object.keys(shot.overlaps).length > 0) this.overlaps.set(slot, shot.overlaps);
    else this.overlaps.delete(slot);
    this.texts.camera.set(slot, record.camera);
    this.texts.lens.set(slot, record.lens);
    this.texts.format.set(slot, record.format);
    this.texts.profile.set(slot, record.profile);
    this.texts.drives.set(slot, textOfList(record.drives));
    this.texts.onlyOn.set(slot, textOfList(record.onlyOn));
    this.texts.onDrives.set(slot, statusText(record.onDrives));
    this.texts.folders.set(slot, textOfList(record.folders));
    this.texts.driveFolders.set(slot, textOfList(record.driveFolders));
    this.texts.accession.set(slot, numberAmong(wordsIn(fields.identifier)) ?? '');
    this.texts.place.set(
      slot,
      [fields.country, fields.province, fields.city, fields.sublocation]
        .filter((part) => typeof part === 'string')
        .join(', '),
    );
    this.lists.sent.set(slot, record.sent);
    this.putFields(slot, fields);
    if (isNew) {
      setBit(this.live, slot);
      this.liveCount += 1;
    }
    return { slot, order: isNew || timed || named, sets: isNew || shots || named };
  }

  remove(slot: number): void {
    if (!this.isLive(slot)) return;
    clearBit(this.live, slot);
    this.liveCount -= 1;
  }

  /** A form of the first name that sorts as numbered. */
  nameForm(slot: number): string {
    return numbered(this.strings('names', slot)[0] ?? '');
  }

  /** Bytes of texts as they are written, identifiers and names included. */
  get textBytes(): number {
    const columns = [...Object.values(this.texts), ...this.fields.values()];
    return [
      this.ids,
      ...columns.map(({ strings }) => strings),
      ...Object.values(this.lists).map(({ words }) => words),
    ].reduce((sum, strings) => sum + strings.textBytes, 0);
  }

  save(sections: Sections): void {
    const { size } = this;
    sections.put('live', this.live.slice(0, (size + 31) >>> 5) as Uint32Array<ArrayBuffer>);
    this.ids.save(sections, 'ids');
    for (const [name, column] of Object.entries(this.numbers)) sections.put(`number.${name}`, column.slice(0, size));
    for (const name of TEXTS) this.texts[name].save(sections, `text.${name}`, size);
    for (const [key, column] of this.fields) column.save(sections, `field.${key}`, size);
    for (const name of LISTS) this.lists[name].save(sections, `list.${name}`, size);
  }

  get overlapEntries(): [number, Shot['overlaps']][] {
    return [...this.overlaps];
  }

  static open(sections: Sections, overlaps: [number, Shot['overlaps']][]): Columns {
    const columns = new Columns();
    columns.ids = Strings.open(sections, 'ids');
    columns.size = columns.ids.size;
    columns.live = sections.get('live', Uint32Array);
    for (let slot = 0; slot < columns.size; slot++) if (hasBit(columns.live, slot)) columns.liveCount += 1;
    columns.numbers = Object.fromEntries(
      Object.entries(NUMBER_COLUMNS).map(([name, kind]) => [name, sections.get<TypedColumn>(`number.${name}`, kind)]),
    ) as unknown as Numbers;
    for (const name of TEXTS) columns.texts[name] = TextColumn.open(sections, `text.${name}`);
    for (const { key } of FIELDS)
      if (sections.has(`field.${key}.starts`)) columns.fields.set(key, TextColumn.open(sections, `field.${key}`));
    for (const name of LISTS) columns.lists[name] = ListColumn.open(sections, `list.${name}`);
    columns.overlaps = new Map(overlaps);
    return columns;
  }

  private putFields(slot: number, fields: FieldValues): void {
    for (const name of LISTS) if (name !== 'sent') this.lists[name].set(slot, wordsIn(fields[name]));
    for (const [key, column] of this.fields) if (fields[key] === undefined) column.set(slot, '');
    for (const [key, value] of Object.entries(fields) as [FieldKey, FieldValue][]) {
      if (isListed(key) || value === undefined) continue;
      let column = this.fields.get(key);
      if (!column) this.fields.set(key, (column = new TextColumn()));
      column.set(slot, textOfValue(value));
    }
  }

  private room(slot: number): void {
    this.size = Math.max(this.size, slot + 1);
    if (slot < this.numbers.day.length) return;
    for (const name of Object.keys(this.numbers) as NumberName[])
      Object.assign(this.numbers, { [name]: grown(this.numbers[name] as TypedColumn, Math.max(1024, slot + 1)) });
    const live = bitsFor(this.numbers.day.length);
    live.set(this.live.subarray(0, live.length));
    this.live = live;
  }
}

const sameOverlaps = (a: Shot['overlaps'] | undefined, b: Shot['overlaps']): boolean => {
  const keys = Object.keys(b);
  return keys.length === Object.keys(a ?? {}).length && keys.every((key) => a?.[key] === b[key]);
};

/** A value as a column keeps it: text behind a quotation mark, all else as JSON, which then never begins with one. */
const textOfValue = (value: FieldValue): string => (typeof value === 'string' ? `"${value}` : JSON.stringify(value));
export const valueOf = (text: string): FieldValue =>
  text.startsWith('"') ? text.slice(1) : (JSON.parse(text) as FieldValue);

/** Each behind the other, each with a sign at its end that no name has. */
const textOfList = (list: readonly string[]): string => (list.length === 0 ? '' : `${list.join('\0')}\0`);
export const listIn = (text: string): string[] => (text === '' ? [] : text.slice(0, -1).split('\0'));

function flagsOf(record: SearchRecord): number {
  const flag = (is: boolean, bit: number) => (is ? bit : 0);
  return (
    flag(hasOpenBlank(record.fields), FLAG.blank) |
    flag(!record.placed, FLAG.unplaced) |
    flag(record.large, FLAG.large) |
    flag(wrongCodes(record.fields).length > 0, FLAG.wrongCode) |
    flag(noticeLacks(record.fields.copyrightNotice).length > 0, FLAG.notice) |
    flag(record.names.length > 0 && record.names.every(isCameraName), FLAG.cameraName) |
    flag(record.shot.fraction, FLAG.fraction) |
    flag(record.shot.raw, FLAG.raw) |
    flag(record.edited, FLAG.edited) |
    flag(!isIdentity(correctionsIn(record.fields.corrections)), FLAG.corrected) |
    flag(record.video, FLAG.video) |
    flag(record.measures !== null, FLAG.measured) |
    flag(record.lacks.includes('copies'), FLAG.fewCopies) |
    flag(record.lacks.includes('elsewhere'), FLAG.noneElsewhere) |
    FILE_MARKS.reduce((sum, mark) => sum | flag(record.marks.includes(mark), FLAG[mark]), 0)
  );
}
