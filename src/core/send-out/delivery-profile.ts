// The delivery profile: a destination's settings under a name. It says all that will come out; nothing of a job before
// it is applied beside it.

import type { Versioned } from '../fields/version';
import type { Pattern } from '../names/pattern';
import type { OutputSize } from './output-size';
import type { Watermark } from './watermark';
import type { WordsPolicy } from './words-policy';

/** What a picture is encoded as; `original` is the file untouched. */
export const MADE_FORMATS = ['jpeg', 'webp', 'avif', 'png', 'tiff'] as const;
export type MadeFormat = (typeof MADE_FORMATS)[number];

/** For a screen, or for paper, which takes more. */
export type Sharpening = 'none' | 'screen' | 'paper';

export interface MadePicture {
  kind: 'made';
  format: MadeFormat;
  /** 1 to 100, as encoders count; of PNG and TIFF, which lose nothing, without meaning. */
  quality: number;
  /** The file is brought under so many bytes, by its quality first and then by its size; `null` without a limit. */
  bytesLimit: number | null;
  size: OutputSize;
  enlarge: boolean;
  /** Pixels to the inch, written into the file. */
  ppi: number;
  /** `kept`: in the profile it has, which goes along. */
  colour: 'srgb' | 'kept';
  sharpening: Sharpening;
}

export interface UntouchedOriginal {
  kind: 'original';
  /** Whether the words go along in a sidecar. */
  sidecar: boolean;
}

export type PictureSettings = MadePicture | UntouchedOriginal;

export type DeliveryFolder =
  /** Below the root of a drive, by a pattern; `null`: chosen at each delivery. */
  | { kind: 'on-drive'; driveId: string | null; parts: Pattern }
  /** One ZIP in such a folder. */
  | { kind: 'zip'; driveId: string | null; parts: Pattern; name: string }
  /** A folder of this name inside the one of each photo's original. */
  | { kind: 'beside'; name: string };

/** What goes along beside the pictures. */
export interface Extras {
  /** An HTML page of them. */
  page: boolean;
  /** A table of their captions. */
  table: boolean;
}

export interface DeliveryProfile extends Versioned {
  id: string;
  name: string;
  picture: PictureSettings;
  names: Pattern;
  folder: DeliveryFolder;
  words: WordsPolicy;
  watermark: Watermark | null;
  extras: Extras;
  /** What is noted as sent, and found by `sent:`; empty: the profile's name. */
  sentAs: string;
}

/** Under what a delivery is noted. */
export const notedAs = ({ sentAs, name }: Pick<DeliveryProfile, 'sentAs' | 'name'>): string =>
  sentAs.trim() === '' ? name : sentAs.trim();

export type ProfileContent = Omit<DeliveryProfile, 'id' | 'name' | keyof Versioned>;

/** Common practice where nothing else is asked: a JPEG for screens, its words and rights in, its place out. */
export const NEW_PROFILE: ProfileContent = {
  picture: {
    kind: 'made',
    format: 'jpeg',
    quality: 92,
    bytesLimit: null,
    size: { kind: 'long-edge', pixels: 3600 },
    enlarge: false,
    ppi: 300,
    colour: 'srgb',
    sharpening: 'none',
  },
  names: [{ kind: 'old-name' }],
  folder: { kind: 'on-drive', driveId: null, parts: [{ kind: 'text', text: 'delivered' }] },
  words: { which: 'descriptive', place: 'out', people: 'in' },
  watermark: null,
  extras: { page: false, table: false },
  sentAs: '',
};

const ENDINGS: Record<MadeFormat, string> = { jpeg: 'jpg', webp: 'webp', avif: 'avif', png: 'png', tiff: 'tif' };

/** Whether browsers show what comes out, so that a page of it makes sense. */
export const isShownByBrowsers = (picture: PictureSettings): boolean =>
  picture.kind === 'made' && picture.format !== 'tiff';

/** How a file of this format ends, without the dot. */
export const endingOfMade = (format: MadeFormat): string => ENDINGS[format];

export const losesPixels = (format: MadeFormat): boolean => format !== 'png' && format !== 'tiff';

const NAMES: Record<MadeFormat, string> = { jpeg: 'JPEG', webp: 'WebP', avif: 'AVIF', png: 'PNG', tiff: 'TIFF' };

export const formatWord = (format: MadeFormat): string => NAMES[format];

/**
 * Bytes a pixel takes, about, at quality 50, 75, 90 and 100 (measured over the demo's paintings and over grain, what
 * lies between; a picture of grass takes twice as much, one of sky a third).
 */
const BYTES_A_PIXEL: Record<MadeFormat, readonly [number, number, number, number]> = {
  jpeg: [0.075, 0.12, 0.24, 0.72],
  webp: [0.04, 0.07, 0.18, 0.4],
  avif: [0.05, 0.1, 0.17, 0.56],
  png: [0.7, 0.7, 0.7, 0.7],
  tiff: [1.6, 1.6, 1.6, 1.6],
};
const QUALITIES = [50, 75, 90, 100] as const;

/** About how long a file of so many pixels will be. */
export function estimatedBytes({ format, quality, bytesLimit }: MadePicture, pixels: number): number {
  const table = BYTES_A_PIXEL[format];
  const above = QUALITIES.findIndex((one) => quality <= one);
  const [low, high] = above <= 0 ? [0, 0] : [above - 1, above];
  const [from, to] = [QUALITIES[low] ?? 50, QUALITIES[high] ?? 50];
  const share = to === from ? 0 : (quality - from) / (to - from);
  const bytes = pixels * ((table[low] ?? 0) + share * ((table[high] ?? 0) - (table[low] ?? 0)));
  return Math.round(bytesLimit === null ? bytes : Math.min(bytes, bytesLimit));
}
