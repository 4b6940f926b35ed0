// One photo of the demo: painted, encoded, and given the metadata its camera and its describer would have written.

import sharp, { type Sharp } from 'sharp';
import { MAIN, EXIF, GPS } from '@/core/exif/exif-tags';
import { FIELDS, type FieldValues } from '@/core/fields/registry';
import { toStrings } from '@/core/fields/values';
import { planSidecar } from '@/core/xmp/sidecar';
import { develop } from '../paint/film';
import { type Frame, sceneOf } from '../paint/motifs';
import { paintScene } from '../paint/paint';
import { type Shoot, fieldsOf } from './shoots';
import { type Entries, ascii, byte, ratio, raw, short, signedRatio, withBlocks, writeExif, writeIim } from './tiff-writer';

const LONG_EDGE = 1200;
const QUALITY = 84;
/** Frames of a bracket, in stops from the metered exposure. */
const BRACKET = [-2, 0, 2];
/** WET and its summer time; the offset that held on the islands' clocks. */
const SUMMER = '+01:00';
const WINTER = '+00:00';

export interface MadeFile {
  path: string;
  bytes: Buffer;
}

interface Taken {
  captured: string;
  offset: string;
  stops: number;
  portrait: boolean;
}

export async function makeFrame(shoot: Shoot, shootNumber: number, frame: number): Promise<MadeFile[]> {
  const stops = shoot.bracket && frame < 3 ? (BRACKET[frame] ?? 0) : 0;
  const portrait = shoot.portrait?.includes(frame) ?? false;
  const taken: Taken = { captured: capturedOf(shoot, frame), offset: isSummer(shoot.date) ? SUMMER : WINTER, stops, portrait };
  const [long, short_] = [LONG_EDGE, shoot.motif === 'old-print' ? 940 : 800];
  const painting: Frame = {
    motif: shoot.motif, seed: 400 + shootNumber * 13, variant: shoot.bracket && frame < 3 ? 0 : frame, width: portrait ? short_ : long, height: portrait ? long : short_,
    weather: shoot.weather, exposure: stops * 0.75, blur: shoot.drive === 'card' && frame === 2 ? 3 : 0,
  };
  const scene = sceneOf(painting);
  const pixels = sharp(develop(paintScene(scene), scene), { raw: { width: painting.width, height: painting.height, channels: 3 } });
  const name = `${shoot.folder}/${shoot.stem}${String(shoot.first + frame).padStart(4, '0')}`;
  const fields = fieldsOf(shoot, frame);
  const files = [await encode(pixels, name, shoot, taken, fields)];
  if (shoot.described === 'sidecar') files.push({ path: `${name}.xmp`, bytes: sidecarOf(fields, files[0]?.path ?? '') });
  return files;
}

function capturedOf({ date, time, minutesApart }: Shoot, frame: number): string {
  if (time === '') return date;
  const at = new Date(`${date}T${time}Z`);
  // the gap between frames wanders, as a photographer does
  at.setUTCSeconds(at.getUTCSeconds() + frame * minutesApart * 60 + ((frame * 37) % 23));
  return at.toISOString().slice(0, 19);
}

const isSummer = (date: string) => date.slice(5, 7) >= '04' && date.slice(5, 7) <= '10';

function sidecarOf(fields: FieldValues, path: string): Buffer {
  const plan = planSidecar({ existing: null, fields, embedded: {}, ending: path.split('.').at(-1) ?? 'jpg' });
  if (!('bytes' in plan)) throw new Error('a new sidecar can always be planned');
  return Buffer.from(plan.bytes);
}

