// Tables as text: rows of cells parted by commas, semicolons or tabs, as RFC 4180 has them and as spreadsheets write
// them. The parting of cells is the work of a library; ours is what spreadsheets do around it: encodings, separators,
// ends of lines.

import { dsvFormat } from 'd3-dsv';

export type Separator = ',' | ';' | '\t';

/**
 * Bytes of a table: UTF-8 with or without a mark, UTF-16 with one, and otherwise the encoding Western spreadsheets fall
 * back to.
 */
export function decodeTable(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes.subarray(2));
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes.subarray(2));
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes).replace(/^\uFEFF/, '');
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/**
 * What parts the cells: what a first line `sep=;` says, or what stands most often outside quotes in the first lines.
 */
export function separatorOf(text: string): Separator {
  const said = /^sep=([,;\t])\r?\n/i.exec(text)?.[1];
  if (said) return said as Separator;
  const head = text.slice(0, 20_000).replace(/"(?:[^"]|"")*"/g, '');
  const count = (separator: Separator) => head.split(separator).length;
  return count('\t') > 1 && count('\t') >= count(',') && count('\t') >= count(';')
    ? '\t'
    : count(';') > count(',')
      ? ';'
      : ',';
}

/** Rows of cells; empty lines are left out. */
export function readTable(text: string, separator: Separator = separatorOf(text)): string[][] {
  const body = text.replace(/^sep=[,;\t]\r?\n/i, '');
  return dsvFormat(separator)
    .parseRows(body)
    .filter((cells) => cells.some((cell) => cell !== ''));
}

/** Ends of lines as RFC 4180 has them; inside a cell a line ends with a line feed alone, as spreadsheets have it. */
export function writeTable(rows: readonly (readonly string[])[], separator: Separator): string {
  const format = dsvFormat(separator);
  return rows.map((cells) => `${format.formatRow(cells.map((cell) => cell.replace(/\r\n?/g, '\n')))}\r\n`).join('');
}
