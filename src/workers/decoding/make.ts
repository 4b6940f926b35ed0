// A picture made of another, by libvips: read from the file as it goes, brought to linear light, resampled there, turned
// upright, sharpened, laid over, brought to the colours it is to have, encoded. What the pixels of a photo are mixed of
// is light, and numbers with a gamma are not: edges and fine patterns would come out too dark (common practice).

import { Undecodable } from '@/core/problems/undecodable';
import type { Sharpening } from '@/core/send-out/delivery-profile';
import type { MadeBlob } from '@/storage/file-tasks/deliver';
import type { MakeOrder, Numbers } from './decoding';
import { toldPsd } from './psd';
import { toldTiff } from './tiff';
import {
  type Hold,
  type Image,
  type Library,
  holding,
  inWholeNumbers,
  labNumbers,
  reasonOf,
  sourceOf,
  vipsReady,
  vipsWithAvif,
} from './vips';

const MM_PER_INCH = 25.4;
/** A file is brought under its limit by its quality down to this, then by its size. */
const LEAST_QUALITY = 40;
const SMALLER = 0.85;
const LEAST_EDGE_PIXELS = 200;

export async function makeWithVips(order: MakeOrder): Promise<MadeBlob> {
  const vips = await (order.picture.format === 'avif' ? vipsWithAvif() : vipsReady());
  try {
    return await holding((held) => made(vips, order, held));
  } catch (error) {
    if (error instanceof Undecodable) throw error;
    throw new Undecodable({ code: 'picture/refused', reason: reasonOf(error) });
  }
}

async function made(vips: Library, order: MakeOrder, held: Hold): Promise<MadeBlob> {
  const { picture } = order;
  const opened = await open(vips, order, held);
  const { light, alpha, space } = inLight(opened, held);
  const fitted = { light: resampled(light, alpha, space, order, held), alpha: alpha && sized(alpha, order, held) };
  const upright = turned(fitted.light, order.orientation, held);
  const sharp = sharpened(upright, picture.sharpening, held);
  const overlaid = order.overlay ? withOverlay(vips, sharp, order.overlay, space, held) : sharp;
  const coloured = inOutputColours(overlaid, opened, order, held);
  const { format } = picture;
  const see = fitted.alpha && format !== 'jpeg' ? turned(fitted.alpha, order.orientation, held) : null;
  const whole = see ? held(coloured.bandjoin(depthOf(see, coloured.format === 'ushort', held))) : coloured;
  const still = held(withMetadata(whole, order, held).copyMemory());
  return underLimit(still, order, held);
}

interface Opened {
  image: Image;
  numbers: Numbers;
  hasProfile: boolean;
  isInks: boolean;
  isDeep: boolean;
}

async function open(vips: Library, { from }: MakeOrder, held: Hold): Promise<Opened> {
  if (from.kind === 'pixels') {
    const { data, width, height, colorSpace } = from.pixels;
    const rgba = held(vips.Image.newFromMemory(new Uint8Array(data.buffer), width, height, 4, vips.BandFormat.uchar));
    const image = held(rgba.copy({ interpretation: 'srgb' }));
    const isWide = colorSpace === 'display-p3';
    if (isWide) image.setBlob('icc-profile-data', vips.Image.profileLoad('p3'));
    return { image, numbers: 'as-written', hasProfile: isWide, isInks: false, isDeep: false };
  }
  const { file, numbers, whole } = await toldFile(from.file, from.format);
  if (!whole) throw new Undecodable({ code: 'picture/refused', reason: CUT_SHORT });
  const read = held(
    vips.Image.newFromSource(sourceOf(vips, file, held), '', { access: 'sequential', fail_on: 'error' }),
  );
  const isLab = numbers === 'lab' || numbers === 'lab-signed';
  // what is transparent is looked at beside its colours, while the file is read once
  const once = read.hasAlpha() ? held(read.copyMemory()) : read;
  const image = isLab ? once : inWholeNumbers(once, held);
  const written = numbers === 'inverted' ? held(image.invert()) : image;
  const hasProfile = !from.isSrgb && written.getTypeof('icc-profile-data') !== 0;
  return {
    image: written,
    numbers,
    hasProfile,
    isInks: written.interpretation === 'cmyk',
    isDeep: image.format !== 'uchar',
  };
}

const CUT_SHORT = 'its picture ends before it should';

async function toldFile(file: Blob, format: string): Promise<{ file: Blob; numbers: Numbers; whole: boolean }> {
  if (format === 'tiff') return toldTiff(file, 0);
  if (format === 'psd') return { ...(await toldPsd(file)), whole: true };
  return { file, numbers: 'as-written', whole: true };
}

/** Spaces that count light: CIE XYZ, to which profiles lead; and linear sRGB, which is quicker where there is none. */
type LinearSpace = 'xyz' | 'scrgb';

interface Light {
  light: Image;
  /** What is transparent, from 0 to 1. */
  alpha: Image | null;
  space: LinearSpace;
}

