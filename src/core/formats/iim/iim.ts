// IPTC-IIM 4.2: datasets of a record, a number, a length and bytes. Every dataset is kept as it stands. The character
// set is what dataset 1:90 says where it says UTF-8, else UTF-8 where the bytes are strictly that, else Windows-1252:
// most old files carry Latin-1 and say nothing.

import { decodeUtf8, decodeUtf8OrWindows1252 } from '../../bytes/text';
import { ByteView } from '../../bytes/view';
import type { Problem } from '../../problems/problem';
import type { IimDataset } from './datasets';

export interface Dataset {
  record: number;
  dataset: number;
  value: Uint8Array;
}

export interface Iim {
  /** In file order. */
  datasets: Dataset[];
  /** Whether all bytes were understood. What was not is never written over. */
  whole: boolean;
  problems: Problem[];
}

/** Dataset 1:90: the escape sequence of ISO 2022 that announces UTF-8 (ISO-IR 196). */
export const UTF8_ESCAPE = '\x1b%G';
const DATASETS_LIMIT = 10_000;

/**
 * A dataset that lies about its length costs itself, not its neighbours: where no dataset follows it, or it would end
 * outside the block, reading goes on at the next place that looks like one.
 */
export function parseIim(bytes: Uint8Array): Iim {
  const view = new ByteView(swapped(bytes));
  const iim: Iim = { datasets: [], whole: true, problems: [] };
  let at = 0;
  let lastStart = 0;
  while (at < view.length && iim.datasets.length < DATASETS_LIMIT) {
    const last = iim.datasets.at(-1);
    if (view.u8(at) !== MARKER) {
      if (view.bytes.subarray(at).every((byte) => byte === 0)) break;
      iim.whole = false;
      const next = nextDataset(view, lastStart);
      if (last) iim.problems.push({ code: 'iim/length-wrong', record: last.record, dataset: last.dataset });
      if (next === null) break;
      if (last && next < at) last.value = view.bytes.subarray(lastStart, next);
      at = next;
    }
    const { record, dataset, start, length } = headerAt(view, at);
    const value = length === null ? null : view.slice(start, length);
    if (value !== null && length !== null) {
      iim.datasets.push({ record, dataset, value });
      lastStart = start;
      at = start + length;
      continue;
    }
    iim.whole = false;
    iim.problems.push({ code: 'iim/length-past-end', record, dataset });
    const next = nextDataset(view, at + 1);
    if (next === null) break;
    at = next;
  }
  iim.problems.push(...undecodable(iim.datasets));
  return iim;
}

const MARKER = 0x1c;

/**
 * The five bytes of a dataset's head, or more where it is an extended one. `length` is `null` where it cannot be read.
 */
function headerAt(
  view: ByteView,
  at: number,
): { record: number; dataset: number; start: number; length: number | null } {
  const head = { record: view.u8(at + 1) ?? 0, dataset: view.u8(at + 2) ?? 0 };
  const length = view.u16(at + 3);
  if (length === null || !(length & 0x8000)) return { ...head, start: at + 5, length };
  // extended dataset: the low bits say how many bytes hold the length
  const size = length & 0x7fff;
  return {
    ...head,
    start: at + 5 + size,
    length: size === 4 ? view.u32(at + 5) : size === 2 ? view.u16(at + 5) : null,
  };
}

/** The next place from `from` on that has the marker, a record of the standard (1 to 9) and a length that fits. */
function nextDataset(view: ByteView, from: number): number | null {
  for (let at = view.bytes.indexOf(MARKER, from); at >= 0; at = view.bytes.indexOf(MARKER, at + 1)) {
    const { record, start, length } = headerAt(view, at);
    if (record >= 1 && record <= 9 && length !== null && start + length <= view.length) return at;
  }
  return null;
}

/** IIM that stands in several blocks, one after the other; each may be filled up with zeros. */
export function parseIimBlocks(blocks: readonly Uint8Array[]): Iim {
  const parsed = blocks.map(parseIim);
  return {
    datasets: parsed.flatMap(({ datasets }) => datasets),
    whole: parsed.every(({ whole }) => whole),
    problems: parsed.flatMap(({ problems }) => problems),
  };
}

