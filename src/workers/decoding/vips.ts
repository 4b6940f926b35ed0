// Pictures the browser cannot decode, by libvips: TIFF in its many forms, JPEG in inks, and parts of what is too large
// to be held whole. It reads from the file as it goes, and draws small what is wanted small: memory follows the pixels
// asked for. Colours are brought to sRGB, those of a file with a profile to Display P3, which holds more.

import type Vips from 'wasm-vips';
import { Undecodable } from '@/core/problems/undecodable';
import type { DecodeOrder, Decoded, Numbers } from './decoding';

export type Library = typeof Vips;
export type Image = Vips.Image;

const FOLDER = '/decoders/';
/** Fetched in steps: decoders ask for a few bytes at a time. */
const STEP_BYTES = 1024 * 1024;

export interface VipsOrder extends Pick<DecodeOrder, 'file' | 'pixels' | 'region' | 'page'> {
  numbers?: Numbers;
}

let library: Promise<Library> | null = null;
let withAvif: Promise<Library> | null = null;

export function vipsReady(): Promise<Library> {
  library ??= open([]);
  library.catch(() => (library = null));
  return library;
}

/** The library with its coder of AV1, which is as large as all the rest. */
export function vipsWithAvif(): Promise<Library> {
  withAvif ??= open(['vips-heif.wasm']);
  withAvif.catch(() => (withAvif = null));
  return withAvif;
}

async function open(dynamicLibraries: string[]): Promise<Library> {
  if (!self.crossOriginIsolated) throw new Undecodable({ code: 'picture/not-isolated' });
  const address = `${FOLDER}vips-es6.js`;
  const { default: create } = (await import(/* webpackIgnore: true */ /* turbopackIgnore: true */ address)) as {
    default: (options: object) => Promise<Library>;
  };
  const vips = await create({
    dynamicLibraries,
    locateFile: (file: string) => FOLDER + file,
    print: () => {},
    printErr: () => {},
  });
  vips.Cache.max(0);
  vips.concurrency(1);
  return vips;
}

/** Whatever was taken from the library has to be given back to it. */
export type Hold = <T extends { delete(): void }>(thing: T) => T;

/** Tried one after the other: as it should be; without a profile that cannot be used; as far as it goes. */
const WAYS = [
  { failOn: 'error', profiles: true },
  { failOn: 'error', profiles: false },
  { failOn: 'none', profiles: true },
  { failOn: 'none', profiles: false },
] as const;
type Way = (typeof WAYS)[number];

export async function decodeWithVips(order: VipsOrder): Promise<Decoded> {
  const vips = await vipsReady();
  let first: unknown = null;
  for (const way of WAYS) {
    try {
      return { ...(await decoded(vips, order, way)), whole: way.failOn === 'error' };
    } catch (error) {
      first ??= error;
    }
  }
  throw new Undecodable({ code: 'picture/refused', reason: reasonOf(first) });
}

/** Whatever is held in the meantime is given back at the end. */
export async function holding<T>(work: (held: Hold) => Promise<T>): Promise<T> {
  const bin: { delete(): void }[] = [];
  try {
    return await work((thing) => {
      bin.push(thing);
      return thing;
    });
  } finally {
    for (const thing of bin.reverse()) thing.delete();
  }
}

const decoded = (vips: Library, order: VipsOrder, way: Way): Promise<Omit<Decoded, 'whole'>> =>
  holding(async (held) => {
    const head = held(
      vips.Image.newFromSource(sourceOf(vips, order.file, held), order.page > 0 ? `page=${order.page}` : '', {
        access: 'sequential',
        fail_on: way.failOn,
      }),
    );
    const full = { width: head.width, height: head.height };
    const pages = head.getTypeof('n-pages') === 0 ? 1 : head.getInt('n-pages');
    const image = cutOrShrunk(vips, head, order, way, held);
    const { shown, space } = inScreenColours(image, order.numbers ?? 'as-written', way, held);
    const rgba = shown.hasAlpha() ? shown : held(shown.bandjoin(255));
    const pixels = new Uint8ClampedArray(rgba.writeToMemory());
    const data = new ImageData(pixels, rgba.width, rgba.height, { colorSpace: space });
    return { bitmap: await createImageBitmap(data), full, upright: false, pages };
  });

const NO_REASON = 'its picture data are damaged, or arranged in a way that is not known';

/** What the library throws carries its kind and its words. */
export function reasonOf(error: unknown): string {
  const { message } = error as { message?: unknown };
  const said = Array.isArray(message) ? String(message[1]) : String(message ?? error);
  const lines = said.split('\n').map((line) => line.trim());
  return lines.find((line) => line !== '' && !line.startsWith('unable to')) ?? NO_REASON;
}

