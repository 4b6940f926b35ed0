// Contact sheets and labels, laid out: pages of equal cells, a picture and lines of text in each. One description of
// each page is drawn twice, as PDF and on the screen, so that what is seen is what will be printed. Measures in points
// (1/72 in) from the upper left corner; how wide a text is, whoever draws says.

const POINTS_PER_MM = 72 / 25.4;

/** Upright, in millimetres: ISO 216, and ANSI/ASME Y14.1 for Letter. */
export const SHEET_PAPERS = {
  A3: [297, 420],
  A4: [210, 297],
  A5: [148, 210],
  Letter: [215.9, 279.4],
} as const satisfies Record<string, readonly [number, number]>;
export type SheetPaper = keyof typeof SHEET_PAPERS;

export interface SheetSettings {
  kind: 'contact-sheet' | 'labels';
  paper: SheetPaper;
  landscape: boolean;
  columns: number;
  rows: number;
  /** All around. */
  marginMm: number;
  /** Between cells. */
  gapMm: number;
  /** One line above and one below the cells; empty for none. */
  header: string;
  footer: string;
  pageNumbers: boolean;
  /** What stands under each picture, or on each label; each line is filled from the photo. */
  text: string;
  /** Height of the letters. */
  fontPoints: number;
  rating: boolean;
  marker: boolean;
}

export const NEW_SHEET_SETTINGS: SheetSettings = {
  kind: 'contact-sheet',
  paper: 'A4',
  landscape: false,
  columns: 4,
  rows: 5,
  marginMm: 12,
  gapMm: 4,
  header: '',
  footer: '',
  pageNumbers: true,
  text: '[=file]\n[=headline]',
  fontPoints: 7,
  rating: false,
  marker: false,
};

export const NEW_LABELS: SheetSettings = {
  ...NEW_SHEET_SETTINGS,
  kind: 'labels',
  columns: 3,
  rows: 8,
  marginMm: 10,
  gapMm: 2,
  pageNumbers: false,
  text: '[=accession]\n[=headline]\n[=place], [=date]\n[=copyright]',
  fontPoints: 8,
};

export interface SheetPhoto {
  /** Of the picture as it lies; `null` where there is none to draw. */
  width: number | null;
  height: number | null;
  /** Already filled from the photo, a line each. */
  lines: readonly string[];
  rating: number;
  marker: { name: string; color: string } | null;
}

