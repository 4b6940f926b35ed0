import { describe, expect, it } from 'vitest';
import { memorySource } from '../../bytes/source';
import { readPhoto } from './reading';
import { ascii, ratio, short, writeExif, writeIim, withBlocks, type Entries } from '@/demo/archive/tiff-writer';
import { positionIn } from '@/core/fields/values';

/** The smallest JPEG with a frame header: 16 × 12 pixels, no scan. */
const BARE = Buffer.from([0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 12, 0, 16, 1, 1, 0x11, 0, 0xff, 0xda, 0, 2, 0xff, 0xd9]);
const read = (bytes: Uint8Array, name = 'a.jpg') => readPhoto(memorySource(bytes), name);

const exif = () => {
  const main: Entries = new Map([
    [0x010f, ascii('Norda')],
    [0x0110, ascii('Norda K4 ')],
    [0x0112, short(6)],
    [0x010e, ascii('from EXIF')],
  ]);
  const detail: Entries = new Map([
    [0x829a, ratio([1, 250])],
    [0x829d, ratio([28, 10])],
    [0x8827, short(800)],
    [0x9003, ascii('2019:07:04 14:03:22')],
    [0x9011, ascii('+01:00')],
    [0x9291, ascii('07')],
  ]);
  const gps: Entries = new Map([
    [1, ascii('N')],
    [2, ratio([62, 1], [13, 1], [3600, 100])],
    [3, ascii('W')],
    [4, ratio([6, 1], [35, 1], [2000, 100])],
  ]);
  return writeExif(main, detail, gps);
};

describe('reading a JPEG', () => {
  it('gives capture data as written, with size and position as shown', async () => {
    const reading = await read(withBlocks(BARE, { exif: exif() }));
    expect(reading).toMatchObject({
      format: 'jpeg',
      width: 12,
      height: 16,
      orientation: 6,
      captured: { written: '2019-07-04T14:03:22.07', offset: '+01:00' },
      camera: { make: 'Norda', model: 'Norda K4' },
      exposure: { seconds: 0.004, fNumber: 2.8, iso: 800, focalMm: null },
      fields: { caption: 'from EXIF' },
      sources: { caption: 'exif' },
      problems: [],
    });
    expect(positionIn(reading.fields)?.lat).toBeCloseTo(62 + 13 / 60 + 36 / 3600, 8);
    expect(positionIn(reading.fields)?.lon).toBeCloseTo(-(6 + 35 / 60 + 20 / 3600), 8);
  });

  it.each(['latin1', 'utf8'] as const)('reads IIM text written as %s', async (encoding) => {
    const photoshop = writeIim(
      [
        [105, 'Bátar á Klaksvík'],
        [25, 'ørn'],
        [25, '007'],
        [90, 'Tórshavn'],
      ],
      encoding,
    );
    const { fields, sources } = await read(withBlocks(BARE, { photoshop }));
    expect(fields).toEqual({ headline: 'Bátar á Klaksvík', keywords: ['ørn', '007'], city: 'Tórshavn' });
    expect(sources.headline).toBe('iim');
  });

  it('takes EXIF before XMP before IIM, field by field, and says what disagrees', async () => {
    const xmp = Buffer.from(
      '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:Headline="from XMP"/></rdf:RDF></x:xmpmeta>',
    );
    const { fields, sources, disagreements } = await read(
      withBlocks(BARE, {
        exif: exif(),
        xmp,
        photoshop: writeIim(
          [
            [105, 'from IIM'],
            [120, 'caption from IIM'],
          ],
          'utf8',
        ),
      }),
    );
    expect(fields).toEqual({
      headline: 'from XMP',
      caption: 'from EXIF',
      captured: '2019-07-04T14:03:22.07+01:00',
      position: '62.226666667, -6.588888889',
    });
    expect(sources).toEqual({ headline: 'xmp', caption: 'exif', captured: 'exif', position: 'exif' });
    expect(disagreements).toEqual([
      {
        key: 'headline',
        said: [
          { family: 'xmp', value: 'from XMP' },
          { family: 'iim', value: 'from IIM' },
        ],
      },
      {
        key: 'caption',
        said: [
          { family: 'exif', value: 'from EXIF' },
          { family: 'iim', value: 'caption from IIM' },
        ],
      },
    ]);
  });

  it('an IIM dataset that lies about its length costs itself, not those before it', async () => {
    const photoshop = writeIim(
      [
        [105, 'kept'],
        [120, 'lost'],
      ],
      'utf8',
    );
    photoshop[photoshop.lastIndexOf(Buffer.from('lost')) - 1] = 200;
    const { fields, problems } = await read(withBlocks(BARE, { photoshop }));
    expect(fields).toEqual({ headline: 'kept' });
    expect(problems).toEqual([{ code: 'iim/length-past-end', record: 2, dataset: 120 }]);
  });
});

