// Sending out: 100 photos of 24 megapixels to JPEGs of 3600 pixels, read in full, resampled in linear light, encoded, read
// back and decoded, by two workers of the application in Chromium, against sharp in Node doing the same to the pixels
// alone; and a contact sheet of 500 pictures, with the most memory its browser took.

import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { type PictureRoom, openRoom } from '../tests/pictures/room';

const [WIDTH, HEIGHT] = [6000, 4000];
const PHOTOS = 100;
/** Different files; the others are these again. */
const FILES = 4;
const LONG_EDGE = 3600;
const QUALITY = 92;
const SHEET = 500;

async function makeFiles(folder: string): Promise<string[]> {
  mkdirSync(folder);
  const names: string[] = [];
  for (let index = 0; index < FILES; index++) {
    const name = path.join(folder, `${index}.jpg`);
    const noise = { type: 'gaussian', mean: 100 + index * 20, sigma: 14 } as const;
    const image = sharp({ create: { width: WIDTH, height: HEIGHT, channels: 3, background: '#678', noise } });
    writeFileSync(name, await image.jpeg({ quality: 90 }).toBuffer());
    names.push(name);
  }
  return names;
}

/** Runs so many at a time, and answers with the seconds all took. */
async function timed(count: number, inFlight: number, work: (index: number) => Promise<unknown>): Promise<number> {
  const started = performance.now();
  let next = 0;
  const worker = async () => {
    for (let index = next++; index < count; index = next++) await work(index);
  };
  await Promise.all(Array.from({ length: inFlight }, worker));
  return (performance.now() - started) / 1000;
}

async function deliveries(room: PictureRoom, files: string[]): Promise<void> {
  const picture = {
    kind: 'made',
    format: 'jpeg',
    quality: QUALITY,
    bytesLimit: null,
    size: { kind: 'long-edge', pixels: LONG_EDGE },
    enlarge: false,
    ppi: 300,
    colour: 'srgb',
    sharpening: 'none',
  } as const;
  const fileOf = (index: number) => files[index % files.length] ?? '';
  const send = async (index: number) => {
    const sent = await room.deliver(fileOf(index), { to: `${index}.jpg`, picture, withoutBytes: true });
    if (sent.state !== 'placed') throw new Error(JSON.stringify(sent));
  };
  await send(PHOTOS); // the workers start
  const ours = await timed(PHOTOS, 2, send);
  const bySharp = (linear: boolean) => (index: number) => {
    const opened = sharp(fileOf(index));
    const image = linear ? opened.pipelineColourspace('scrgb') : opened;
    return image
      .resize(LONG_EDGE)
      .toColourspace('srgb')
      .jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' })
      .toBuffer();
  };
  const [linear, plain] = [await timed(PHOTOS, 2, bySharp(true)), await timed(PHOTOS, 2, bySharp(false))];
  console.log(
    `send-out  ${PHOTOS} photos in ${ours.toFixed(0)} s, ${(ours / linear).toFixed(1)} times sharp’s ${linear.toFixed(0)} s in linear light (${(ours / plain).toFixed(1)} times its ${plain.toFixed(0)} s without); most memory ${mostMemory(room)} MB`,
  );
}

/** The most any process that draws pages took, in megabytes. */
function mostMemory(room: PictureRoom): string {
  const listed = execFileSync(
    'sh',
    [
      '-c',
      'for p in $(pgrep -f "$0"); do tr "\\0" " " < /proc/$p/cmdline | grep -q type=renderer && grep VmHWM /proc/$p/status | tr -dc "0-9\\n"; done; true',
      room.profile,
    ],
    { encoding: 'utf8' },
  );
  const most = Math.max(...listed.trim().split('\n').map(Number));
  return Number.isFinite(most) ? (most / 1024).toFixed(0) : '?';
}

export async function benchSendOut(work: string): Promise<void> {
  const files = await makeFiles(path.join(work, 'send-out'));
  const room = await openRoom();
  try {
    await deliveries(room, files);
  } finally {
    await room.close();
  }
  const preview = path.join(work, 'send-out', 'preview.jpg');
  writeFileSync(preview, await sharp(files[0]).resize(640).jpeg({ quality: 82 }).toBuffer());
  const other = await openRoom();
  try {
    const sheet = await other.sheet(preview, SHEET);
    console.log(
      `send-out  a contact sheet of ${SHEET}, ${sheet.pages} pages, ${(sheet.bytes / 1e6).toFixed(0)} MB, in ${(sheet.ms / 1000).toFixed(1)} s; most memory ${mostMemory(other)} MB`,
    );
  } finally {
    await other.close();
  }
}
