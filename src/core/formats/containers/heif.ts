// HEIF and AVIF (ISO/IEC 23008-12, MIAF 23000-22): the primary item, its size, rotation and mirror among the item
// properties, EXIF and XMP as items that describe it, JPEG thumbnails.

import { type ByteSource, memorySource } from '../../bytes/source';
import { joinBytes } from '../../bytes/join';
import { ByteView } from '../../bytes/view';
import { type Blocks, METADATA_LIMIT_BYTES, exifBlock, noBlocks } from './blocks';
import { type IsoBox, boxOf, childrenOf, contentOf, readBoxes } from './boxes';
import { exifItem } from './jxl';
import { profileName } from './profile';

interface Extent {
  offset: number;
  length: number;
}

interface Item {
  id: number;
  type: string;
  contentType: string;
  extents: Extent[];
}

export interface Heif {
  primary: number | null;
  items: Map<number, Item>;
  /** Items by the item they derive from or describe: `dimg` parts of a grid, `thmb` thumbnails, `auxl`, `cdsc`. */
  references: { type: string; from: number; to: number[] }[];
  /** The property boxes of each item. */
  properties: Map<number, IsoBox[]>;
  cutAt: number | null;
}

const ITEMS_LIMIT = 10_000;

export async function readHeif(source: ByteSource): Promise<Heif | null> {
  const { list, cutAt } = await readBoxes(source, 0, source.size);
  const meta = boxOf(list, 'meta');
  if (!meta) return null;
  const boxes = await childrenOf(source, meta, 4);
  const pitm = new ByteView(await contentOf(source, boxOf(boxes, 'pitm')));
  const heif: Heif = {
    primary: pitm.u8(0) === 0 ? pitm.u16(4) : pitm.u32(4),
    items: await itemsOf(source, boxes),
    references: [],
    properties: new Map(),
    cutAt,
  };
  heif.references = await referencesOf(source, boxOf(boxes, 'iref'));
  heif.properties = await propertiesOf(source, boxOf(boxes, 'iprp'));
  const idat = boxOf(boxes, 'idat');
  readLocations(new ByteView(await contentOf(source, boxOf(boxes, 'iloc'))), heif.items, idat?.start ?? null);
  return heif;
}

async function itemsOf(source: ByteSource, boxes: IsoBox[]): Promise<Map<number, Item>> {
  const items = new Map<number, Item>();
  const iinf = boxOf(boxes, 'iinf');
  const version = iinf ? (await source.read(iinf.start, 1))[0] : 0;
  for (const box of (await childrenOf(source, iinf, version === 0 ? 6 : 8)).slice(0, ITEMS_LIMIT)) {
    const view = new ByteView(await contentOf(source, box));
    const wide = view.u8(0) === 3 ? 2 : 0;
    const id = wide ? view.u32(4) : view.u16(4);
    if (box.type !== 'infe' || id === null || (view.u8(0) ?? 0) < 2) continue;
    const [, contentType = ''] = new TextDecoder('latin1').decode(view.bytes.subarray(12 + wide)).split('\0');
    items.set(id, { id, type: view.ascii(8 + wide, 4), contentType, extents: [] });
  }
  return items;
}

/** A number of 0, 2, 4 or 8 bytes. */
const sized = (view: ByteView, at: number, bytes: number): number =>
  (bytes === 0 ? 0 : bytes === 2 ? view.u16(at) : bytes === 4 ? view.u32(at) : view.u64(at)) ?? 0;

/**
 * Item locations (14496-12, section 8.11.3). `idatStart`: where offsets count from for items kept inside the meta box.
 */
function readLocations(view: ByteView, items: Map<number, Item>, idatStart: number | null): void {
  const version = view.u8(0) ?? 0;
  const [offsetBytes, lengthBytes] = [(view.u8(4) ?? 0) >> 4, (view.u8(4) ?? 0) & 15];
  const [baseBytes, indexBytes] = [(view.u8(5) ?? 0) >> 4, version > 0 ? (view.u8(5) ?? 0) & 15 : 0];
  const idBytes = version < 2 ? 2 : 4;
  let at = 6 + idBytes;
  let left = Math.min(sized(view, 6, idBytes), ITEMS_LIMIT);
  for (let extents = 0; left > 0 && at < view.length && extents < ITEMS_LIMIT; left--) {
    const item = items.get(sized(view, at, idBytes));
    at += idBytes;
    const method = version > 0 ? (view.u16(at) ?? 0) & 15 : 0;
    at += version > 0 ? 4 : 2;
    const base = sized(view, at, baseBytes);
    const count = view.u16(at + baseBytes) ?? 0;
    at += baseBytes + 2;
    for (let index = 0; index < count && at <= view.length && extents < ITEMS_LIMIT; index++, extents++) {
      at += indexBytes;
      const offset = base + sized(view, at, offsetBytes);
      const length = sized(view, at + offsetBytes, lengthBytes);
      at += offsetBytes + lengthBytes;
      if (item && method === 0) item.extents.push({ offset, length });
      else if (item && method === 1 && idatStart !== null) item.extents.push({ offset: idatStart + offset, length });
    }
  }
}

