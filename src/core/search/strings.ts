// Distinct texts under numbers, from 0, in the order they came: as UTF-8 in one array, with a table of hashes beside
// it, so that a million of them are three arrays that are saved and opened as they are.

import type { Sections } from './sections';

const ENCODER = new TextEncoder();
/** Texts are encoded here, so that looking one up leaves nothing behind. */
let scratch = new Uint8Array(4096);
/** Repeated texts whose numbers are at hand; more than these are looked up. */
const AT_HAND = 4096;
const DECODER = new TextDecoder();
const SEED = 0x811c9dc5;
const PRIME = 0x01000193;

export interface StringParts {
  bytes: Uint8Array<ArrayBuffer>;
  starts: Uint32Array<ArrayBuffer>;
  table: Uint32Array<ArrayBuffer>;
}

export class Strings {
  private bytes = new Uint8Array(256);
  private starts = new Uint32Array(16);
  /** Number plus one at the hash's place, or behind it where that was taken; 0 is free. */
  private table = new Uint32Array(32);
  private count = 0;
  private readonly atHand = new Map<string, number>();

  get size(): number {
    return this.count;
  }

  /** Bytes of the texts themselves. */
  get textBytes(): number {
    return this.end;
  }

  /** Takes the text in where it is new. */
  number(text: string): number {
    const recent = this.atHand.get(text);
    if (recent !== undefined) return recent;
    const length = encode(text);
    const place = this.placeOf(length);
    const known = this.table[place] ?? 0;
    if (known > 0) {
      if (this.atHand.size < AT_HAND) this.atHand.set(text, known - 1); // it came twice
      return known - 1;
    }
    const number = this.append(length);
    this.table[place] = number + 1;
    if (this.count * 4 > this.table.length * 3) this.rehash(this.table.length * 2);
    return number;
  }

  /** −1 where it is not among them. */
  find(text: string): number {
    return (this.table[this.placeOf(encode(text))] ?? 0) - 1;
  }

  text(number: number): string {
    return number < 0 || number >= this.count
      ? ''
      : DECODER.decode(this.bytes.subarray(this.starts[number], this.starts[number + 1]));
  }

  *texts(): Iterable<string> {
    for (let number = 0; number < this.count; number++) yield this.text(number);
  }

  /** The arrays as they are, for keeping them or sending them across. */
  parts(): StringParts {
    return {
      bytes: this.bytes.slice(0, this.end),
      starts: this.starts.slice(0, this.count + 1),
      table: this.table.slice(),
    };
  }

  static fromParts({ bytes, starts, table }: StringParts): Strings {
    const strings = new Strings();
    if (starts.length > 0) Object.assign(strings, { bytes, starts, table, count: starts.length - 1 });
    return strings;
  }

  save(sections: Sections, name: string): void {
    for (const [part, array] of Object.entries(this.parts())) sections.put(`${name}.${part}`, array);
  }

  static open(sections: Sections, name: string): Strings {
    return Strings.fromParts({
      bytes: sections.get(`${name}.bytes`, Uint8Array),
      starts: sections.get(`${name}.starts`, Uint32Array),
      table: sections.get(`${name}.table`, Uint32Array),
    });
  }

  private get end(): number {
    return this.starts[this.count] ?? 0;
  }

  private append(length: number): number {
    const start = this.end;
    if (start + length > this.bytes.length) this.bytes = grown(this.bytes, start + length);
    if (this.count + 2 > this.starts.length) this.starts = grown(this.starts, this.count + 2);
    this.bytes.set(scratch.subarray(0, length), start);
    this.starts[this.count + 1] = start + length;
    return this.count++;
  }

  /** The place of the encoded text in the table, or the free one where it belongs. */
  private placeOf(length: number): number {
    const mask = this.table.length - 1;
    for (let place = hashOf(scratch, 0, length) & mask; ; place = (place + 1) & mask) {
      const known = this.table[place] ?? 0;
      if (known === 0 || this.isText(known - 1, length)) return place;
    }
  }

  private isText(number: number, length: number): boolean {
    const start = this.starts[number] ?? 0;
    if ((this.starts[number + 1] ?? 0) - start !== length) return false;
    for (let at = 0; at < length; at++) if (this.bytes[start + at] !== scratch[at]) return false;
    return true;
  }

  private rehash(length: number): void {
    this.table = new Uint32Array(length);
    const mask = length - 1;
    for (let number = 0; number < this.count; number++) {
      let place = hashOf(this.bytes, this.starts[number] ?? 0, this.starts[number + 1] ?? 0) & mask;
      while ((this.table[place] ?? 0) !== 0) place = (place + 1) & mask;
      this.table[place] = number + 1;
    }
  }
}

/** Into `scratch`, as UTF-8; returns the length. Most text is ASCII, which needs no encoder. */
function encode(text: string): number {
  if (text.length * 3 > scratch.length) scratch = new Uint8Array(text.length * 4);
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (code > 127) {
      const encoded = ENCODER.encode(text);
      scratch.set(encoded);
      return encoded.length;
    }
    scratch[at] = code;
  }
  return text.length;
}

/** FNV-1a (Fowler, Noll, Vo), its bits mixed so that the low ones depend on all. */
function hashOf(bytes: Uint8Array, start: number, end: number): number {
  let hash = SEED;
  for (let at = start; at < end; at++) hash = Math.imul(hash ^ (bytes[at] ?? 0), PRIME);
  return (hash ^ (hash >>> 15)) >>> 0;
}

/** A copy at least so long, and half as long again as before, so that growing costs little in all. */
export function grown<A extends TypedColumn>(column: A, length: number): A {
  const next = new (column.constructor as new (length: number) => A)(
    Math.max(length, Math.ceil(column.length * 1.5), 16),
  );
  next.set(column);
  return next;
}

export type TypedColumn =
  | Uint8Array<ArrayBuffer>
  | Int8Array<ArrayBuffer>
  | Uint16Array<ArrayBuffer>
  | Int32Array<ArrayBuffer>
  | Uint32Array<ArrayBuffer>
  | Float32Array<ArrayBuffer>
  | Float64Array<ArrayBuffer>;
