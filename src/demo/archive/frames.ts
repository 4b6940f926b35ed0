// The files of a frame: its painting with the metadata its camera and its describer would have written.

import sharp from 'sharp';
import { EXIF } from '@/core/formats/tiff/exif-tags';
import { FIELDS, type FieldValues } from '@/core/fields/registry';
import { toStrings } from '@/core/fields/values';
import { planSidecar } from '@/core/metadata/xmp/sidecar';
import { demoExifBlock, exifEntries } from './exif-block';
import { lyingOf } from './paintings';
import { writePsd } from './psd-writer';
import { writeDng, writeScan } from './raw-writer';
import { type Shoot, type ShootView, fieldsOf, frameName, takenAt } from './shoot';
import { type Entries, writeIim, withBlocks } from './tiff-writer';
import { asJpegXl, inDisplayP3, inSixteenBits, largeJpeg, wideJpeg } from './wide-formats';
import { CAMERAS } from './world';

export interface MadeFile {
  path: string;
  bytes: Buffer;
}

/** The files of one frame from its painting: image, companion, sidecar. */
export async function filesOfFrame(
  shoot: Shoot,
  view: ShootView,
  frame: number,
  painting: Buffer,
): Promise<MadeFile[]> {
  const name = `${shoot.folder}/${frameName(shoot, frame)}`;
  if (shoot.format === 'avi' || shoot.format === 'mp4')
    return [{ path: `${name}.${shoot.format.toUpperCase()}`, bytes: painting }];
  const fields = fieldsOf(shoot, frame);
  const files = await encode(shoot, view, frame, painting, name, fields);
  const [first] = files;
  if (shoot.described === 'sidecar' && first) files.push({ path: `${name}.xmp`, bytes: sidecarOf(fields, first.path) });
  return files;
}

function sidecarOf(fields: FieldValues, path: string): Buffer {
  const plan = planSidecar({ existing: null, fields, embedded: {}, ending: path.split('.').at(-1) ?? 'jpg' });
  if (!('bytes' in plan)) throw new Error('a new sidecar can always be planned');
  return Buffer.from(plan.bytes);
}

async function encode(
  shoot: Shoot,
  view: ShootView,
  frame: number,
  painting: Buffer,
  name: string,
  fields: FieldValues,
): Promise<MadeFile[]> {
  const image = sharp(painting);
  const camera = CAMERAS[shoot.camera];
  switch (shoot.format ?? 'jpeg') {
    case 'png':
      return [{ path: `${name}.png`, bytes: await image.grayscale().png({ compressionLevel: 9 }).toBuffer() }];
    case 'tiff': {
      const { data, info } = await image.grayscale().raw().toBuffer({ resolveWithObject: true });
      const small = await sharp(painting)
        .resize({ width: 800 })
        .jpeg({ quality: 78 })
        .toBuffer({ resolveWithObject: true });
      const { main, exif } = exifEntries(shoot, view, frame, {
        width: info.width,
        height: info.height,
        orientation: 1,
      });
      const picture = {
        width: info.width,
        height: info.height,
        channels: 1 as const,
        bits: 8 as const,
        pixels: data,
        profile: null,
        preview: { jpeg: small.data, width: small.info.width, height: small.info.height },
      };
      return [{ path: `${name}.tif`, bytes: writeScan(picture, main, exif) }];
    }
    case 'tiff16': {
      const { width, height, pixels, profile } = await inDisplayP3(painting);
      const { main, exif } = exifEntries(shoot, view, frame, { width, height, orientation: 1 });
      const picture = {
        ...{ width, height, profile, pixels: inSixteenBits(pixels) },
        ...{ channels: 3 as const, bits: 16 as const, preview: null },
      };
      return [{ path: `${name}.tif`, bytes: writeScan(picture, main, withoutSpace(exif)) }];
    }
    case 'psd': {
      const { data, info } = await image.raw().toBuffer({ resolveWithObject: true });
      const exif = demoExifBlock(shoot, view, frame, { width: info.width, height: info.height, orientation: 1 });
      return [{ path: `${name}.psd`, bytes: writePsd(data, info.width, info.height, exif) }];
    }
    case 'jxl': {
      const { width = 0, height = 0 } = await image.metadata();
      const exif = demoExifBlock(shoot, view, frame, { width, height, orientation: 1 });
      return [{ path: `${name}.jxl`, bytes: await asJpegXl(painting, exif) }];
    }
    case 'heic':
      return [{ path: `${name}.HEIC`, bytes: painting }];
    case 'avif':
      return [
        {
          path: `${name}.avif`,
          bytes: await image
            .avif({ quality: 62, effort: 2 })
            .withExif(plainExifOf(shoot, view, frame))
            .toBuffer(),
        },
      ];
    case 'webp': {
      const webp = await image
        .webp({ quality: 82 })
        .withXmp(sidecarOf(fields, 'x.webp').toString('utf8'))
        .withExif(plainExifOf(shoot, view, frame))
        .toBuffer();
      return [{ path: `${name}.webp`, bytes: plainExif(webp) }];
    }
    case 'dng':
    case 'dng-bare':
    case 'dng+jpeg': {
      const { data, info } = await image.raw().toBuffer({ resolveWithObject: true });
      const size = { width: info.width, height: info.height, orientation: 1 };
      const { main, exif } = exifEntries(shoot, view, frame, size);
      const raw = {
        path: `${name}.dng`,
        bytes: writeDng(
          { ...size, pixels: data, preview: shoot.format === 'dng-bare' ? null : painting, uniqueModel: camera.model },
          main,
          exif,
        ),
      };
      return shoot.format !== 'dng+jpeg'
        ? [raw]
        : [
            raw,
            {
              path: `${name}.${camera.ending}`,
              bytes: withBlocks(painting, { exif: demoExifBlock(shoot, view, frame, size) }),
            },
          ];
    }
    default: {
      const picture = await encodedJpeg(shoot, painting);
      const { width = 0, height = 0 } = await sharp(picture).metadata();
      const size = { width, height, orientation: lyingOf(shoot, view, frame)?.orientation ?? 1 };
      const iim = shoot.described === 'iim' || shoot.described === 'both';
      const blocks = {
        exif: demoExifBlock(shoot, view, frame, size),
        ...(iim && {
          photoshop: iimOf(fields),
          xmp: shoot.described === 'both' ? sidecarOf(asAnotherProgramHadIt(fields), 'x.jpg') : ratingOf(fields),
        }),
      };
      return [{ path: `${name}.${camera.ending}`, bytes: withBlocks(picture, blocks) }];
    }
  }
}

