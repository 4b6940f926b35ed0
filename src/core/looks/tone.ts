// The curve that each channel goes through: black and white point, shadows, highlights and contrast, on code values (0
// to 1 of sRGB's transfer function), where equal steps look about equal. It never falls, so that no two grades change
// places, and what is grey stays grey.

import { fromLinear, toLinear } from './colour-science';
import type { Corrections } from './corrections';

export type TonePart = Pick<Corrections, 'black' | 'white' | 'shadows' | 'highlights' | 'contrast'>;

/** A bump that is 1 a quarter of the way up, and 0 at both ends. */
const lifted = (code: number): number => (code * (1 - code) ** 3) / (0.25 * 0.75 ** 3);

/** How far a bump moves its top at 100: about the steepest that never falls. */
const BUMP = 0.1;

/** The code value, 0 to 1, that becomes of any. */
export function toneOf(
  code: number,
  { black = 0, white = 0, shadows = 0, highlights = 0, contrast = 0 }: TonePart,
): number {
  const [bottom, top] = [black / 200, 1 - white / 200];
  const point = (code - bottom) / (top - bottom);
  if (point <= 0) return 0;
  if (point >= 1) return 1;
  const bumped = point + BUMP * ((shadows / 100) * lifted(point) + (highlights / 100) * lifted(1 - point));
  return bumped + (contrast / 100) * (bumped * bumped * (3 - 2 * bumped) - bumped);
}

/** The same of linear light. */
export const toneOfLight = (light: number, part: TonePart): number =>
  hasTone(part) ? toLinear(toneOf(fromLinear(Math.max(0, light)), part)) : Math.min(1, Math.max(0, light));

export const hasTone = ({ black, white, shadows, highlights, contrast }: TonePart): boolean =>
  [black, white, shadows, highlights, contrast].some((part) => part !== undefined && part !== 0);
