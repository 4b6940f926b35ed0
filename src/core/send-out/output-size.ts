// How many pixels a picture that is sent out gets. Edges in whole pixels; a picture keeps its shape, and is never
// enlarged unless that was asked for.

import { CM_PER_INCH, type Edges, pixelsForPrint, withLongEdge } from '../picture/print-size';

export type OutputSize =
  | { kind: 'full' }
  | { kind: 'long-edge'; pixels: number }
  | { kind: 'short-edge'; pixels: number }
  /** As large as it fits into both, whichever way the picture lies. */
  | { kind: 'within'; width: number; height: number }
  | { kind: 'megapixels'; megapixels: number }
  /** The long edge as it is to be printed, at the ppi of the profile. */
  | { kind: 'print'; long: number; unit: 'cm' | 'in' };

export const inchesOf = (length: number, unit: 'cm' | 'in'): number => (unit === 'in' ? length : length / CM_PER_INCH);

/** The pixels asked for, whether the picture has as many or not. */
function wantedPixels(picture: Edges, size: OutputSize, ppi: number): Edges {
  const [long, short] = [Math.max(picture.width, picture.height), Math.min(picture.width, picture.height)];
  switch (size.kind) {
    case 'full':
      return picture;
    case 'long-edge':
      return withLongEdge(picture, size.pixels);
    case 'short-edge':
      return withLongEdge(picture, (size.pixels * long) / short);
    case 'within': {
      const [first, second] = [Math.max(size.width, size.height), Math.min(size.width, size.height)];
      return withLongEdge(picture, long * Math.min(first / long, second / short));
    }
    case 'megapixels':
      return withLongEdge(picture, long * Math.sqrt((size.megapixels * 1_000_000) / (picture.width * picture.height)));
    case 'print':
      return pixelsForPrint(picture, inchesOf(size.long, size.unit), ppi);
  }
}

export interface OutputPixels extends Edges {
  /** Whether the picture has fewer pixels than were asked for, and stays as small as it is. */
  isSmaller: boolean;
}

/** The pixels a picture is sent with; none of its edges is less than one. */
export function outputPixels(picture: Edges, size: OutputSize, ppi: number, enlarge: boolean): OutputPixels {
  const wanted = wantedPixels(picture, size, ppi);
  const isSmaller = !enlarge && (wanted.width > picture.width || wanted.height > picture.height);
  const { width, height } = isSmaller ? picture : wanted;
  return { width: Math.max(1, width), height: Math.max(1, height), isSmaller };
}

/** `long edge 3600 px` */
export function sizeWords(size: OutputSize, ppi: number): string {
  switch (size.kind) {
    case 'full':
      return 'all pixels';
    case 'long-edge':
      return `long edge ${size.pixels} px`;
    case 'short-edge':
      return `short edge ${size.pixels} px`;
    case 'within':
      return `within ${size.width} × ${size.height} px`;
    case 'megapixels':
      return `${size.megapixels} megapixels`;
    case 'print':
      return `long edge ${size.long} ${size.unit} at ${ppi} ppi`;
  }
}
