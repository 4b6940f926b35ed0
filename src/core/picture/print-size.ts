// How large a picture prints. Pixels, inches, and pixels to the inch (ppi); the tag in a file that states a ppi changes
// no pixel.

export interface Edges {
  width: number;
  height: number;
}

export const CM_PER_INCH = 2.54;

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

/** `12.0 × 8.0 in` */
export function inchWords(picture: Edges, ppi: number): string {
  const { width, height } = printInches(picture, ppi);
  return `${width.toFixed(1)} × ${height.toFixed(1)} in`;
}

/** Edges in millimetres: ISO 216, and the sizes photographs are printed in (common practice). */
export const PAPERS: readonly (Edges & { name: string })[] = [
  { name: '10 × 15 cm', width: 150, height: 100 },
  { name: '13 × 18 cm', width: 180, height: 130 },
  { name: 'A5', width: 210, height: 148 },
  { name: '20 × 30 cm', width: 300, height: 200 },
  { name: 'A4', width: 297, height: 210 },
  { name: 'A3', width: 420, height: 297 },
  { name: 'A2', width: 594, height: 420 },
];

/** Pixels to the inch where the whole picture is printed as large as it fits the paper, whichever way that lies. */
export function ppiOnPaper(picture: Edges, paper: Edges): number {
  const [long, short] = [Math.max(picture.width, picture.height), Math.min(picture.width, picture.height)];
  const inches = (mm: number) => mm / 10 / CM_PER_INCH;
  return Math.max(
    long / inches(Math.max(paper.width, paper.height)),
    short / inches(Math.min(paper.width, paper.height)),
  );
}
