// One bounds-checked view of bytes. Every number that came from a file is used through it:
// a read outside the bytes gives `null`, never an exception and never made-up zeros.

export class ByteView {
  private readonly view: DataView;

  constructor(
    readonly bytes: Uint8Array,
    readonly littleEndian = false,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  get length(): number {
    return this.bytes.length;
  }

  private has(offset: number, lengthBytes: number): boolean {
    return offset >= 0 && lengthBytes >= 0 && offset + lengthBytes <= this.bytes.length;
  }

  u8(offset: number): number | null {
    return this.has(offset, 1) ? this.view.getUint8(offset) : null;
  }

  i8(offset: number): number | null {
    return this.has(offset, 1) ? this.view.getInt8(offset) : null;
  }

  u16(offset: number): number | null {
    return this.has(offset, 2) ? this.view.getUint16(offset, this.littleEndian) : null;
  }

  i16(offset: number): number | null {
    return this.has(offset, 2) ? this.view.getInt16(offset, this.littleEndian) : null;
  }

  u32(offset: number): number | null {
    return this.has(offset, 4) ? this.view.getUint32(offset, this.littleEndian) : null;
  }

  i32(offset: number): number | null {
    return this.has(offset, 4) ? this.view.getInt32(offset, this.littleEndian) : null;
  }

  /** 64 bits as a number; `null` as well where it exceeds what a number holds exactly (no file is that large). */
  u64(offset: number): number | null {
    if (!this.has(offset, 8)) return null;
    const value = this.view.getBigUint64(offset, this.littleEndian);
    return value <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(value) : null;
  }

  f32(offset: number): number | null {
    return this.has(offset, 4) ? this.view.getFloat32(offset, this.littleEndian) : null;
  }

  f64(offset: number): number | null {
    return this.has(offset, 8) ? this.view.getFloat64(offset, this.littleEndian) : null;
  }

  slice(offset: number, lengthBytes: number): Uint8Array | null {
    return this.has(offset, lengthBytes) ? this.bytes.subarray(offset, offset + lengthBytes) : null;
  }

  /** Bytes read as Latin-1: for magic numbers and tags, not for people's words. Meant for a few bytes. */
  ascii(offset: number, lengthBytes: number): string {
    if (!this.has(offset, lengthBytes)) return '';
    let text = '';
    for (let at = offset; at < offset + lengthBytes; at++) text += String.fromCharCode(this.bytes[at] ?? 0);
    return text;
  }

  /** Whether `text` (Latin-1) stands at `offset`. */
  startsWith(text: string, offset = 0): boolean {
    if (!this.has(offset, text.length)) return false;
    for (let index = 0; index < text.length; index++)
      if (this.bytes[offset + index] !== text.charCodeAt(index)) return false;
    return true;
  }
}