async function encode(pixels: Sharp, name: string, shoot: Shoot, taken: Taken, fields: FieldValues): Promise<MadeFile> {
  if (shoot.format === 'png') {
    const xmp = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:DateCreated="${taken.captured}"/></rdf:RDF></x:xmpmeta>`;
    return { path: `${name}.png`, bytes: await pixels.resize({ width: 1000 }).grayscale().png({ compressionLevel: 9 }).toBuffer().then((png) => withXmpChunk(png, xmp)) };
  }
  if (shoot.format === 'webp') {
    return { path: `${name}.webp`, bytes: plainExif(await pixels.webp({ quality: 84 }).withXmp(sidecarOf({ ...fields }, 'x.webp').toString('utf8')).withExif({ IFD0: { Make: shoot.camera.make, Model: shoot.camera.model }, IFD2: { DateTimeOriginal: exifTime(taken.captured) } }).toBuffer()) };
  }
  const stored = taken.portrait ? pixels.rotate(270) : pixels;
  const jpeg = await stored.jpeg({ quality: QUALITY, chromaSubsampling: '4:2:0' }).toBuffer();
  const blocks = { exif: exifOf(shoot, taken), ...(shoot.described === 'iim' && { photoshop: iimOf(fields), xmp: ratingOf(fields) }) };
  return { path: `${name}.${shoot.drive === 'attic' ? 'JPG' : 'jpg'}`, bytes: withBlocks(jpeg, blocks) };
}

/** The encoder puts JPEG's `Exif\0\0` before the TIFF header in WebP, where it does not belong (RFC 9649). */
function plainExif(webp: Buffer): Buffer {
  const at = webp.indexOf('EXIF');
  const size = webp.readUInt32LE(at + 4);
  const body = webp.subarray(at + 8 + 6, at + 8 + size);
  const head = Buffer.from('EXIF\0\0\0\0', 'latin1');
  head.writeUInt32LE(body.length, 4);
  const out = Buffer.concat([webp.subarray(0, at), head, body, Buffer.alloc(body.length % 2), webp.subarray(at + 8 + size + (size % 2))]);
  out.writeUInt32LE(out.length - 8, 4);
  return out;
}

/** XMP in its `iTXt` chunk right behind the header, uncompressed (XMP specification part 3; ISO/IEC 15948 annex D for the CRC). */
function withXmpChunk(png: Buffer, xmp: string): Buffer {
  const body = Buffer.concat([Buffer.from('iTXtXML:com.adobe.xmp\0\0\0\0\0', 'latin1'), Buffer.from(xmp, 'utf8')]);
  const head = Buffer.alloc(4);
  head.writeUInt32BE(body.length - 4);
  const check = Buffer.alloc(4);
  check.writeUInt32BE(crc32(body));
  const behindHeader = 8 + 25;
  return Buffer.concat([png.subarray(0, behindHeader), head, body, check, png.subarray(behindHeader)]);
}

function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}

const exifTime = (captured: string) => captured.replace('T', ' ').replaceAll('-', ':');

function exifOf({ camera, weather, place, motif }: Shoot, { captured, offset, stops, portrait }: Taken): Buffer {
  const dark = weather.sunHeight < 0;
  const fNumber = dark ? 2.8 : motif === 'ferry' || motif === 'bird-cliff' ? 5.6 : 8;
  const iso = dark ? 3200 : weather.cloud > 0.6 ? 200 : 100;
  // sunny sixteen, in stops: less sun and more cloud want longer
  const seconds = dark ? 0.5 : Math.min(0.25, ((1 / 125) * Math.pow(2, (30 - weather.sunHeight) / 14 + weather.cloud * 2 + stops) * (fNumber * fNumber)) / (16 * 16) / (iso / 100));
  const main: Entries = new Map([[MAIN.make, ascii(camera.make)], [MAIN.model, ascii(camera.model)], [MAIN.orientation, short(portrait ? 6 : 1)], [0x011a, ratio([300, 1])], [0x011b, ratio([300, 1])], [0x0128, short(2)], [0x0132, ascii(exifTime(captured))], [0x0213, short(1)]]);
  const exif: Entries = new Map([
    [0x9000, raw(0x30, 0x32, 0x33, 0x32)], [EXIF.exposureTime, ratio([1, Math.max(1, Math.round(1 / seconds))])], [EXIF.fNumber, ratio([Math.round(fNumber * 10), 10])], [EXIF.iso, short(iso)],
    [EXIF.dateTimeOriginal, ascii(exifTime(captured))], [0x9004, ascii(exifTime(captured))], [0x9101, raw(1, 2, 3, 0)], [EXIF.exposureBias, signedRatio([stops * 10, 10])], [EXIF.flash, short(16)], [EXIF.focalLength, ratio([Math.round(camera.focalMm * 10), 10])],
    [0xa000, raw(0x30, 0x31, 0x30, 0x30)], [0xa001, short(1)], [EXIF.pixelWidth, short(LONG_EDGE)], [EXIF.pixelHeight, short(800)], [EXIF.bodySerial, ascii(camera.serial)],
  ]);
  if (camera.lens) exif.set(EXIF.lensModel, ascii(camera.lens));
  if (camera.offsets) exif.set(0x9010, ascii(offset)).set(EXIF.offsetTimeOriginal, ascii(offset)).set(0x9012, ascii(offset));
  const gps: Entries | null = camera.gps ? new Map([[0, byte(2, 3, 0, 0)], [GPS.latRef, ascii('N')], [GPS.lat, degrees(place.lat)], [GPS.lonRef, ascii('W')], [GPS.lon, degrees(-place.lon)], [GPS.altitudeRef, byte(0)], [GPS.altitude, ratio([80, 10])]]) : null;
  return writeExif(main, exif, gps);
}

function degrees(value: number) {
  const seconds = Math.round(value * 3600 * 100);
  return ratio([Math.floor(seconds / 360_000), 1], [Math.floor(seconds / 6000) % 60, 1], [seconds % 6000, 100]);
}

/** Latin-1 as old programs wrote it. The typographic apostrophe is not in it; they wrote the straight one. */
function iimOf(fields: FieldValues): Buffer {
  const datasets = FIELDS.flatMap(({ key, iim }) => (iim ? toStrings(fields[key]).map((text): [number, string] => [iim.dataset, text.replaceAll('’', "'")]) : []));
  return writeIim(datasets.sort(([a], [b]) => a - b), 'latin1');
}

function ratingOf({ rating }: FieldValues): Buffer {
  return Buffer.from(`<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmp:Rating="${typeof rating === 'number' ? rating : 0}"/></rdf:RDF></x:xmpmeta>`);
}