export function sourceOf(vips: Library, file: Blob, held: Hold): Vips.Source {
  const source = held(new vips.SourceCustom());
  const reader = new FileReaderSync();
  let at = 0;
  let step = { from: 0, bytes: new Uint8Array() };
  source.onRead = (length: number) => {
    if (at >= file.size) return undefined;
    if (at < step.from || at >= step.from + step.bytes.length) {
      const bytes = reader.readAsArrayBuffer(file.slice(at, at + Math.max(length, STEP_BYTES)));
      step = { from: at, bytes: new Uint8Array(bytes) };
    }
    const read = step.bytes.subarray(at - step.from, at - step.from + length);
    at += read.length;
    return read;
  };
  source.onSeek = (offset: number, whence: number) => {
    const from = whence === 0 ? 0 : whence === 1 ? at : file.size;
    at = Math.min(Math.max(0, from + offset), file.size);
    return at;
  };
  return source;
}

function cutOrShrunk(
  vips: Library,
  head: Image,
  { file, pixels, region, page, numbers }: VipsOrder,
  { failOn }: Way,
  held: Hold,
): Image {
  if (region) {
    const part = held(head.crop(region.left, region.top, region.width, region.height));
    const scale = pixels === null ? 1 : Math.min(1, pixels / Math.max(part.width, part.height));
    return scale === 1 ? part : held(part.resize(scale, { kernel: 'linear' }));
  }
  const long = Math.max(head.width, head.height);
  if (pixels === null || pixels >= long) return head;
  // what stands for 8 bits of colour can be made small while it is loaded
  if (
    page === 0 &&
    head.interpretation === 'srgb' &&
    head.format === 'uchar' &&
    (numbers ?? 'as-written') === 'as-written'
  )
    return held(
      vips.Image.thumbnailSource(sourceOf(vips, file, held), pixels, {
        height: pixels,
        size: 'down',
        no_rotate: true,
        fail_on: failOn,
      }),
    );
  return held(head.resize(pixels / long, { kernel: 'linear' }));
}

/** 8 bits a channel, three of them and what is transparent, in a space the browser knows. */
function inScreenColours(
  image: Image,
  numbers: Numbers,
  { profiles }: Way,
  held: Hold,
): { shown: Image; space: PredefinedColorSpace } {
  if (numbers === 'lab' || numbers === 'lab-signed')
    return { shown: fromLab(image, numbers, held), space: 'display-p3' };
  const whole = inWholeNumbers(image, held);
  const written = numbers === 'inverted' ? held(whole.invert()) : whole;
  const inks = written.interpretation === 'cmyk';
  if (inks || (profiles && written.getTypeof('icc-profile-data') !== 0)) {
    const shown = written.iccTransform('p3', {
      embedded: profiles,
      intent: inks ? 'perceptual' : 'relative',
      black_point_compensation: true,
      depth: 8,
      ...(inks && { input_profile: 'cmyk' }),
    });
    return { shown: held(shown), space: 'display-p3' };
  }
  const shown = held(written.colourspace('srgb'));
  return { shown: shown.format === 'uchar' ? shown : held(shown.cast('uchar')), space: 'srgb' };
}

/**
 * 8 or 16 bits without a sign. Fractions from 0 to 1 are what they say; of other numbers nobody knows what is black and
 * white, so the least and the most of them are.
 */
export function inWholeNumbers(image: Image, held: Hold): Image {
  if (image.format === 'uchar' || image.format === 'ushort') return image;
  const still = held(image.copyMemory()); // looked at twice, while the file is read once
  const [least, most] = [still.min(), still.max()];
  const fractions = image.format === 'float' || image.format === 'double';
  const [black, white] = fractions && least >= 0 && most <= 1 ? [0, 1] : [least, most];
  const scale = 65535 / Math.max(white - black, Number.MIN_VALUE);
  const scaled = held(held(still.linear(scale, -black * scale)).cast('ushort'));
  return held(scaled.copy({ interpretation: image.bands >= 3 ? 'rgb16' : 'grey16' }));
}

/** Lightness to 0 … 100 and the two others to -128 … 127. */
export function labNumbers(image: Image, numbers: 'lab' | 'lab-signed', held: Hold): Image {
  const most = image.format === 'ushort' ? 65535 : 255;
  const bands = [0, 1, 2].map((band) => held(image.extractBand(band)));
  const [lightness, ...opponents] = bands.map((band, index) => {
    if (index === 0) return held(band.linear(100 / most, 0));
    return numbers === 'lab-signed'
      ? held(held(band.copy({ format: 'char' })).linear(1, 0))
      : held(band.linear(255 / most, -128));
  });
  return held(held((lightness as Image).bandjoin(opponents)).copy({ interpretation: 'lab' }));
}

/** As the profiles of ICC have it (D50). */
const fromLab = (image: Image, numbers: 'lab' | 'lab-signed', held: Hold): Image =>
  held(
    labNumbers(image, numbers, held).iccExport({
      output_profile: 'p3',
      pcs: 'lab',
      intent: 'relative',
      black_point_compensation: true,
      depth: 8,
    }),
  );
