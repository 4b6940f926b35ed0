// Contact sheets and labels as PDF: pages come from the core's layout, fonts are embedded with the letters that are
// used, and what is written leaves at once, so that a thousand pictures are never held together.

import PDFDocument from 'pdfkit';
import { type SheetItem, type SheetPhoto, layoutPage, pagesFor, perPage } from '@/core/send-out/sheet';
import type { SheetOrder, SheetSource } from './protocol';
import { bytesOf } from '@/storage/drives/safe-write';
import { serve } from './serve';

type Doc = InstanceType<typeof PDFDocument>;

const FOLDER = '/fonts/';
/** In this order: the first that has a letter draws it. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'cyrillic', 'cyrillic-ext', 'vietnamese'] as const;
const WEIGHTS = { regular: 400, bold: 600 } as const;

interface Face {
  name: string;
  has: (codePoint: number) => boolean;
}

/** The faces of both weights that the texts need, registered with the document. */
async function facesFor(doc: Doc, texts: Iterable<string>): Promise<Record<keyof typeof WEIGHTS, Face[]>> {
  const letters = new Set([...texts].flatMap((text) => [...text].map((letter) => letter.codePointAt(0) ?? 0)));
  const faces = { regular: [] as Face[], bold: [] as Face[] };
  for (const weight of ['regular', 'bold'] as const) {
    let missing = [...letters];
    for (const script of SCRIPTS) {
      // the Latin face is there in any case: it draws what no face has
      if (script !== 'latin' && missing.length === 0) break;
      const name = `${script}-${weight}`;
      const file = await fetch(`${FOLDER}ibm-plex-sans-${script}-${WEIGHTS[weight]}-normal.woff`);
      doc.registerFont(name, await file.arrayBuffer());
      doc.font(name);
      const { font } = (doc as unknown as { _font: { font: { hasGlyphForCodePoint(codePoint: number): boolean } } })
        ._font;
      faces[weight].push({ name, has: (codePoint) => font.hasGlyphForCodePoint(codePoint) });
      missing = missing.filter((codePoint) => !font.hasGlyphForCodePoint(codePoint));
    }
  }
  return faces;
}

class Pen {
  constructor(
    private readonly doc: Doc,
    private readonly faces: Record<keyof typeof WEIGHTS, Face[]>,
  ) {}

  measure = (text: string, size: number, isBold: boolean): number =>
    this.runs(text, isBold).reduce(
      (sum, [name, part]) => sum + this.doc.font(name).fontSize(size).widthOfString(part),
      0,
    );

  draw(item: Exclude<SheetItem, { kind: 'picture' }>): void {
    const { doc } = this;
    if (item.kind === 'bar') {
      doc.rect(item.x, item.y, item.width, item.height).fill(item.color);
      return;
    }
    let { x } = item;
    for (const [name, part] of this.runs(item.text, item.isBold)) {
      doc.font(name).fontSize(item.size).fillColor('#1e2427');
      doc.text(part, x, item.y, { lineBreak: false, baseline: 'alphabetic' });
      x += doc.widthOfString(part);
    }
  }

  /** Parts of a text by the face that has their letters. */
  private runs(text: string, isBold: boolean): [name: string, part: string][] {
    const faces = this.faces[isBold ? 'bold' : 'regular'];
    const runs: [string, string][] = [];
    for (const letter of text) {
      const codePoint = letter.codePointAt(0) ?? 0;
      const { name } = faces.find(({ has }) => has(codePoint)) ?? (faces[0] as Face);
      const last = runs.at(-1);
      if (last?.[0] === name) last[1] += letter;
      else runs.push([name, letter]);
    }
    return runs;
  }
}

/** So many bytes are handed to the browser at once, which keeps them wherever it has room. */
const PIECE_BYTES = 4 * 1024 * 1024;

function collector(doc: Doc): { done: Promise<Blob> } {
  const blobs: Blob[] = [];
  let pieces: Uint8Array<ArrayBuffer>[] = [];
  let waiting = 0;
  const flush = () => {
    blobs.push(new Blob(pieces));
    pieces = [];
    waiting = 0;
  };
  doc.on('data', (piece: Uint8Array) => {
    pieces.push(new Uint8Array(piece));
    waiting += piece.length;
    if (waiting >= PIECE_BYTES) flush();
  });
  return {
    done: new Promise((resolve, reject) => {
      doc.on('end', () => {
        flush();
        resolve(new Blob(blobs, { type: 'application/pdf' }));
      });
      doc.on('error', reject);
    }),
  };
}

async function drawSheet(
  { settings, photos, title }: SheetOrder,
  onPhotos: (photos: number) => void,
  signal: AbortSignal,
): Promise<Blob> {
  const doc = new PDFDocument({
    autoFirstPage: false,
    info: { Title: title, Producer: 'Wembo', Creator: 'Wembo' },
    lang: 'en',
    font: null as never,
  });
  const { done } = collector(doc);
  const told = photos.flatMap(({ lines, marker }) => [...lines, marker?.name ?? '']);
  const faces = await facesFor(doc, [...told, settings.header, settings.footer, '0123456789 / …']);
  const pen = new Pen(doc, faces);
  const pages = pagesFor(settings, photos.length);
  for (let page = 0; page < pages; page++) {
    const own = photos.slice(page * perPage(settings), (page + 1) * perPage(settings));
    const pictures = await Promise.all(own.map((photo) => pictureOf(doc, photo)));
    signal.throwIfAborted();
    const placed = own.map((photo, index): SheetPhoto => ({ ...photo, ...sizeOf(pictures[index] ?? null) }));
    const { width, height, items } = layoutPage(settings, page, pages, placed, pen.measure);
    doc.addPage({ size: [width, height], margin: 0 });
    for (const item of items) {
      const picture = item.kind === 'picture' ? pictures[item.photo] : null;
      if (item.kind !== 'picture') pen.draw(item);
      else if (picture) doc.image(picture as never, item.x, item.y, { width: item.width, height: item.height });
    }
    onPhotos(own.length);
  }
  doc.end();
  return done;
}

interface OpenedImage {
  width: number;
  height: number;
}

const sizeOf = (picture: OpenedImage | null) => ({ width: picture?.width ?? null, height: picture?.height ?? null });

async function pictureOf(doc: Doc, { picture }: SheetSource): Promise<OpenedImage | null> {
  if (!picture) return null;
  const bytes = await bytesOf(picture);
  return (doc as unknown as { openImage(bytes: ArrayBuffer): OpenedImage }).openImage(bytes.buffer);
}

serve<'sheet'>(self, {
  sheet: (order, { onBytes, signal }) => drawSheet(order, onBytes, signal),
});
