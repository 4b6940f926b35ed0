// The measures of a picture, from its pixels.

import { coloursOf } from './colours';
import { hashOf } from './hash';
import type { PictureMeasures } from './measures';
import type { Pixels } from './pixels';

/** Raised when pictures must be measured anew. */
export const MEASURES_VERSION = 1;

export const measuresOf = (pixels: Pixels): PictureMeasures => ({ ...hashOf(pixels), colours: coloursOf(pixels) });
