// The frame of a crop under the hand: moved, drawn by an edge or a corner, and brought to a shape. In parts of the
// picture, 0 to 1; a shape is width by height in pixels.

import type { Edges } from '../picture/print-size';
import type { Crop } from './corrections';

export const WHOLE_CROP: Crop = { left: 0, top: 0, width: 1, height: 1 };

/** Which sides move with the hand; the whole frame, where none is named. */
export interface Grip {
  x?: 'left' | 'right';
  y?: 'top' | 'bottom';
}

/** What remains is never smaller. */
const LEAST = 0.02;

const within = (value: number, from: number, to: number): number => Math.min(Math.max(value, from), Math.max(from, to));

/** Moved by parts of the picture, as far as it has room. */
export const movedCrop = (crop: Crop, x: number, y: number): Crop => ({
  ...crop,
  left: within(crop.left + x, 0, 1 - crop.width),
  top: within(crop.top + y, 0, 1 - crop.height),
});

/** Drawn by its grip; the side across from it stays. With a shape the longer way of the hand says how large. */
export function drawnCrop(crop: Crop, grip: Grip, x: number, y: number, shape: number | null, picture: Edges): Crop {
  if (!grip.x && !grip.y) return movedCrop(crop, x, y);
  const right = crop.left + crop.width;
  const bottom = crop.top + crop.height;
  const width = within(
    crop.width + (grip.x === 'left' ? -x : grip.x === 'right' ? x : 0),
    LEAST,
    grip.x === 'left' ? right : 1 - crop.left,
  );
  const height = within(
    crop.height + (grip.y === 'top' ? -y : grip.y === 'bottom' ? y : 0),
    LEAST,
    grip.y === 'top' ? bottom : 1 - crop.top,
  );
  const free = anchored(crop, grip, width, height);
  if (shape === null) return free;
  // in parts of the picture a shape is another one
  const part = (shape * picture.height) / picture.width;
  const byWidth = grip.x !== undefined && (grip.y === undefined || width / part >= height);
  const [wideEnough, highEnough] = byWidth ? [width, width / part] : [height * part, height];
  const most = Math.min(1, roomAcross(crop, grip) / wideEnough, roomDown(crop, grip) / highEnough);
  return anchored(crop, grip, wideEnough * most, highEnough * most);
}

const roomAcross = (crop: Crop, { x }: Grip): number =>
  x === 'left'
    ? crop.left + crop.width
    : x === 'right'
      ? 1 - crop.left
      : 2 * Math.min(middleX(crop), 1 - middleX(crop));
const roomDown = (crop: Crop, { y }: Grip): number =>
  y === 'top' ? crop.top + crop.height : y === 'bottom' ? 1 - crop.top : 2 * Math.min(middleY(crop), 1 - middleY(crop));
const middleX = ({ left, width }: Crop): number => left + width / 2;
const middleY = ({ top, height }: Crop): number => top + height / 2;

/** Of this size, where the side across from the grip stays, or the middle where no side of that way is held. */
const anchored = (crop: Crop, { x, y }: Grip, width: number, height: number): Crop => ({
  left: x === 'left' ? crop.left + crop.width - width : x === 'right' ? crop.left : middleX(crop) - width / 2,
  top: y === 'top' ? crop.top + crop.height - height : y === 'bottom' ? crop.top : middleY(crop) - height / 2,
  width,
  height,
});

/** The largest of a shape that lies in the frame, about its middle. */
export function shapedCrop(crop: Crop, shape: number, picture: Edges): Crop {
  const part = (shape * picture.height) / picture.width;
  const width = Math.min(crop.width, crop.height * part);
  return anchored(crop, {}, width, width / part);
}