describe('reading a raw built on TIFF', () => {
  it('finds the embedded JPEG, wherever its directory lies, and the size of the full image', async () => {
    const entries = (at: number): Entries =>
      new Map([
        [0x00fe, { type: 4, numbers: [0] }],
        [0x0100, { type: 4, numbers: [6000] }],
        [0x0101, { type: 4, numbers: [4000] }],
        [0x0110, ascii('Norda K4')],
        [0x0201, { type: 4, numbers: [at] }],
        [0x0202, { type: 4, numbers: [BARE.length] }],
      ]);
    const length = writeExif(entries(0), new Map(), null).length;
    const raw = Buffer.concat([writeExif(entries(length), new Map(), null), BARE]);
    const reading = await read(raw, 'a.dng');
    expect(reading).toMatchObject({
      format: 'raw',
      width: 6000,
      height: 4000,
      camera: { model: 'Norda K4' },
      problems: [],
    });
    const [preview] = reading.previews;
    expect(raw.subarray(preview?.offset, (preview?.offset ?? 0) + (preview?.length ?? 0))).toEqual(BARE);
  });
});

describe('the bytes that are read', () => {
  /**
   * A file in which the metadata stand at the head, and a picture of megabytes behind; what is asked of it is written
   * down.
   */
  const asked = async (head: Buffer, name: string) => {
    const whole = Buffer.concat([head, Buffer.alloc(4_000_000, 7)]);
    const reads: number[] = [];
    const source = memorySource(whole);
    await readPhoto(
      { size: source.size, read: (offset, lengthBytes) => (reads.push(lengthBytes), source.read(offset, lengthBytes)) },
      name,
    );
    return reads;
  };

  it('are, of a JPEG, one read of its head', async () => {
    expect(await asked(withBlocks(BARE, { exif: exif(), photoshop: writeIim([[105, 'x']], 'utf8') }), 'a.jpg')).toEqual(
      [64 * 1024],
    );
  });

  it('are, of a raw, its head and a few pages where its directories point to', async () => {
    const directory = (at: number): Entries =>
      new Map([
        [0x0110, ascii('Norda K4')],
        [0x0201, { type: 4, numbers: [at] }],
        [0x0202, { type: 4, numbers: [30_000] }],
      ]);
    const reads = await asked(writeExif(directory(3_000_000), new Map(), null), 'a.nef');
    expect(reads.length).toBeLessThanOrEqual(3);
    expect(reads.reduce((sum, bytes) => sum + bytes, 0)).toBeLessThanOrEqual(128 * 1024);
  });
});

describe('files that are not what they seem', () => {
  it('an empty file and one of another kind are said to be so', async () => {
    expect((await read(new Uint8Array())).problems).toEqual([{ code: 'file/empty' }]);
    expect((await read(Buffer.from('hello, this is text'))).problems).toEqual([
      { code: 'file/not-understood', found: '68 65 6c 6c 6f 2c 20 74' },
    ]);
  });

  it('cut at every length, or with any byte set to 0, 1 or 255, ends in a reading', async () => {
    const whole = withBlocks(BARE, { exif: exif(), photoshop: writeIim([[105, 'x']], 'utf8') });
    let tried = 0;
    for (let length = 0; length < whole.length; length++) {
      expect(await read(whole.subarray(0, length))).toHaveProperty('problems');
      for (const value of [0, 1, 255]) {
        const bent = Uint8Array.from(whole);
        bent[length] = value;
        expect(await read(bent)).toHaveProperty('problems');
        tried += 1;
      }
    }
    expect(tried).toBe(whole.length * 3);
  });

  it('directories that point to each other are read once', async () => {
    const block = exif();
    const looped = Buffer.from(block);
    const entries = looped.readUInt16BE(8);
    looped.writeUInt32BE(8, 8 + 2 + entries * 12); // the next directory is this one
    const { problems, camera } = await read(withBlocks(BARE, { exif: looped }));
    expect(camera.make).toBe('Norda');
    expect(problems).toContainEqual({ code: 'tiff/directory-loop', offset: 8 });
  });
});
