// How a picture looks, measured from its pixels.

import { coloursOf } from './colours';
import { hashOf } from './hash';
import type { Look } from './look';
import type { Pixels } from './pixels';

/** Raised when pictures must be measured anew. */
export const LOOK_VERSION = 1;

export const lookOf = (pixels: Pixels): Look => ({ ...hashOf(pixels), colours: coloursOf(pixels) });
