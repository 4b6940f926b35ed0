// A watermark: words, with fields in them, or a picture, laid over what is sent. Measures are shares of the picture, so
// that it looks the same at every size.

export const CORNERS = ['top-left', 'top-right', 'middle', 'bottom-left', 'bottom-right'] as const;
export type WatermarkPlace = (typeof CORNERS)[number];

export interface Watermark {
  /** `[=creator]` stands for what the photo says by that name. */
  text: string;
  /** A PNG as a data URL, which goes before the words; `null` without one. */
  picture: string | null;
  place: WatermarkPlace;
  /** Its height for words, its width for a picture, as a share of the short edge: 0.01 to 1. */
  size: number;
  /** 0 to 1. */
  opacity: number;
}

/** A picture for a watermark is a sign, not a photo. */
export const WATERMARK_BYTES_LIMIT = 400_000;

/** How far from the edges it stands, as a share of the short edge. */
const MARGIN = 0.025;

/** The upper left corner of a box of this size laid over a picture, in its pixels. */
export function overlayCorner(
  place: WatermarkPlace,
  box: { width: number; height: number },
  picture: { width: number; height: number },
): { left: number; top: number } {
  const margin = Math.round(MARGIN * Math.min(picture.width, picture.height));
  const [right, bottom] = [picture.width - box.width - margin, picture.height - box.height - margin];
  const at = (left: number, top: number) => ({
    left: Math.max(0, Math.round(left)),
    top: Math.max(0, Math.round(top)),
  });
  switch (place) {
    case 'top-left':
      return at(margin, margin);
    case 'top-right':
      return at(right, margin);
    case 'bottom-left':
      return at(margin, bottom);
    case 'bottom-right':
      return at(right, bottom);
    case 'middle':
      return at((picture.width - box.width) / 2, (picture.height - box.height) / 2);
  }
}
