// Containers from an outside encoder (sharp), whole and hostile: cut at every length, every byte bent. A file that lies
// costs its lie: always a reading, never an exception, never a wait.

import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '../bytes/source';
import { readPhoto } from '../reading/reading';
import { endingOf, isPhotoName, isRawName, sniffFormat } from './formats';

const XMP = '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:City="Gjógv"/></rdf:RDF></x:xmpmeta>';
const files = new Map<string, Buffer>();

beforeAll(async () => {
  const image = () => sharp({ create: { width: 21, height: 13, channels: 3, background: '#567' } }).withExif({ IFD0: { Model: 'Norda' } });
  files.set('jpg', await image().withXmp(XMP).jpeg().toBuffer());
  files.set('webp', await image().withXmp(XMP).webp({ lossless: true }).toBuffer());
  files.set('tif', await image().withXmp(XMP).tiff().toBuffer());
  files.set('png', await image().png().toBuffer());
});

const KINDS = ['jpg', 'webp', 'tif', 'png'];
const read = (bytes: Uint8Array, kind: string) => readPhoto(memorySource(bytes), `x.${kind}`);

describe.each(KINDS)('a %s', (kind) => {
  it('gives size, camera and, where the encoder put it, XMP', async () => {
    const reading = await read(files.get(kind) ?? new Uint8Array(), kind);
    expect(reading).toMatchObject({ width: 21, height: 13, problems: [] });
    // the encoder leaves EXIF out of TIFF; tests/reference has TIFF by ExifTool
    if (kind !== 'tif') expect(reading.camera.model).toBe('Norda');
    if (kind !== 'png') expect(reading.fields.city).toBe('Gjógv');
  });

  it('cut at every length ends in a reading', async () => {
    const whole = files.get(kind) ?? new Uint8Array();
    let tried = 0;
    for (let length = 0; length < whole.length; length += 1 + Math.floor(length / 400)) {
      expect(await read(whole.subarray(0, length), kind)).toHaveProperty('problems');
      tried += 1;
    }
    expect(tried).toBeGreaterThan(100);
  });

  it('with any byte of its head set to 0, 127 or 255 ends in a reading, soon', async () => {
    const whole = files.get(kind) ?? new Uint8Array();
    let tried = 0;
    for (let at = 0; at < Math.min(whole.length, 700); at++) {
      for (const value of [0, 127, 255]) {
        const bent = Uint8Array.from(whole);
        bent[at] = value;
        expect(await read(bent, kind)).toHaveProperty('problems');
        tried += 1;
      }
    }
    expect(tried).toBeGreaterThan(300);
  });
});

describe('a file that claims more than it holds', () => {
  it('a TIFF directory with 65,535 entries, and a PNG chunk of 4 GB, are named and left', async () => {
    const tiff = Uint8Array.from([0x49, 0x49, 42, 0, 8, 0, 0, 0, 0xff, 0xff, 0, 0]);
    expect((await read(tiff, 'tif')).problems).toEqual([{ code: 'tiff/too-many-entries', limit: 4096 }]);
    const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0xff, 0xff, 0xff, 0xff, 0x69, 0x54, 0x58, 0x74]);
    expect((await read(png, 'png')).problems).toEqual([{ code: 'png/chunk-past-end', offset: 8 }]);
  });

  it('a source that says it is longer than it is gives what there is', async () => {
    const whole = files.get('jpg') ?? Buffer.alloc(0);
    const short = memorySource(whole.subarray(0, 200));
    expect(await readPhoto({ ...short, size: 1e9 }, 'x.jpg')).toHaveProperty('problems');
  });
});

describe('what a name and the first bytes say', () => {
  it.each([['a.JPG', 'jpg'], ['.hidden', ''], ['a.b/c', ''], ['x.tar.DNG', 'dng'], ['no ending', '']])('the ending of %s is %j', (name, ending) => {
    expect(endingOf(name)).toBe(ending);
  });

  it('raws are told from TIFF by their name, everything else by its bytes', () => {
    const tiff = Uint8Array.from([0x49, 0x49, 42, 0, 8, 0, 0, 0]);
    expect([sniffFormat(tiff, 'x.tif'), sniffFormat(tiff, 'x.DNG'), sniffFormat(tiff, 'x.jpg')]).toEqual(['tiff', 'raw', 'tiff']);
    expect(sniffFormat(files.get('jpg') ?? new Uint8Array(), 'x.png')).toBe('jpeg');
    expect([isPhotoName('x.heic'), isPhotoName('x.txt'), isRawName('x.nef'), isRawName('x.jpg')]).toEqual([true, false, true, false]);
  });
});
