// Embedding from the inside: what is refused, what is put back, what another program's change means for us.

import { createHash } from 'node:crypto';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it } from 'vitest';
import { BARE_JPEG, exif, gif, raf } from '../../../../tests/fixtures/made-files';
import { ascii, short, writeExif, writeIim, withBlocks } from '@/demo/archive/tiff-writer';
import { joinBytes, u16Bytes, u32Bytes } from '../../bytes/join';
import { memorySource } from '../../bytes/source';
import { digestBoth, digestBothOf, digestImage } from '../picture-digest/image-digest';
import type { FieldValues } from '../../fields/registry';
import { readPhoto } from '../reading/reading';
import { planEmbed } from './embed';
import { sourceOfParts } from './parts';
import { newDigest } from '../../../../tools/node-digest';

const plan = (bytes: Uint8Array, fields: FieldValues, name = 'x.jpg') =>
  planEmbed(memorySource(bytes), name, fields, newDigest);
const read = (bytes: Uint8Array, name = 'x.jpg') => readPhoto(memorySource(bytes), name);
async function embedded(bytes: Uint8Array, fields: FieldValues, name = 'x.jpg'): Promise<Buffer> {
  const made = await plan(bytes, fields, name);
  if (made.state !== 'planned') throw new Error(JSON.stringify(made));
  const source = sourceOfParts(memorySource(bytes), made.parts);
  return Buffer.from(await source.read(0, source.size));
}
const imageOf = (bytes: Uint8Array, name = 'x.jpg') => digestImage(memorySource(bytes), name, newDigest);

describe('embedding', () => {
  it('never touches a raw, a GIF or an unknown file', async () => {
    for (const [bytes, name] of [
      [raf(), 'x.raf'],
      [exif(), 'x.nef'],
      [exif(), 'x.cr2'],
      [gif(), 'x.gif'],
      [Buffer.from('hello there, friend'), 'x.txt'],
    ] as const) {
      expect(await plan(bytes, { title: 'x' }, name), name).toEqual({ state: 'refused', reason: 'format' });
    }
  });

  it('adds nothing to a file in which a block is damaged', async () => {
    const iim = writeIim(
      [
        [105, 'kept'],
        [120, 'lost'],
      ],
      'utf8',
    );
    iim[iim.lastIndexOf(Buffer.from('lost')) - 1] = 200;
    const looped = exif();
    looped.writeUInt32BE(8, 8 + 2 + looped.readUInt16BE(8) * 12);
    const notUnderstood = writeIim(
      [
        [105, 'kept'],
        [120, 'lost'],
      ],
      'utf8',
    );
    notUnderstood[notUnderstood.lastIndexOf(Buffer.from('lost')) - 5] = 0x55; // where a dataset should begin
    const cut = withBlocks(BARE_JPEG, { exif: exif() }).subarray(0, 100);
    for (const bytes of [
      withBlocks(BARE_JPEG, { photoshop: iim }),
      withBlocks(BARE_JPEG, { photoshop: notUnderstood }),
      withBlocks(BARE_JPEG, { exif: looped }),
      withBlocks(BARE_JPEG, { xmp: Buffer.from('<x:xmpmeta') }),
      cut,
    ]) {
      expect(await plan(bytes, { title: 'x' })).toEqual({ state: 'refused', reason: 'damaged' });
    }
  });

  it('refuses what does not fit into EXIF rather than letting EXIF say something else', async () => {
    expect(await plan(withBlocks(BARE_JPEG, { exif: exif() }), { caption: 'ð'.repeat(40_000) })).toEqual({
      state: 'refused',
      reason: 'too-large',
    });
  });

  it('of what the file says already is nothing to do', async () => {
    const bytes = await embedded(withBlocks(BARE_JPEG, { exif: exif() }), {
      title: 'x',
      captured: '2019-07-04T14:03:22',
    });
    expect(await plan(bytes, (await read(bytes)).fields)).toEqual({ state: 'nothing-to-do' });
  });

  it('moves no offset of EXIF: a maker’s note with pointers of its own stays where it was, byte for byte', async () => {
    const block = writeExif(
      new Map([
        [0x010f, ascii('Norda')],
        [0x010e, ascii('before, with some length')],
        [0x0112, short(1)],
      ]),
      new Map([
        [0x9003, ascii('2019:07:04 14:03:22')],
        [0x927c, { type: 2, text: 'NORDA\u0001note that points into the block' }],
      ]),
      null,
    );
    const bytes = withBlocks(BARE_JPEG, { exif: block });
    const written = await embedded(bytes, { ...(await read(bytes)).fields, caption: 'after', creator: ['Á', 'B'] });
    const start = bytes.indexOf('Exif\0\0') + 6;
    expect(
      written.subarray(start + 8, start + block.length).equals(bytes.subarray(start + 8, start + block.length)),
    ).toBe(true);
    expect((await read(written)).fields).toMatchObject({
      caption: 'after',
      creator: ['Á', 'B'],
      captured: '2019-07-04T14:03:22',
    });
  });

  it('a second edit starts from the original again, so edits do not pile up; taken back, EXIF is its old bytes', async () => {
    const bytes = withBlocks(BARE_JPEG, { exif: exif() });
    const before = (await read(bytes)).fields;
    const once = await embedded(bytes, { ...before, caption: 'one' });
    const twice = await embedded(once, { ...before, caption: 'two' });
    expect(twice.length).toBe(once.length);
    const back = await embedded(twice, before);
    expect(back.includes(exif())).toBe(true);
  });

  it('what another program changed in what we appended is not thrown away', async () => {
    const bytes = withBlocks(BARE_JPEG, { exif: exif() });
    const once = await embedded(bytes, { ...(await read(bytes)).fields, caption: 'one' });
    // the other program turns the picture: orientation 6 in the directory that holds now, the last one
    const entry = joinBytes([u16Bytes(0x0112), u16Bytes(3), u32Bytes(1)]);
    once.writeUInt16BE(6, once.lastIndexOf(entry) + 8);
    const twice = await embedded(once, { ...(await read(once)).fields, caption: 'two' });
    expect(await read(twice)).toMatchObject({ orientation: 6, fields: { caption: 'two' } });
  });

  it('keeps further pictures after the main one findable', async () => {
    const second = Buffer.concat([BARE_JPEG.subarray(0, 7), Buffer.from([0, 30, 0, 40]), BARE_JPEG.subarray(11)]);
    const listed = (mainLength: number, offset: number) => {
      const entries = joinBytes([
        u32Bytes(0x030000),
        u32Bytes(mainLength),
        u32Bytes(0),
        u32Bytes(0),
        u32Bytes(0x010001),
        u32Bytes(second.length),
        u32Bytes(offset),
        u32Bytes(0),
      ]);
      const block = joinBytes([
        Buffer.from('MPF\0MM'),
        u16Bytes(42),
        u32Bytes(8),
        u16Bytes(1),
        u16Bytes(0xb002),
        u16Bytes(7),
        u32Bytes(32),
        u32Bytes(26),
        u32Bytes(0),
        entries,
      ]);
      return Buffer.from(joinBytes([Uint8Array.of(0xff, 0xe2), u16Bytes(block.length + 2), block]));
    };
    const main = (offset: number) =>
      Buffer.concat([BARE_JPEG.subarray(0, 2), listed(0, offset), BARE_JPEG.subarray(2)]);
    const bytes = Buffer.concat([main(main(0).length - 10), second]); // ten bytes lie before the header that offsets count from
    expect((await read(bytes)).previews).toEqual([
      { coding: 'jpeg', offset: bytes.length - second.length, length: second.length, width: 40, height: 30 },
    ]);
    const written = await embedded(bytes, { title: 'a title', headline: 'ø' });
    expect((await read(written)).previews).toEqual([
      { coding: 'jpeg', offset: written.length - second.length, length: second.length, width: 40, height: 30 },
    ]);
  });
});

