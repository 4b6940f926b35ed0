// How large a picture prints. Pixels, inches, and pixels to the inch (ppi); the tag in a file that states a ppi changes
// no pixel.

export interface Edges {
  width: number;
  height: number;
}

const CM_PER_INCH = 2.54;

/** Inches of a picture printed at `ppi`. */
export const printInches = ({ width, height }: Edges, ppi: number): Edges => ({
  width: width / ppi,
  height: height / ppi,
});

/** Pixels that a print with this long edge, in inches, needs; a picture keeps its shape. */
export function pixelsForPrint({ width, height }: Edges, longInches: number, ppi: number): Edges {
  return withLongEdge({ width, height }, longInches * ppi);
}

/** The same shape with another long edge, in whole pixels. */
export function withLongEdge({ width, height }: Edges, long: number): Edges {
  const scale = long / Math.max(width, height);
  return { width: Math.round(width * scale), height: Math.round(height * scale) };
}

/** Pixels to the inch of a picture whose long edge is printed at so many inches. */
export const ppiOfPrint = ({ width, height }: Edges, longInches: number): number =>
  Math.max(width, height) / longInches;

/** What printers ask for (common practice). */
export const PRINT_PPI = 300;

/** `30.5 × 20.3 cm at 300 ppi` */
export function printWords(picture: Edges, ppi = PRINT_PPI): string {
  const { width, height } = printInches(picture, ppi);
  return `${(width * CM_PER_INCH).toFixed(1)} × ${(height * CM_PER_INCH).toFixed(1)} cm at ${ppi} ppi`;
}
