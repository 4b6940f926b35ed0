// The composite of a PSD, told as a TIFF, is read by libtiff (through sharp), and has the pixels that were put in.

import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { memorySource } from '../../bytes/source';
import { type PsdReading, readPsdComposite } from './psd-composite';

interface Made {
  mode: number;
  channels: number;
  depth?: number;
  compression?: 0 | 1 | 2;
  palette?: Buffer;
  large?: boolean;
}

const [WIDTH, HEIGHT] = [37, 11];

/** Planes one after the other, row by row. */
const planesOf = (channels: number, bytesPerSample = 1): Buffer =>
  Buffer.from(Array.from({ length: channels * WIDTH * HEIGHT * bytesPerSample }, (_, at) => (at * 7) % 251));

/** PackBits (TIFF 6.0, section 9) of one run of literals after the other. */
function packed(row: Buffer): Buffer {
  const parts: Buffer[] = [];
  for (let at = 0; at < row.length; at += 128) {
    const literals = row.subarray(at, at + 128);
    parts.push(Buffer.from([literals.length - 1]), literals);
  }
  return Buffer.concat(parts);
}

const u16 = (value: number) => Buffer.from([value >> 8, value & 255]);
const u32 = (value: number) => {
  const bytes = Buffer.alloc(4);
  bytes.writeUInt32BE(value);
  return bytes;
};

function psd({ mode, channels, depth = 8, compression = 0, palette, large = false }: Made, planes: Buffer): Buffer {
  const rowBytes = (WIDTH * depth) / 8;
  const rows = Array.from({ length: channels * HEIGHT }, (_, at) =>
    planes.subarray(at * rowBytes, (at + 1) * rowBytes),
  );
  const packedRows = rows.map(packed);
  const data =
    compression === 1
      ? [...packedRows.map(({ length }) => (large ? u32(length) : u16(length))), ...packedRows]
      : [planes];
  return Buffer.concat([
    Buffer.from('8BPS'),
    u16(large ? 2 : 1),
    Buffer.alloc(6),
    u16(channels),
    u32(HEIGHT),
    u32(WIDTH),
    u16(depth),
    u16(mode),
    u32(palette?.length ?? 0),
    palette ?? Buffer.alloc(0),
    u32(0),
    large ? Buffer.alloc(8) : u32(0),
    u16(compression),
    ...data,
  ]);
}

const told = (bytes: Buffer): Promise<PsdReading> => readPsdComposite(memorySource(bytes));

async function asTiff(bytes: Buffer): Promise<Buffer> {
  const read = await told(bytes);
  if (read.state !== 'read') throw new Error(read.reason);
  const { head, from, end } = read.composite;
  return Buffer.concat([head, bytes.subarray(from, end)]);
}

/** Samples of a pixel one behind the other, as decoders give them. */
const interleaved = (planes: Buffer, channels: number): number[] =>
  Array.from(
    { length: WIDTH * HEIGHT * channels },
    (_, at) => planes[(at % channels) * WIDTH * HEIGHT + Math.floor(at / channels)]!,
  );

describe('the composite of a PSD as a TIFF', () => {
  it.each<[string, Made]>([
    ['three planes as they are', { mode: 3, channels: 3 }],
    ['three planes in PackBits', { mode: 3, channels: 3, compression: 1 }],
    ['a PSB, whose lengths have 32 bits', { mode: 3, channels: 3, compression: 1, large: true }],
    ['with saved channels behind the three, which are left', { mode: 3, channels: 5, compression: 1 }],
    ['grey', { mode: 1, channels: 1, compression: 1 }],
  ])('%s', async (_, made) => {
    const planes = planesOf(made.channels);
    const { data, info } = await sharp(await asTiff(psd(made, planes)))
      .toColourspace(made.mode === 1 ? 'b-w' : 'srgb')
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([WIDTH, HEIGHT]);
    const shown = made.mode === 3 ? 3 : 1;
    expect(info.channels).toBe(shown);
    expect([...data]).toEqual(interleaved(planes, shown));
  });

  it('16 bits a channel', async () => {
    const planes = planesOf(3, 2);
    const { data } = await sharp(await asTiff(psd({ mode: 3, channels: 3, depth: 16 }, planes)))
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const words = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    const plane = WIDTH * HEIGHT;
    expect([...words]).toEqual(
      Array.from({ length: plane * 3 }, (_, at) => planes.readUInt16BE(((at % 3) * plane + Math.floor(at / 3)) * 2)),
    );
  });

  it('a palette, whose reds, greens and blues stand apart', async () => {
    const palette = Buffer.from(Array.from({ length: 768 }, (_, at) => (at * 3) % 256));
    const planes = planesOf(1);
    const { data } = await sharp(await asTiff(psd({ mode: 2, channels: 1, palette }, planes)))
      .raw()
      .toBuffer({ resolveWithObject: true });
    const expected = [...planes].flatMap((index) => [0, 1, 2].map((channel) => palette[channel * 256 + index]!));
    expect([...data]).toEqual(expected);
  });

  it('says how inks and Lab are written', async () => {
    const numbers = async (mode: number, channels: number) => {
      const read = await told(psd({ mode, channels }, planesOf(channels)));
      return read.state === 'read' && read.composite.numbers;
    };
    expect([await numbers(3, 3), await numbers(4, 4), await numbers(9, 3)]).toEqual(['as-written', 'inverted', 'lab']);
  });

  it('refuses what it does not know, and what ends too early', async () => {
    const reason = async (bytes: Buffer) => {
      const read = await told(bytes);
      return read.state === 'refused' && read.reason;
    };
    const whole = psd({ mode: 3, channels: 3, compression: 1 }, planesOf(3));
    expect(await reason(psd({ mode: 7, channels: 3 }, planesOf(3)))).toBe('mode');
    expect(await reason(psd({ mode: 3, channels: 3, compression: 2 }, planesOf(3)))).toBe('compression');
    expect(await reason(whole.subarray(0, 50))).toBe('cut-short');
    expect(await reason(whole.subarray(0, 36))).toBe('cut-short');
    expect(await reason(Buffer.from('no picture at all, of no kind'))).toBe('not-psd');
    const claimed = Buffer.from(whole);
    claimed.writeUInt32BE(0x7fffffff, 14);
    expect(await reason(claimed)).toBe('too-large');
    for (let cut = 0; cut < whole.length; cut += 3)
      expect((await told(whole.subarray(0, cut))).state).toMatch(/read|refused/);
  });
});