describe('the digest of the picture', () => {
  const image = () =>
    sharp(Buffer.from(Array.from({ length: 40 * 30 * 3 }, (_, index) => (index * 5) % 256)), {
      raw: { width: 40, height: 30, channels: 3 },
    });

  it.each(['jpg', 'png', 'webp', 'tif', 'gif', 'avif'] as const)(
    'of a %s does not change with its metadata, and does with any pixel',
    async (ending) => {
      const encode = (from: Sharp) =>
        ({
          jpg: from.jpeg({ progressive: true }),
          png: from.png(),
          webp: from.webp({ lossless: true }),
          tif: from.tiff(),
          gif: from.gif(),
          avif: from.avif({ effort: 0 }),
        })[ending].toBuffer();
      const [plain, described, other] = [
        await encode(image()),
        await encode(image().withExif({ IFD0: { Artist: 'someone' } })),
        await encode(image().negate()),
      ];
      const digest = await imageOf(plain, `x.${ending}`);
      expect(digest).toMatch(/^[0-9a-f]{64}$/);
      expect(await imageOf(described, `x.${ending}`)).toBe(digest);
      expect(await imageOf(other, `x.${ending}`)).not.toBe(digest);
      const both = await digestBoth(memorySource(plain), `x.${ending}`, newDigest, () => undefined);
      expect(
        await digestBothOf(
          plain,
          `x.${ending}`,
          async (bytes) => new Uint8Array(createHash('sha256').update(bytes).digest()),
          newDigest,
        ),
      ).toEqual(both);
      expect(both).toEqual({ file: createHash('sha256').update(plain).digest('hex'), image: digest });
    },
  );

  it('of a JPEG counts the segment that says how colours were transformed, and not what follows the picture', async () => {
    const adobe = Buffer.concat([
      BARE_JPEG.subarray(0, 2),
      Buffer.from([0xff, 0xee, 0, 14]),
      Buffer.from('Adobe\0d\0\0\0\0\x01', 'latin1'),
      BARE_JPEG.subarray(2),
    ]);
    expect(await imageOf(adobe)).not.toBe(await imageOf(BARE_JPEG));
    expect(await imageOf(Buffer.concat([BARE_JPEG, Buffer.alloc(500, 3)]))).toBe(await imageOf(BARE_JPEG));
    expect(await imageOf(withBlocks(BARE_JPEG, { exif: exif() }))).toBe(await imageOf(BARE_JPEG));
  });

  it('is none where the file does not show which bytes are its picture', async () => {
    expect(await imageOf(Buffer.from('nothing of the kind here'), 'x.txt')).toBeNull();
    expect(await imageOf(exif(), 'x.nef')).toBeNull();
  });
});
