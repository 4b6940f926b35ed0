// All shoots of the survey, in the order their seeds are drawn.

import { ATTIC } from './attic';
import { CARD } from './card';
import { HARBOUR } from './harbour';
import { type Shoot, frameCount, viewsOf } from './shoot';
import { STUDIO } from './studio';

export const SHOOTS: readonly Shoot[] = [...ATTIC, ...HARBOUR, ...STUDIO, ...CARD];

export const PHOTOS: number = SHOOTS.reduce((sum, shoot) => sum + frameCount(shoot), 0);

/** Every view of every shoot: what one painter paints at a time. */
export const VIEWS = SHOOTS.flatMap((shoot, number) =>
  viewsOf(shoot).map((view) => ({ number, view: view.index, frames: view.frames })),
);
