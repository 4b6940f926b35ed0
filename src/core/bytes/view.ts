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

  u16(offset: number): number | null {
    return this.has(offset, 2) ? this.view.getUint16(offset, this.littleEndian) : null;
  }

  u32(offset: number): number | null {
    return this.has(offset, 4) ? this.view.getUint32(offset, this.littleEndian) : null;
  }

  i32(offset: number): number | null {
    return this.has(offset, 4) ? this.view.getInt32(offset, this.littleEndian) : null;
  }

  slice(offset: number, lengthBytes: number): Uint8Array | null {
    return this.has(offset, lengthBytes) ? this.bytes.subarray(offset, offset + lengthBytes) : null;
  }

  /** Bytes read as Latin-1: for magic numbers and tags, not for people's words. */
  ascii(offset: number, lengthBytes: number): string {
    const part = this.slice(offset, lengthBytes);
    return part ? String.fromCharCode(...part) : '';
  }
}