/** Some TIFF writers stored the datasets as 32-bit numbers and so turned every four bytes round. */
function swapped(bytes: Uint8Array): Uint8Array {
  if (bytes[0] === 0x1c || bytes[3] !== 0x1c || bytes.length % 4 !== 0) return bytes;
  const turned = new Uint8Array(bytes.length);
  for (let at = 0; at < bytes.length; at++) turned[at] = bytes[(at & ~3) + 3 - (at & 3)] ?? 0;
  return turned;
}

export const isDataset = ({ record, dataset }: Dataset, of: Pick<IimDataset, 'record' | 'dataset'>): boolean =>
  record === of.record && dataset === of.dataset;

const saysUtf8 = (datasets: readonly Dataset[]): boolean => {
  const escape = datasets.find((item) => isDataset(item, { record: 1, dataset: 90 }))?.value;
  return escape !== undefined && new ByteView(escape).startsWith(UTF8_ESCAPE);
};

const undecodable = (datasets: readonly Dataset[]): Problem[] =>
  saysUtf8(datasets)
    ? datasets
        .filter(({ record, value }) => record === 2 && decodeUtf8(value) === null)
        .map(({ record, dataset }) => ({ code: 'iim/text-undecodable', record, dataset }))
    : [];

export const iimText = (value: Uint8Array): string => decodeUtf8OrWindows1252(value).replace(/\0+$/, '');

/**
 * What IIM says in a dataset, in the words XMP would hold: codes without their wrapping, dates in ISO 8601. Empty ones
 * are left out.
 */
export function iimStrings({ datasets }: Pick<Iim, 'datasets'>, row: IimDataset): string[] {
  const texts = textsOf(datasets, row);
  if (row.notation === 'date') {
    const time = row.time ? textsOf(datasets, row.time)[0] : undefined;
    return texts.slice(0, 1).flatMap((date) => isoOfIim(date, time) ?? []);
  }
  const strings = texts.map((text) => unwrapped(row, row.padded ? text.trimEnd() : text));
  return strings.filter((text) => text !== '');
}

const textsOf = (datasets: readonly Dataset[], row: Pick<IimDataset, 'record' | 'dataset'>): string[] =>
  datasets.filter((item) => isDataset(item, row)).map(({ value }) => iimText(value));

function unwrapped({ notation }: IimDataset, text: string): string {
  if (notation === 'numbered') return /^\d{3}:(.*)$/s.exec(text)?.[1] ?? text;
  if (notation === 'reference') return /^[^:]*:(\d{8})(?::|$)/.exec(text)?.[1] ?? text;
  return text;
}

/**
 * `20190704` and `140322+0100` → `2019-07-04T14:03:22+01:00`; zeros stand for what is not known. Some writers put
 * colons or dashes in.
 */
function isoOfIim(date: string, time: string | undefined): string | null {
  const day = /^(\d{4})[:-]?(\d{2})[:-]?(\d{2})$/.exec(date.trim());
  if (!day || day[1] === '0000') return null;
  if (day[2] === '00') return day[1] ?? null;
  if (day[3] === '00') return `${day[1]}-${day[2]}`;
  const clock = /^(\d{2}):?(\d{2}):?(\d{2})(?:([+-]\d{2}):?(\d{2}))?$/.exec((time ?? '').trim());
  const iso = `${day[1]}-${day[2]}-${day[3]}`;
  return clock ? `${iso}T${clock[1]}:${clock[2]}:${clock[3]}${clock[4] ? `${clock[4]}:${clock[5]}` : ''}` : iso;
}

/** Back into the two datasets of a date. A time of IIM always has its zone, so one without is left out. */
export function iimOfIso(iso: string): { date: string; time: string | null } | null {
  const found =
    /^(\d{4})(?:-(\d{2})(?:-(\d{2})(?:T(\d{2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?(Z|[+-]\d{2}:\d{2})?)?)?)?$/.exec(iso);
  if (!found) return null;
  const [, year, month = '00', day = '00', hour, minute, second = '00', zone] = found;
  const offset = zone === 'Z' ? '+0000' : zone?.replace(':', '');
  return { date: `${year}${month}${day}`, time: offset === undefined ? null : `${hour}${minute}${second}${offset}` };
}