export interface SheetBox {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type SheetItem =
  | ({ kind: 'picture'; photo: number } & SheetBox)
  | ({ kind: 'bar'; color: string } & SheetBox)
  /** `y` is the line the letters stand on. */
  | { kind: 'text'; x: number; y: number; text: string; size: number; isBold: boolean };

export interface SheetPage {
  width: number;
  height: number;
  items: SheetItem[];
}

/** How wide a text is, in points, in the face of this size. */
export type MeasureText = (text: string, size: number, isBold: boolean) => number;

const INK = '#1e2427';
const FAINT = '#d3d3cf';
const LINE = 1.3;
const HEAD_POINTS = 9;
/** Room for the header or footer, in lines of its height. */
const HEAD_LINES = 1.8;

export const perPage = ({ columns, rows }: SheetSettings): number => columns * rows;

export const pagesFor = (settings: SheetSettings, photos: number): number =>
  Math.max(1, Math.ceil(photos / perPage(settings)));

interface Grid {
  page: { width: number; height: number };
  margin: number;
  cell: { width: number; height: number };
  top: number;
  gap: number;
}

function gridOf(settings: SheetSettings): Grid {
  const [short, long] = SHEET_PAPERS[settings.paper];
  const [width, height] = (settings.landscape ? [long, short] : [short, long]).map((mm) => mm * POINTS_PER_MM) as [
    number,
    number,
  ];
  const margin = settings.marginMm * POINTS_PER_MM;
  const gap = settings.gapMm * POINTS_PER_MM;
  const head = settings.header.trim() === '' ? 0 : HEAD_POINTS * HEAD_LINES;
  const foot = settings.footer.trim() === '' && !settings.pageNumbers ? 0 : HEAD_POINTS * HEAD_LINES;
  return {
    page: { width, height },
    margin,
    gap,
    top: margin + head,
    cell: {
      width: (width - 2 * margin - (settings.columns - 1) * gap) / settings.columns,
      height: (height - 2 * margin - head - foot - (settings.rows - 1) * gap) / settings.rows,
    },
  };
}

/** The box a picture is fitted into, in points; no height is left where the text takes all. */
export function pictureBox(settings: SheetSettings): { width: number; height: number } {
  const { cell } = gridOf(settings);
  return { width: cell.width, height: Math.max(0, cell.height - textHeight(settings)) };
}

const lineHeight = ({ fontPoints }: SheetSettings): number => fontPoints * LINE;
const textLines = ({ text }: SheetSettings): number => (text.trim() === '' ? 0 : text.split('\n').length);
const textHeight = (settings: SheetSettings): number =>
  (textLines(settings) + (settings.rating || settings.marker ? 1 : 0)) * lineHeight(settings) +
  settings.fontPoints * 0.4;

/**
 * One page, from 0. Texts that are longer than their cell are cut at a word, and end in `…`.
 * @param photos those of this page alone
 */
export function layoutPage(
  settings: SheetSettings,
  page: number,
  pages: number,
  photos: readonly SheetPhoto[],
  measure: MeasureText,
): SheetPage {
  const grid = gridOf(settings);
  const items: SheetItem[] = headAndFoot(settings, grid, page, pages, measure);
  photos.forEach((photo, index) => {
    const [column, row] = [index % settings.columns, Math.floor(index / settings.columns)];
    const cell: SheetBox = {
      x: grid.margin + column * (grid.cell.width + grid.gap),
      y: grid.top + row * (grid.cell.height + grid.gap),
      ...grid.cell,
    };
    items.push(...(settings.kind === 'labels' ? labelItems : cellItems)(settings, cell, photo, index, measure));
  });
  return { ...grid.page, items };
}

function headAndFoot(
  settings: SheetSettings,
  { page: paper, margin }: Grid,
  page: number,
  pages: number,
  measure: MeasureText,
): SheetItem[] {
  const width = paper.width - 2 * margin;
  const items: SheetItem[] = [];
  const line = (text: string, y: number, isBold: boolean) => {
    if (text.trim() !== '')
      items.push({
        kind: 'text',
        x: margin,
        y,
        text: cutToWidth(text, width * 0.85, HEAD_POINTS, isBold, measure),
        size: HEAD_POINTS,
        isBold,
      });
  };
  line(settings.header, margin + HEAD_POINTS, true);
  line(settings.footer, paper.height - margin, false);
  if (!settings.pageNumbers) return items;
  const number = `${page + 1} / ${pages}`;
  const x = paper.width - margin - measure(number, HEAD_POINTS, false);
  return [...items, { kind: 'text', x, y: paper.height - margin, text: number, size: HEAD_POINTS, isBold: false }];
}

function cellItems(
  settings: SheetSettings,
  cell: SheetBox,
  photo: SheetPhoto,
  index: number,
  measure: MeasureText,
): SheetItem[] {
  const room = pictureBox(settings);
  const items: SheetItem[] = [];
  const fitted = fit(photo, room);
  // pictures of a row stand on one line
  const bottom = cell.y + room.height;
  if (fitted)
    items.push({
      kind: 'picture',
      photo: index,
      x: cell.x + (cell.width - fitted.width) / 2,
      y: bottom - fitted.height,
      ...fitted,
    });
  let y = bottom + settings.fontPoints * 0.4;
  if (settings.rating || settings.marker) {
    items.push(...judgement(settings, cell.x, y, photo, cell.width, measure));
    y += lineHeight(settings);
  }
  return [...items, ...lines(settings, cell.x, y, cell.width, photo.lines, measure)];
}

/** A label has no picture: its text begins at its upper edge, wrapped, as far as there is room. */
function labelItems(
  settings: SheetSettings,
  cell: SheetBox,
  photo: SheetPhoto,
  _index: number,
  measure: MeasureText,
): SheetItem[] {
  const inset = settings.fontPoints / 2;
  const width = cell.width - 2 * inset;
  const room = Math.floor((cell.height - 2 * inset) / lineHeight(settings));
  const wrapped = photo.lines
    .flatMap((line) => wrap(line, width, settings.fontPoints, measure))
    .slice(0, Math.max(1, room));
  return lines(settings, cell.x + inset, cell.y + inset, width, wrapped, measure);
}

function lines(
  settings: SheetSettings,
  x: number,
  top: number,
  width: number,
  texts: readonly string[],
  measure: MeasureText,
): SheetItem[] {
  const size = settings.fontPoints;
  return texts.flatMap((text, index): SheetItem[] =>
    text.trim() === ''
      ? []
      : [
          {
            kind: 'text',
            x,
            y: top + size + index * lineHeight(settings),
            text: cutToWidth(text, width, size, false, measure),
            size,
            isBold: false,
          },
        ],
  );
}

const RUNGS = 5;

/** Five upright bars, as many of them dark as the rating says; a rejected photo has one that is struck through. */
function judgement(
  settings: SheetSettings,
  x: number,
  top: number,
  { rating, marker }: SheetPhoto,
  width: number,
  measure: MeasureText,
): SheetItem[] {
  const size = settings.fontPoints;
  const [bar, gap, height] = [size * 0.28, size * 0.22, size * 0.8];
  const items: SheetItem[] = [];
  let at = x;
  if (settings.rating) {
    if (rating < 0) {
      items.push({ kind: 'bar', color: INK, x: at + bar, y: top, width: bar, height });
      items.push({ kind: 'bar', color: INK, x: at, y: top + height / 2 - bar / 4, width: 3 * bar, height: bar / 2 });
    } else
      for (let rung = 0; rung < RUNGS; rung++)
        items.push({
          kind: 'bar',
          color: rung < rating ? INK : FAINT,
          x: at + rung * (bar + gap),
          y: top,
          width: bar,
          height,
        });
    at += RUNGS * (bar + gap) + size;
  }
  if (settings.marker && marker) {
    items.push({ kind: 'bar', color: marker.color, x: at, y: top, width: height, height });
    at += height + gap * 2;
    const text = cutToWidth(marker.name, Math.max(0, x + width - at), size, false, measure);
    if (text !== '') items.push({ kind: 'text', x: at, y: top + height, text, size, isBold: false });
  }
  return items;
}

function fit({ width, height }: SheetPhoto, room: { width: number; height: number }) {
  if (!width || !height || room.height <= 0) return null;
  const scale = Math.min(room.width / width, room.height / height);
  return { width: width * scale, height: height * scale };
}

const ELLIPSIS = '…';

/** The text as far as it fits, cut behind a word where there is one, with `…`; empty where not even that fits. */
export function cutToWidth(text: string, width: number, size: number, isBold: boolean, measure: MeasureText): string {
  if (measure(text, size, isBold) <= width) return text;
  const letters = [...text];
  const fits = (length: number) =>
    measure(letters.slice(0, length).join('').trimEnd() + ELLIPSIS, size, isBold) <= width;
  let [most, tooMany] = [0, letters.length];
  while (tooMany - most > 1) {
    const middle = (most + tooMany) >> 1;
    if (fits(middle)) most = middle;
    else tooMany = middle;
  }
  if (most === 0) return measure(ELLIPSIS, size, isBold) <= width ? ELLIPSIS : '';
  const cut = letters.slice(0, most).join('');
  const word = cut.lastIndexOf(' ');
  return (word > cut.length / 2 ? cut.slice(0, word) : cut).trimEnd() + ELLIPSIS;
}

/** Lines that fit; a word that is longer than a line stands alone. */
function wrap(text: string, width: number, size: number, measure: MeasureText): string[] {
  const wrapped: string[] = [];
  let line = '';
  for (const word of text.split(/\s+/).filter((one) => one !== '')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line !== '' && measure(longer, size, false) > width) {
      wrapped.push(line);
      line = word;
    } else line = longer;
  }
  return line === '' ? wrapped : [...wrapped, line];
}
