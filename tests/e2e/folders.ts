// Real folders on the disk for the tests, with photos made on the spot, and the outside programs that judge them.

import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { type Entries, ascii, ratio, short, withBlocks, writeExif, writeIim } from '@/demo/archive/tiff-writer';
import { PATIENCE_MS } from './patience';

export const newFolder = (name: string): string => {
  const folder = path.join(mkdtempSync(path.join(tmpdir(), 'wembo-disk-')), name);
  mkdirSync(folder);
  return folder;
};

export interface PhotoOptions {
  captured?: string;
  camera?: string;
  headline?: string;
  keywords?: string[];
  /** Any number: photos of different ones differ in their pixels. */
  seed?: number;
  width?: number;
  height?: number;
  /** Exposure time, as a fraction. */
  exposure?: [number, number];
  orientation?: number;
  /** A JPEG without metadata to take instead of noise. */
  picture?: Buffer;
}

/** A JPEG of noise with EXIF and, where asked for, IIM. */
export async function photoBytes({
  captured = '2019:07:04 14:03:22',
  camera = 'Norda K4',
  headline,
  keywords,
  seed = 1,
  width = 600,
  height = 400,
  exposure = [1, 250],
  orientation = 1,
  picture,
}: PhotoOptions = {}): Promise<Buffer> {
  const jpeg = picture ?? (await noise(seed, width, height));
  const main: Entries = new Map([
    [0x010f, ascii('Norda')],
    [0x0110, ascii(camera)],
    [0x0112, short(orientation)],
  ]);
  const exif: Entries = new Map([
    [0x829a, ratio(exposure)],
    [0x829d, ratio([8, 1])],
    [0x8827, short(200)],
    [0x9003, ascii(captured)],
    [0x920a, ratio([35, 1])],
  ]);
  const datasets: [number, string][] = [
    ...(headline ? [[105, headline] as [number, string]] : []),
    ...(keywords ?? []).map((word): [number, string] => [25, word]),
  ];
  return withBlocks(jpeg, {
    exif: writeExif(main, exif, null),
    ...(datasets.length > 0 && { photoshop: writeIim(datasets, 'utf8') }),
  });
}

/** Other seeds differ in every pixel. */
export async function noise(seed: number, width: number, height: number): Promise<Buffer> {
  const pixels = Buffer.alloc(width * height * 3);
  let state = seed * 2654435761;
  for (let at = 0; at < pixels.length; at++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    pixels[at] = ((at / 3) % width) / 4 + (state >>> 27) + ((seed * 40) % 120);
  }
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 80 })
    .toBuffer();
}
export function put(folder: string, file: string, bytes: Buffer | string): void {
  const target = path.join(folder, file);
  mkdirSync(path.dirname(target), { recursive: true });
  writeFileSync(target, bytes);
}

export const read = (folder: string, file: string): Buffer => readFileSync(path.join(folder, file));
/** One bit turned in the middle, at the same length and time. */
export function rot(folder: string, name: string): void {
  const file = path.join(folder, name);
  const bytes = readFileSync(file);
  const at = Math.floor(bytes.length / 2);
  bytes[at] = (bytes[at] ?? 0) ^ 1;
  writeFileSync(file, bytes);
}

export const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Every file below a folder, by its path from there, sorted. */
export function filesIn(folder: string, inside = ''): string[] {
  return readdirSync(path.join(folder, inside), { withFileTypes: true })
    .flatMap((entry) => {
      const file = inside ? `${inside}/${entry.name}` : entry.name;
      return entry.isDirectory() ? filesIn(folder, file) : [file];
    })
    .sort();
}

/** The photos among them that bear their names, not those in the making. */
export const photosIn = (folder: string): string[] =>
  filesIn(folder).filter((file) => /\.jpe?g$/i.test(file) && !file.includes('wembo-part'));

/**
 * The digests of all files, for proving that nothing was touched. The application may write beside them: where one was
 * there when listed and not when read (a part that got its name), all are listed once more.
 */
export function digestsOf(folder: string): Record<string, string> {
  for (;;)
    try {
      return Object.fromEntries(filesIn(folder).map((file) => [file, sha256(read(folder, file))]));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
}

/** What ExifTool reads in a file, list values as lists. */
export function exiftool(folder: string, file: string): Record<string, unknown> {
  const [reading] = JSON.parse(
    execFileSync('exiftool', ['-json', '-struct', '-G1', '-charset', 'filename=utf8', path.join(folder, file)], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    }),
  ) as Record<string, unknown>[];
  return reading ?? {};
}

export const isWellFormed = (folder: string, file: string): boolean =>
  spawnSync('xmllint', ['--noout', '--nonet', path.join(folder, file)]).status === 0;

/** `sha256sum -c` from the root of a drive: its exit code and what it says. */
export function sha256sum(folder: string): { ok: boolean; output: string } {
  const { status, stdout, stderr } = spawnSync('sha256sum', ['-c', '_wembo/manifest-sha256.txt'], {
    cwd: folder,
    encoding: 'utf8',
  });
  return { ok: status === 0, output: stdout + stderr };
}

/** Waits until `look` gives something true. */
export async function until<T>(what: string, look: () => T | Promise<T>, limitMs = PATIENCE_MS): Promise<T> {
  const end = Date.now() + limitMs;
  for (;;) {
    const found = await Promise.resolve()
      .then(look)
      .catch(() => undefined);
    if (found) return found;
    if (Date.now() > end) throw new Error(`waited in vain for: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

/** Waits until `look` gives the same thing so often one after the other, a tenth of a second apart; gives it. */
export async function untilStill<T>(what: string, look: () => T | Promise<T>, times: number): Promise<T> {
  let [before, still] = [await look(), 0];
  await until(what, async () => {
    const now = await look();
    still = now === before ? still + 1 : 0;
    before = now;
    return still >= times;
  });
  return before;
}
