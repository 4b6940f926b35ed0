// What the frame of a JPEG says, by an outside encoder (sharp); the first picture of an AVI; BigTIFF, written by libtiff.

import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { avi } from '../../../../tests/fixtures/made-files';
import { memorySource } from '../../bytes/source';
import { readPhoto } from '../../metadata/reading/reading';
import { firstAviFrame } from './avi-frame';
import { readFrame } from './jpeg-frame';

const plain = (width: number, height: number) => sharp({ create: { width, height, channels: 3, background: '#567' } });

describe('the frame of a JPEG', () => {
  it('says size, bits and channels: baseline, progressive, grey, four inks', async () => {
    const frame = async (bytes: Buffer) => readFrame(memorySource(bytes), 0);
    expect(await frame(await plain(300, 200).jpeg().toBuffer())).toEqual({
      marker: 0xc0,
      bits: 8,
      width: 300,
      height: 200,
      components: 3,
    });
    expect((await frame(await plain(30, 20).jpeg({ progressive: true }).toBuffer()))?.marker).toBe(0xc2);
    expect((await frame(await plain(30, 20).toColourspace('b-w').jpeg().toBuffer()))?.components).toBe(1);
    expect((await frame(await plain(30, 20).toColourspace('cmyk').jpeg().toBuffer()))?.components).toBe(4);
  });

  it('is absent where the file is none, or ends before it', async () => {
    const bytes = await plain(30, 20).jpeg().toBuffer();
    expect(await readFrame(memorySource(bytes.subarray(0, 12)), 0)).toBeNull();
    expect(await readFrame(memorySource(await plain(3, 2).png().toBuffer()), 0)).toBeNull();
  });
});

describe('the first picture of an AVI', () => {
  it('is found in its list of frames; none where the file ends before it', async () => {
    const jpeg = await plain(64, 48).jpeg().toBuffer();
    const chunk = (name: string, body: Buffer) => {
      const length = Buffer.alloc(4);
      length.writeUInt32LE(body.length);
      return Buffer.concat([Buffer.from(name), length, body, Buffer.alloc(body.length % 2)]);
    };
    const sound = chunk('01wb', Buffer.from('a sound'));
    const movi = chunk('LIST', Buffer.concat([Buffer.from('movi'), sound, chunk('00dc', jpeg)]));
    const file = Buffer.concat([Buffer.from('RIFF\0\0\0\0AVI '), chunk('LIST', Buffer.from('hdrlnothing')), movi]);
    const found = await firstAviFrame(memorySource(file));
    expect(found && file.subarray(found.offset, found.offset + found.length).equals(jpeg)).toBe(true);
    expect(await firstAviFrame(memorySource(file.subarray(0, 40)))).toBeNull();
    expect(await firstAviFrame(memorySource(avi()))).toBeNull();
  });
});

describe('BigTIFF', () => {
  it('is read as TIFF is: its size, its orientation, its profile', async () => {
    const bytes = await plain(21, 13)
      .tiff({ bigtiff: true })
      .withMetadata({ orientation: 6 })
      .withIccProfile('p3')
      .toBuffer();
    expect(bytes.readUInt16LE(2)).toBe(43);
    const reading = await readPhoto(memorySource(bytes), 'x.tif');
    expect([reading.format, reading.width, reading.height, reading.orientation]).toEqual(['tiff', 13, 21, 6]);
    expect([reading.profile, reading.problems]).toEqual(['sP3C', []]);
  });
});
