// IIM with the fields put in: what else is there stays as it stands, in its order. Text is UTF-8, and dataset 1:90 says
// so as soon as a letter is beyond ASCII; text in an older character set is carried over. Values longer than their
// dataset are cut at a whole character; XMP holds them whole.

import { joinBytes, sameBytes, u16Bytes, u32Bytes } from '../../bytes/join';
import { decodeUtf8, encodeUtf8 } from '../../bytes/text';
import { FIELDS, type FieldRow, type FieldValues } from '../../fields/registry';
import { toStrings } from '../../fields/values';
import { IIM_NAMES, type IimDataset } from '../../formats/iim/datasets';
import { type Dataset, UTF8_ESCAPE, iimOfIso, iimStrings, iimText, isDataset } from '../../formats/iim/iim';

type Number = Pick<IimDataset, 'record' | 'dataset'>;

const CHARACTER_SET: Number = { record: 1, dataset: 90 };
const VERSION: Number = { record: 2, dataset: 0 };
/** Not text: the version, and a picture of the caption. */
const BINARY = new Set(['2:0', '2:125']);

/** The datasets with every field in place; `null` where there is nothing to say and nothing there. */
export function planIim(existing: readonly Dataset[], fields: FieldValues): Uint8Array<ArrayBuffer> | null {
  let datasets = asUtf8(existing);
  for (const row of FIELDS) {
    if (!row.iim || row.iim.readOnly) continue;
    const wanted = wantedStrings(row, row.iim, fields);
    if (
      sameWords(
        iimStrings({ datasets }, row.iim),
        wanted.flatMap((text) => iimStrings({ datasets: wrapped(row.iim as IimDataset, text) }, row.iim as IimDataset)),
      )
    )
      continue;
    datasets = replaced(
      datasets,
      row.iim,
      wanted.flatMap((text) => wrapped(row.iim as IimDataset, text)),
    );
  }
  if (datasets.length === 0) return null;
  if (!datasets.some((item) => isDataset(item, VERSION)))
    datasets = inserted(datasets, { ...VERSION, value: u16Bytes(4) });
  if (datasets.some((item) => isText(item) && item.value.some((byte) => byte > 127)))
    datasets = replaced(datasets, CHARACTER_SET, [{ ...CHARACTER_SET, value: encodeUtf8(UTF8_ESCAPE) }]);
  return joinBytes(datasets.flatMap(writeDataset));
}

/** What of a field does not fit into IIM whole, for telling the person. */
export function cutByIim(row: FieldRow, fields: FieldValues): boolean {
  const { iim } = row;
  return (
    iim !== null &&
    !iim.readOnly &&
    iim.notation === undefined &&
    toStrings(fields[row.key]).some((text) => encodeUtf8(text).length > iim.maxBytes)
  );
}

const sameWords = (a: readonly string[], b: readonly string[]) =>
  a.length === b.length && a.every((text, index) => text === b[index]);

function wantedStrings(row: FieldRow, iim: IimDataset, fields: FieldValues): string[] {
  const strings = toStrings(fields[row.key]);
  if (iim.notation === 'date') return strings.slice(0, 1);
  // a reference is a code with its wrapping; words that are none have no place there
  if (iim.notation === 'reference' && !strings.every((text) => /^\d{8}$/.test(text))) return [];
  const cut = strings.map((text) => cutToBytes(text, iim.maxBytes)).filter((text) => text !== '');
  return iim.repeatable ? cut : cut.slice(0, 1);
}

/** As much of the text as fits, ended at a whole character. */
export function cutToBytes(text: string, maxBytes: number): string {
  const bytes = encodeUtf8(text);
  if (bytes.length <= maxBytes) return text;
  let end = maxBytes;
  while (end > 0 && ((bytes[end] ?? 0) & 0xc0) === 0x80) end -= 1;
  return decodeUtf8(bytes.subarray(0, end)) ?? '';
}

/** A value in its dataset's own notation: one dataset, or two for a date with its time. */
function wrapped(iim: IimDataset, text: string): Dataset[] {
  const { record, dataset } = iim;
  if (iim.notation === 'date') {
    const split = iimOfIso(text);
    const time =
      split?.time && iim.time
        ? [{ record: iim.time.record, dataset: iim.time.dataset, value: encodeUtf8(split.time) }]
        : [];
    return split ? [{ record, dataset, value: encodeUtf8(split.date) }, ...time] : [];
  }
  const words = iim.notation === 'reference' ? `IPTC:${text}:::` : iim.padded ? text.padEnd(iim.maxBytes) : text;
  return [{ record, dataset, value: encodeUtf8(words) }];
}

const isText = ({ record, dataset }: Dataset): boolean =>
  record === 2 && IIM_NAMES[`${record}:${dataset}`] !== undefined && !BINARY.has(`${record}:${dataset}`);

function asUtf8(datasets: readonly Dataset[]): Dataset[] {
  return datasets.map((item) =>
    isText(item) && decodeUtf8(item.value) === null ? { ...item, value: encodeUtf8(iimText(item.value)) } : item,
  );
}

/**
 * New datasets stand where the old ones did, else in the order of their numbers. Equal ones leave everything as it is.
 */
function replaced(
  datasets: readonly Dataset[],
  iim: Number & { time?: Number },
  values: readonly Dataset[],
): Dataset[] {
  const old = datasets.filter((item) => isDataset(item, iim) || (iim.time && isDataset(item, iim.time)));
  if (
    old.length === values.length &&
    old.every(({ value }, index) => sameBytes(value, values[index]?.value ?? new Uint8Array()))
  )
    return [...datasets];
  const others = datasets.filter((item) => !old.includes(item));
  const [first] = old;
  if (!first) return values.reduce<Dataset[]>(inserted, others);
  const at = others.findIndex((item) => datasets.indexOf(item) > datasets.indexOf(first));
  return others.toSpliced(at < 0 ? others.length : at, 0, ...values);
}

function inserted(datasets: readonly Dataset[], item: Dataset): Dataset[] {
  const at = datasets.findLastIndex(
    ({ record, dataset }) => record < item.record || (record === item.record && dataset <= item.dataset),
  );
  return datasets.toSpliced(at + 1, 0, item);
}

function writeDataset({ record, dataset, value }: Dataset): Uint8Array[] {
  // beyond 32,767 bytes the length takes four bytes more (IIM 4.2, section 1.5, extended dataset)
  const length = value.length < 0x8000 ? [u16Bytes(value.length)] : [u16Bytes(0x8004), u32Bytes(value.length)];
  return [Uint8Array.of(0x1c, record, dataset), ...length, value];
}
