// Which part of a picture is in sight, and how large. Kept as a share of the picture, so that the same spot of the next
// frame is shown, whatever its size. Pure; lengths in CSS pixels of the stage unless they say otherwise.

export interface PictureView {
  /** `fit`, or how many pixels of the screen one pixel of the picture takes: 1 is 100 %. */
  scale: 'fit' | number;
  /** The spot of the picture at the middle of the stage, in shares of its width and height. */
  x: number;
  y: number;
}

export interface ViewBox {
  width: number;
  height: number;
}

export const WHOLE: PictureView = { scale: 'fit', x: 0.5, y: 0.5 };
export const SCALE_LIMITS = { least: 0.05, most: 8 };

/**
 * Size of the picture on the stage; `density` is screen pixels to a CSS pixel. A small picture is not blown up to fit.
 */
export function drawnSize(view: PictureView, picture: ViewBox, stage: ViewBox, density: number): ViewBox {
  const fit = Math.min(stage.width / picture.width, stage.height / picture.height, 1);
  const factor = view.scale === 'fit' ? fit : view.scale / density;
  return { width: picture.width * factor, height: picture.height * factor };
}

/** Where the left top corner of the picture lies on the stage: no edge comes in while there is picture beyond it. */
export function cornerOf(
  view: PictureView,
  picture: ViewBox,
  stage: ViewBox,
  density: number,
): { left: number; top: number } {
  const size = drawnSize(view, picture, stage, density);
  return { left: place(view.x, size.width, stage.width), top: place(view.y, size.height, stage.height) };
}

function place(share: number, drawn: number, stage: number): number {
  if (drawn <= stage) return (stage - drawn) / 2;
  return Math.min(0, Math.max(stage - drawn, stage / 2 - share * drawn));
}

/** Changes the scale so that what is under the point stays under it. */
export function scaledAt(
  view: PictureView,
  scale: PictureView['scale'],
  point: { x: number; y: number },
  picture: ViewBox,
  stage: ViewBox,
  density: number,
): PictureView {
  if (scale === 'fit') return WHOLE;
  const before = drawnSize(view, picture, stage, density);
  const { left, top } = cornerOf(view, picture, stage, density);
  const spot = { x: share((point.x - left) / before.width), y: share((point.y - top) / before.height) };
  const limited = Math.min(SCALE_LIMITS.most, Math.max(SCALE_LIMITS.least, scale));
  const after = drawnSize({ ...view, scale: limited }, picture, stage, density);
  return kept(
    {
      scale: limited,
      x: spot.x - (point.x - stage.width / 2) / after.width,
      y: spot.y - (point.y - stage.height / 2) / after.height,
    },
    picture,
    stage,
    density,
  );
}

/** Moves what is in sight by so many CSS pixels, as a hand moves a sheet. */
export function movedBy(
  view: PictureView,
  by: { x: number; y: number },
  picture: ViewBox,
  stage: ViewBox,
  density: number,
): PictureView {
  const size = drawnSize(view, picture, stage, density);
  return kept({ ...view, x: view.x - by.x / size.width, y: view.y - by.y / size.height }, picture, stage, density);
}

/**
 * The middle of the stage is never asked to lie where the stage would leave the picture: a drag back is felt at once.
 */
function kept(view: PictureView, picture: ViewBox, stage: ViewBox, density: number): PictureView {
  const size = drawnSize(view, picture, stage, density);
  const within = (value: number, drawn: number, room: number) =>
    drawn <= room ? 0.5 : Math.min(1 - room / 2 / drawn, Math.max(room / 2 / drawn, value));
  return { ...view, x: within(view.x, size.width, stage.width), y: within(view.y, size.height, stage.height) };
}

/** A region of a picture, in its pixels. */
export interface PictureRegion extends ViewBox {
  left: number;
  top: number;
}

/** Parts begin and end on a grid, and reach beyond what is in sight: not every step of the hand asks for another. */
const GRID = 1024;
/** A scale between these is served from the one above, so that turning the wheel asks for few of them. */
const SCALES = [1, 0.5, 0.25, 0.125];

/**
 * What of a picture that is too large to be held whole is to be decoded for this view, and how many pixels of its long
 * edge are wanted; `null` where the whole picture at the size of the screen is enough.
 */
export function partInSight(
  view: PictureView,
  picture: ViewBox,
  stage: ViewBox,
  density: number,
): { region: PictureRegion; pixels: number | null } | null {
  if (view.scale === 'fit' || stage.width === 0) return null;
  const { left, top } = cornerOf(view, picture, stage, density);
  const toPicture = density / view.scale;
  const span = (from: number, length: number, all: number): [number, number] => {
    const [first, last] = [Math.max(0, -from) * toPicture, (Math.max(0, -from) + length) * toPicture];
    const margin = ((last - first) * 1) / 4;
    return [
      Math.max(0, Math.floor((first - margin) / GRID) * GRID),
      Math.min(all, Math.ceil((last + margin) / GRID) * GRID),
    ];
  };
  const [x1, x2] = span(left, stage.width, picture.width);
  const [y1, y2] = span(top, stage.height, picture.height);
  const region = { left: x1, top: y1, width: x2 - x1, height: y2 - y1 };
  const scale = SCALES.findLast((one) => one >= Math.min(1, (view.scale as number) * 0.99)) ?? 1;
  return { region, pixels: scale === 1 ? null : Math.ceil(Math.max(region.width, region.height) * scale) };
}

/**
 * How many columns let frames of this shape be largest in a box, each with `beneath` pixels of its own below the
 * picture. Of equals the fewest.
 */
export function bestColumns(count: number, box: ViewBox, aspect: number, beneath: number): number {
  const heightWith = (columns: number) => {
    const rows = Math.ceil(count / columns);
    return Math.min(box.height / rows - beneath, box.width / columns / aspect);
  };
  let best = 1;
  for (let columns = 2; columns <= count; columns++) if (heightWith(columns) > heightWith(best) + 1) best = columns;
  return best;
}

const share = (value: number): number => Math.min(1, Math.max(0, value));