function inLight({ image, numbers, hasProfile, isInks }: Opened, held: Hold): Light {
  if (numbers === 'lab' || numbers === 'lab-signed')
    return { light: held(labNumbers(image, numbers, held).colourspace('scrgb')), alpha: null, space: 'scrgb' };
  const bands = image.hasAlpha() ? image.bands - 1 : image.bands;
  const colours = image.hasAlpha() ? held(image.extractBand(0, { n: bands })) : image;
  const most = image.format === 'ushort' ? 65535 : 255;
  const alpha = image.hasAlpha() ? held(held(image.extractBand(bands)).linear(1 / most, 0)) : null;
  if (!hasProfile && !isInks) return { light: held(colours.colourspace('scrgb')), alpha, space: 'scrgb' };
  const light = colours.iccImport({
    pcs: 'xyz',
    embedded: hasProfile,
    intent: isInks ? 'perceptual' : 'relative',
    black_point_compensation: true,
    ...(isInks && { input_profile: 'cmyk' }),
  });
  return { light: held(light), alpha, space: 'xyz' };
}

/** Long enough to be divided by. */
const NEARLY_NOTHING = 1 / 65535;

/** What cannot be seen has no part in the light of its neighbours; a JPEG, which shows all, lies on white. */
function resampled(light: Image, alpha: Image | null, space: LinearSpace, order: MakeOrder, held: Hold): Image {
  if (!alpha) return sized(light, order, held);
  const seen = sized(held(light.multiply(alpha)), order, held);
  const share = sized(alpha, order, held);
  if (order.picture.format !== 'jpeg') {
    const safe = held(held(share.moreEq(NEARLY_NOTHING)).ifthenelse(share, NEARLY_NOTHING));
    return held(held(seen.divide(safe)).copy({ interpretation: space }));
  }
  const ground = held(held(share.linear(-1, 1)).multiply(WHITE[space]));
  return held(held(seen.add(ground)).copy({ interpretation: space }));
}

/** The white of sRGB (IEC 61966-2-1, D65), as libvips counts it. */
const WHITE: Record<LinearSpace, number[]> = { xyz: [95.047, 100, 108.8827], scrgb: [1, 1, 1] };

function sized(image: Image, { width, height, orientation }: MakeOrder, held: Hold): Image {
  const [across, down] = orientation >= 5 ? [height, width] : [width, height];
  if (across === image.width && down === image.height) return image;
  return held(image.resize(across / image.width, { vscale: down / image.height, kernel: 'lanczos3' }));
}

/** Quarter turns to the right, and whether it is mirrored after them (EXIF 2.32, tag 0x0112). */
const TURNS: Readonly<Record<number, [turn: 'd90' | 'd180' | 'd270' | null, flip: 'horizontal' | 'vertical' | null]>> =
  {
    2: [null, 'horizontal'],
    3: ['d180', null],
    4: [null, 'vertical'],
    5: ['d90', 'horizontal'],
    6: ['d90', null],
    7: ['d270', 'horizontal'],
    8: ['d270', null],
  };

function turned(image: Image, orientation: number, held: Hold): Image {
  const [turn, flip] = TURNS[orientation] ?? [null, null];
  if (!turn && !flip) return image;
  const still = held(image.copyMemory()); // it is read from the top, and turned from any side
  const round = turn ? held(still.rot(turn)) : still;
  return flip ? held(round.flip(flip)) : round;
}

/**
 * Radius and strength, on lightness alone, where it differs by more than a third of a step: for a screen at its own
 * pixels; for paper, whose ink spreads.
 */
const SHARPENINGS: Record<Exclude<Sharpening, 'none'>, { sigma: number; x1: number; m1: number; m2: number }> = {
  screen: { sigma: 0.8, x1: 0.3, m1: 0, m2: 2 },
  paper: { sigma: 1.3, x1: 0.3, m1: 0, m2: 3 },
};

const sharpened = (image: Image, sharpening: Sharpening, held: Hold): Image =>
  sharpening === 'none' ? image : held(image.sharpen(SHARPENINGS[sharpening]));

function withOverlay(
  vips: Library,
  image: Image,
  { pixels, left, top }: NonNullable<MakeOrder['overlay']>,
  space: LinearSpace,
  held: Hold,
): Image {
  const raw = held(
    vips.Image.newFromMemory(new Uint8Array(pixels.data.buffer), pixels.width, pixels.height, 4, vips.BandFormat.uchar),
  );
  const small = held(raw.copy({ interpretation: 'srgb' }));
  const spread = held(
    small.embed(left, top, image.width, image.height, { extend: 'background', background: [0, 0, 0, 0] }),
  );
  const share = held(held(spread.extractBand(3)).linear(1 / 255, 0));
  const light = held(held(spread.extractBand(0, { n: 3 })).colourspace(space));
  const under = held(image.multiply(held(share.linear(-1, 1))));
  return held(held(under.add(held(light.multiply(share)))).copy({ interpretation: space }));
}

/** Formats that can hold inks. */
const TAKES_INKS: ReadonlySet<string> = new Set(['jpeg', 'tiff']);
const TAKES_DEPTH: ReadonlySet<string> = new Set(['png', 'tiff']);