async function referencesOf(source: ByteSource, iref: IsoBox | undefined): Promise<Heif['references']> {
  const wide = iref && (await source.read(iref.start, 1))[0] === 1 ? 4 : 2;
  const references: Heif['references'] = [];
  for (const box of await childrenOf(source, iref, 4)) {
    const view = new ByteView(await contentOf(source, box));
    const count = Math.min(view.u16(wide) ?? 0, ITEMS_LIMIT);
    const to = Array.from({ length: count }, (_, index) => sized(view, wide + 2 + index * wide, wide));
    references.push({ type: box.type, from: sized(view, 0, wide), to });
  }
  return references;
}

async function propertiesOf(source: ByteSource, iprp: IsoBox | undefined): Promise<Map<number, IsoBox[]>> {
  const properties = new Map<number, IsoBox[]>();
  const children = await childrenOf(source, iprp);
  const all = await childrenOf(source, boxOf(children, 'ipco'));
  for (const box of children.filter(({ type }) => type === 'ipma')) {
    const view = new ByteView(await contentOf(source, box));
    const idBytes = view.u8(0) === 0 ? 2 : 4;
    const wide = ((view.u8(3) ?? 0) & 1) === 1 ? 2 : 1;
    let at = 8;
    for (let left = Math.min(view.u32(4) ?? 0, ITEMS_LIMIT); left > 0 && at < view.length; left--) {
      const id = sized(view, at, idBytes);
      const count = view.u8(at + idBytes) ?? 0;
      at += idBytes + 1;
      const boxes: IsoBox[] = [];
      for (let index = 0; index < count; index++, at += wide) {
        const number = wide === 2 ? (view.u16(at) ?? 0) & 0x7fff : (view.u8(at) ?? 0) & 0x7f;
        const found = all[number - 1];
        if (found) boxes.push(found);
      }
      properties.set(id, boxes);
    }
  }
  return properties;
}

export async function readHeifBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const heif = await readHeif(source);
  if (!heif || heif.primary === null) {
    blocks.problems.push({ code: 'heif/no-picture' });
    return blocks;
  }
  if (heif.cutAt !== null) blocks.problems.push({ code: 'boxes/past-end', offset: heif.cutAt });
  await readProperties(blocks, source, heif.properties.get(heif.primary) ?? []);
  for (const item of heif.items.values()) await readItem(blocks, source, heif, item);
  return blocks;
}

async function readProperties(blocks: Blocks, source: ByteSource, boxes: IsoBox[]): Promise<void> {
  let quarters = 0;
  let mirror: number | null = null;
  for (const box of boxes) {
    const view = new ByteView(await source.read(box.start, Math.min(box.size, 64)));
    if (box.type === 'ispe') {
      blocks.width = view.u32(4);
      blocks.height = view.u32(8);
    } else if (box.type === 'irot') quarters = (view.u8(0) ?? 0) & 3;
    else if (box.type === 'imir') mirror = (view.u8(0) ?? 0) & 1;
    else if (box.type === 'colr' && (view.ascii(0, 4) === 'prof' || view.ascii(0, 4) === 'rICC'))
      blocks.profile = profileName((await contentOf(source, box)).subarray(4));
  }
  // EXIF may say another one, which is for information only (ISO/IEC 23008-12, annex A.2.1)
  blocks.orientation = orientationOf(quarters, mirror);
}

/**
 * `irot` turns anticlockwise in quarters; `imir` then mirrors at the vertical (1: left and right change) or horizontal
 * axis.
 */
function orientationOf(quarters: number, mirror: number | null): number {
  if (mirror === null) return [1, 8, 3, 6][quarters] ?? 1;
  return (mirror === 1 ? [2, 5, 4, 7] : [4, 7, 2, 5])[quarters] ?? 1;
}

async function readItem(blocks: Blocks, source: ByteSource, heif: Heif, item: Item): Promise<void> {
  const { type, contentType, extents, id } = item;
  const [first] = extents;
  const total = extents.reduce((sum, { length }) => sum + length, 0);
  if (!first || total > METADATA_LIMIT_BYTES) return;
  const isOf = (kind: string) =>
    heif.references.some(
      (reference) => reference.type === kind && reference.from === id && reference.to.includes(heif.primary ?? -1),
    );
  if (type === 'Exif' && blocks.tiffs.length === 0) {
    if (extents.length === 1) blocks.tiffs.push(await exifItem(source, first.offset, first.length));
    else {
      const joined = joinBytes(await Promise.all(extents.map(({ offset, length }) => source.read(offset, length))));
      blocks.tiffs.push(exifBlock(memorySource(joined.subarray(4)), 0, joined.subarray(4)));
    }
  } else if (type === 'mime' && contentType === 'application/rdf+xml') {
    blocks.xmp.push(joinBytes(await Promise.all(extents.map(({ offset, length }) => source.read(offset, length)))));
  } else if (isOf('thmb') && extents.length === 1) {
    const coding = ({ jpeg: 'jpeg', hvc1: 'hevc', av01: 'av1' } as const)[type];
    const ispe = heif.properties.get(id)?.find((box) => box.type === 'ispe');
    const size = new ByteView(ispe ? await source.read(ispe.start, 12) : new Uint8Array());
    if (coding) blocks.previews.push({ coding, ...first, width: size.u32(4), height: size.u32(8) });
  }
}
