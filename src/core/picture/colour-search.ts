// Which photos have a colour: a good part of the picture is near it, by the difference people see (CIEDE2000, ISO/CIE
// 11664-6).

import { differenceCiede2000 } from 'culori/fn';
import { unpackColour } from './measures';

/** A colour counts when so much of the picture has it, in per cent. */
export const COLOUR_SHARE = 8;

const difference = differenceCiede2000();

export const colourDifference = (a: readonly [number, number, number], b: readonly [number, number, number]): number =>
  difference({ mode: 'lab65', l: a[0], a: a[1], b: a[2] }, { mode: 'lab65', l: b[0], a: b[1], b: b[2] });

/** Tells of packed colours whether one is near; each colour is compared once. */
export function colourTest(lab: readonly [number, number, number], within: number): (packed: number) => boolean {
  const known = new Map<number, boolean>();
  return (packed) => {
    if (packed >>> 23 < COLOUR_SHARE) return false;
    const key = packed & 0x7fffff;
    const before = known.get(key);
    if (before !== undefined) return before;
    const colour = unpackColour(packed);
    const near = colour !== null && colourDifference(lab, colour.lab) <= within;
    known.set(key, near);
    return near;
  };
}
