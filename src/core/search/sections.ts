// The saved index as one file: a head that says which arrays follow, of what kind and where, then the arrays as they
// lie in memory.
//
//   8 bytes   "WMBOIDX1"
//   4 bytes   length of the head, 4 bytes sum over all that follows (32 bits, little-endian, as all numbers)
//   head      JSON: version of the content, size of the whole, sections by name as [kind, offset, length in items]
//   sections  each at a multiple of 8 bytes
//
// A file that is cut, damaged or of another version is no index: it is built anew from the catalog.

import type { TypedColumn } from './strings';

const MAGIC = 'WMBOIDX1';
const HEAD_START = 16;

const KINDS = { Uint8Array, Int8Array, Uint16Array, Int32Array, Uint32Array, Float32Array, Float64Array } as const;
type Kind = keyof typeof KINDS;

interface Head {
  version: number;
  size: number;
  meta: unknown;
  sections: Record<string, [kind: Kind, offset: number, length: number]>;
}

const aligned = (offset: number): number => (offset + 7) & ~7;

export class Sections {
  private readonly arrays = new Map<string, TypedColumn>();
  /** Plain facts beside the arrays; JSON. */
  meta: unknown = null;

  put(name: string, array: TypedColumn): void {
    this.arrays.set(name, array);
  }

  /** An empty one where there is none of that name. */
  get<A extends TypedColumn>(name: string, kind: new (length: number) => A): A {
    const found = this.arrays.get(name);
    return found instanceof kind ? found : new kind(0);
  }

  has(name: string): boolean {
    return this.arrays.has(name);
  }

  get names(): string[] {
    return [...this.arrays.keys()];
  }

  toBytes(version: number): Uint8Array<ArrayBuffer> {
    const sections: Head['sections'] = {};
    let offset = 0;
    for (const [name, array] of this.arrays) {
      sections[name] = [kindOf(array), offset, array.length];
      offset = aligned(offset + array.byteLength);
    }
    const head = new TextEncoder().encode(
      JSON.stringify({ version, size: offset, meta: this.meta, sections } satisfies Head),
    );
    const start = aligned(HEAD_START + head.length);
    const bytes = new Uint8Array(aligned(start + offset));
    bytes.set(new TextEncoder().encode(MAGIC));
    bytes.set(head, HEAD_START);
    for (const [name, array] of this.arrays)
      bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), start + (sections[name]?.[1] ?? 0));
    const view = new DataView(bytes.buffer);
    view.setUint32(8, head.length, true);
    view.setUint32(12, sumOf(bytes), true);
    return bytes;
  }

  /** `null` for what is none, damaged, or of another version. The arrays are views of `bytes`. */
  static fromBytes(bytes: Uint8Array<ArrayBuffer>, version: number): Sections | null {
    if (
      bytes.length < HEAD_START ||
      bytes.byteOffset % 8 !== 0 ||
      new TextDecoder().decode(bytes.subarray(0, 8)) !== MAGIC
    )
      return null;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const headLength = view.getUint32(8, true);
    if (headLength > bytes.length - HEAD_START || bytes.length % 8 !== 0 || view.getUint32(12, true) !== sumOf(bytes))
      return null;
    // its sum was right: we wrote it
    const head = JSON.parse(new TextDecoder().decode(bytes.subarray(HEAD_START, HEAD_START + headLength))) as Head;
    const start = aligned(HEAD_START + headLength);
    if (head.version !== version || start + head.size !== bytes.length) return null;
    const sections = new Sections();
    sections.meta = head.meta;
    for (const [name, [kind, offset, length]] of Object.entries(head.sections))
      sections.put(name, new KINDS[kind](bytes.buffer, bytes.byteOffset + start + offset, length));
    return sections;
  }
}

const kindOf = (array: TypedColumn): Kind => array.constructor.name as Kind;

/** Over all but the head's first 16 bytes, four at a time: sees a byte that changed and words that changed places. */
function sumOf(bytes: Uint8Array<ArrayBuffer>): number {
  const words = new Uint32Array(bytes.buffer, bytes.byteOffset + HEAD_START, (bytes.length - HEAD_START) >>> 2);
  let sum = words.length;
  for (let at = 0; at < words.length; at++) sum = Math.imul((sum << 5) ^ (sum >>> 27) ^ (words[at] ?? 0), 0x9e3779b1);
  return sum >>> 0;
}
