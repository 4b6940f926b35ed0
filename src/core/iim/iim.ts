// IPTC-IIM inside Photoshop image resources (resource 0x0404). Character set by dataset 1:90 where it names UTF-8,
// else strict UTF-8, else Windows-1252: most old files carry Latin-1 and say nothing.

import { decodeUtf8, decodeUtf8OrWindows1252 } from '../bytes/text';
import { ByteView } from '../bytes/view';
import type { Problem } from '../problems/problem';

const IIM_RESOURCE = 0x0404;
const UTF8_ESCAPE = '\x1b%G';
const DATASETS_LIMIT = 10_000;

export interface IimReading {
  /** `record:dataset` to its values in file order. */
  values: Map<string, string[]>;
  problems: Problem[];
}

/** Finds the IIM bytes among Photoshop's resource blocks: `8BIM`, id, padded Pascal name, length, data padded to even. */
export function iimOfPhotoshop(resources: Uint8Array): Uint8Array[] {
  const view = new ByteView(resources);
  const found: Uint8Array[] = [];
  let at = 0;
  while (view.ascii(at, 4) === '8BIM') {
    const id = view.u16(at + 4);
    const nameLength = view.u8(at + 6) ?? 0;
    const lengthAt = at + 6 + (nameLength + 1 + ((nameLength + 1) % 2));
    const length = view.u32(lengthAt);
    if (length === null) break;
    if (id === IIM_RESOURCE) found.push(resources.subarray(lengthAt + 4, lengthAt + 4 + length));
    at = lengthAt + 4 + length + (length % 2);
  }
  return found;
}

export function parseIim(bytes: Uint8Array): IimReading {
  const { datasets, problems } = splitDatasets(bytes);
  const escape = datasets.find(({ record, dataset }) => record === 1 && dataset === 90)?.value;
  const saysUtf8 = escape !== undefined && new ByteView(escape).ascii(0, escape.length) === UTF8_ESCAPE;
  const values = new Map<string, string[]>();
  for (const { record, dataset, value } of datasets) {
    if (record !== 2) continue;
    const text = decodeUtf8OrWindows1252(value);
    if (saysUtf8 && decodeUtf8(value) === null) problems.push({ code: 'iim/text-undecodable', record, dataset });
    const key = `${record}:${dataset}`;
    values.set(key, [...(values.get(key) ?? []), text.replace(/\0+$/, '')]);
  }
  return { values, problems };
}

function splitDatasets(bytes: Uint8Array) {
  const view = new ByteView(bytes);
  const datasets: { record: number; dataset: number; value: Uint8Array }[] = [];
  const problems: Problem[] = [];
  let at = 0;
  for (let count = 0; view.u8(at) === 0x1c && count < DATASETS_LIMIT; count++) {
    const record = view.u8(at + 1) ?? 0;
    const dataset = view.u8(at + 2) ?? 0;
    let length = view.u16(at + 3);
    let start = at + 5;
    if (length !== null && length & 0x8000) {
      // extended dataset: the low bits say how many bytes hold the length
      const size = length & 0x7fff;
      length = size === 4 ? view.u32(start) : null;
      start += size;
    }
    const value = length === null ? null : view.slice(start, length);
    if (value === null || length === null) {
      problems.push({ code: 'iim/length-past-end', record, dataset });
      break;
    }
    datasets.push({ record, dataset, value });
    at = start + length;
  }
  return { datasets, problems };
}
