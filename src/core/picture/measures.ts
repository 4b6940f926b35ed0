// What is measured of a picture, in a few numbers that can be compared: a perceptual hash and the colours that make up
// most of it.

export interface PictureMeasures {
  /** The two halves of the hash, as unsigned 32-bit numbers. */
  high: number;
  low: number;
  /** Up to five, the greatest share first. */
  colours: MainColour[];
}

export interface MainColour {
  /** CIELAB for daylight (D65) in whole steps: lightness 0 to 100, a and b −128 to 127. */
  lab: readonly [lightness: number, a: number, b: number];
  /** Of the picture, in per cent, 1 to 100. */
  share: number;
}

export const MAIN_COLOURS = 5;

/** Bits in which two hashes differ, 0 to 64. */
export function bitsApart(aHigh: number, aLow: number, bHigh: number, bLow: number): number {
  return onesIn(aHigh ^ bHigh) + onesIn(aLow ^ bLow);
}

function onesIn(word: number): number {
  let bits = word - ((word >>> 1) & 0x55555555);
  bits = (bits & 0x33333333) + ((bits >>> 2) & 0x33333333);
  return Math.imul((bits + (bits >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** A colour in 30 bits: share, lightness, a, b; 0 is none. */
export const packColour = ({ lab: [lightness, a, b], share }: MainColour): number =>
  (share * 2 ** 23 + lightness * 2 ** 16 + (a + 128) * 2 ** 8 + (b + 128)) >>> 0;

export const unpackColour = (packed: number): MainColour | null =>
  packed === 0
    ? null
    : { share: packed >>> 23, lab: [(packed >>> 16) & 0x7f, ((packed >>> 8) & 0xff) - 128, (packed & 0xff) - 128] };