function inOutputColours(
  image: Image,
  { hasProfile, isInks, isDeep }: Opened,
  { picture }: MakeOrder,
  held: Hold,
): Image {
  const depth = isDeep && TAKES_DEPTH.has(picture.format) ? 16 : 8;
  const keeps = picture.colour === 'kept' && hasProfile && (!isInks || TAKES_INKS.has(picture.format));
  if (hasProfile || isInks)
    return held(
      image.iccExport({
        pcs: 'xyz',
        depth,
        intent: 'relative',
        black_point_compensation: true,
        ...(!keeps && { output_profile: 'srgb' }),
      }),
    );
  const shown = held(image.colourspace(depth === 16 ? 'rgb16' : 'srgb'));
  return shown.format === 'uchar' || shown.format === 'ushort'
    ? shown
    : held(shown.cast(depth === 16 ? 'ushort' : 'uchar'));
}

/** What is transparent, in as many bits as the colours. */
const depthOf = (alpha: Image, isDeep: boolean, held: Hold): Image =>
  held(held(held(alpha.linear(isDeep ? 65535 : 255, 0)).rint()).cast(isDeep ? 'ushort' : 'uchar'));

/** Nothing of what the source says of itself goes along but the profile, where it is kept. */
function withMetadata(image: Image, { picture, exif, xmp }: MakeOrder, held: Hold): Image {
  const perMm = picture.ppi / MM_PER_INCH;
  const bare = held(image.copy({ xres: perMm, yres: perMm }));
  // what was read of EXIF stands there tag by tag as well, and would be written again
  const fields = held(bare.getFields());
  for (let at = 0; at < fields.size(); at++) {
    const name = fields.get(at);
    if (name !== undefined && name !== 'icc-profile-data' && !BUILT_IN.has(name)) bare.remove(name);
  }
  bare.setString('resolution-unit', 'in');
  // EXIF's own word for it (EXIF 2.32, tag 0xa001)
  if (picture.colour === 'srgb') bare.setString('exif-ifd2-ColorSpace', '1');
  if (exif) bare.setBlob('exif-data', exif);
  if (xmp) bare.setBlob('xmp-data', xmp);
  return bare;
}

/** The header of every image of the library, which is not to be taken away. */
const BUILT_IN: ReadonlySet<string> = new Set([
  'width',
  'height',
  'bands',
  'format',
  'coding',
  'interpretation',
  'xoffset',
  'yoffset',
  'xres',
  'yres',
  'filename',
]);

function underLimit(image: Image, order: MakeOrder, held: Hold): MadeBlob {
  const { picture } = order;
  const limit = picture.bytesLimit ?? Infinity;
  const encode = (one: Image, quality: number): MadeBlob => ({
    blob: encoded(one, order, quality),
    width: one.width,
    height: one.height,
    quality,
  });
  let best = encode(image, picture.quality);
  if (best.blob.size <= limit) return best;
  if (picture.format !== 'png' && picture.format !== 'tiff') {
    let [low, high] = [Math.min(LEAST_QUALITY, picture.quality), picture.quality];
    best = encode(image, low);
    while (best.blob.size <= limit && high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      const tried = encode(image, middle);
      if (tried.blob.size <= limit) [low, best] = [middle, tried];
      else high = middle;
    }
  }
  let scale = 1;
  while (best.blob.size > limit && Math.max(best.width, best.height) * SMALLER >= LEAST_EDGE_PIXELS) {
    scale *= SMALLER;
    best = encode(held(image.resize(scale, { kernel: 'lanczos3' })), best.quality);
  }
  return best;
}

const TYPES = {
  jpeg: 'image/jpeg',
  webp: 'image/webp',
  avif: 'image/avif',
  png: 'image/png',
  tiff: 'image/tiff',
} as const;

/** Effort of the coder of AV1: more costs minutes, and saves a few hundredths (measured). */
const AVIF_EFFORT = 2;

function encoded(image: Image, { picture }: MakeOrder, quality: number): Blob {
  const keep = 'all'; // all that is left: the profile, the resolution, and the words of formats that are not written into
  const profile = picture.colour === 'srgb' ? { profile: 'srgb' } : {};
  const bytes = (): Uint8Array => {
    switch (picture.format) {
      case 'jpeg':
        return image.jpegsaveBuffer({ Q: quality, optimize_coding: true, keep, ...profile });
      case 'webp':
        return image.webpsaveBuffer({ Q: quality, smart_subsample: true, keep, ...profile });
      case 'avif':
        return image.heifsaveBuffer({ Q: quality, compression: 'av1', effort: AVIF_EFFORT, keep, ...profile });
      case 'png':
        return image.pngsaveBuffer({ compression: 6, keep, ...profile });
      case 'tiff':
        return image.tiffsaveBuffer({ compression: 'lzw', predictor: 'horizontal', resunit: 'inch', keep, ...profile });
    }
  };
  return new Blob([new Uint8Array(bytes())], { type: TYPES[picture.format] });
}