/** As it was painted, but for those that show more: more colours, more pixels. */
async function encodedJpeg({ format }: Shoot, painting: Buffer): Promise<Buffer> {
  if (format === 'jpeg-p3') return wideJpeg(painting);
  return format === 'jpeg-large' ? largeJpeg(painting) : painting;
}

/** EXIF has no name for the space of these; the profile says it. */
const withoutSpace = (exif: Entries): Entries => new Map([...exif].filter(([tag]) => tag !== EXIF.colorSpace));

/** What an earlier program left in XMP before the IIM was edited: another headline, one keyword fewer, no caption. */
function asAnotherProgramHadIt({ caption: _caption, ...fields }: FieldValues): FieldValues {
  const keywords = Array.isArray(fields.keywords) ? fields.keywords.slice(0, -1) : [];
  return {
    ...fields,
    keywords,
    headline: `${typeof fields.headline === 'string' ? fields.headline : 'Untitled'}, working title`,
  };
}

function plainExifOf(shoot: Shoot, view: ShootView, frame: number) {
  const { make, model } = CAMERAS[shoot.camera];
  const taken = takenAt(shoot, view, frame);
  return {
    IFD0: { Make: make, Model: model },
    IFD2: { DateTimeOriginal: (taken?.shown ?? '').replace('T', ' ').replaceAll('-', ':') },
  };
}

/** The encoder puts JPEG's `Exif\0\0` before the TIFF header in WebP, where it does not belong (RFC 9649). */
function plainExif(webp: Buffer): Buffer {
  const at = webp.indexOf('EXIF');
  const size = webp.readUInt32LE(at + 4);
  const body = webp.subarray(at + 8 + 6, at + 8 + size);
  const head = Buffer.from('EXIF\0\0\0\0', 'latin1');
  head.writeUInt32LE(body.length, 4);
  const out = Buffer.concat([
    webp.subarray(0, at),
    head,
    body,
    Buffer.alloc(body.length % 2),
    webp.subarray(at + 8 + size + (size % 2)),
  ]);
  out.writeUInt32LE(out.length - 8, 4);
  return out;
}

/** Latin-1 as old programs wrote it. The typographic apostrophe is not in it; they wrote the straight one. */
function iimOf(fields: FieldValues): Buffer {
  const datasets = FIELDS.flatMap(({ key, iim }) =>
    iim ? toStrings(fields[key]).map((text): [number, string] => [iim.dataset, text.replaceAll('’', "'")]) : [],
  );
  return writeIim(
    datasets.sort(([a], [b]) => a - b),
    'latin1',
  );
}

function ratingOf({ rating }: FieldValues): Buffer {
  return Buffer.from(
    `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmp:Rating="${typeof rating === 'number' ? rating : 0}"/></rdf:RDF></x:xmpmeta>`,
  );
}
