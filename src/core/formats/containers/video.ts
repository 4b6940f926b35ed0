// Videos in the ISO base media format (MP4) and its forerunner (MOV): creation time, length, size, turn, camera and
// place, where the standard atoms carry them. `mvhd` counts seconds of UTC since 1904 (14496-12, section 8.2.2); the
// keyed date and the user-data date carry their own offset.

import type { ByteSource } from '../../bytes/source';
import { decodeUtf8OrWindows1252 } from '../../bytes/text';
import { ByteView } from '../../bytes/view';
import { VIDEO_EPOCH_SECONDS, isoOfSeconds } from '../../time/civil';
import { type Blocks, type Video, noBlocks } from './blocks';
import { type IsoBox, boxAt, boxOf, childrenOf, contentOf, readBoxes } from './boxes';

export const XMP_UUID = 'uuid:be7acfcb97a942e89c71999491e3afac';

export async function readVideoBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const video: Video = { seconds: null, created: null, make: null, model: null, gps: null, codec: null, sound: null };
  blocks.video = video;
  const { list, cutAt } = await readBoxes(source, 0, source.size);
  const moov = boxOf(list, 'moov');
  if (!moov || cutAt !== null) blocks.problems.push({ code: 'video/cut-short' });
  const movie = await childrenOf(source, moov);
  await readUserData(video, source, movie);
  readHeader(video, new ByteView(await contentOf(source, boxOf(movie, 'mvhd'))));
  for (const track of movie.filter(({ type }) => type === 'trak')) {
    const parts = await childrenOf(source, track);
    readTrackBox(blocks, new ByteView(await contentOf(source, await boxAt(source, parts, 'tkhd'))));
    await readCoding(video, source, parts);
  }
  const xmp = boxOf(list, XMP_UUID) ?? (await boxAt(source, movie, 'udta', 'XMP_'));
  if (xmp) blocks.xmp.push(await contentOf(source, xmp));
  return blocks;
}

function readHeader(video: Video, view: ByteView): void {
  const long = view.u8(0) === 1;
  const created = long ? view.u64(4) : view.u32(4);
  const scale = view.u32(long ? 20 : 12);
  const duration = long ? view.u64(24) : view.u32(16);
  if (scale && duration !== null && duration !== 0xffffffff) video.seconds = duration / scale;
  if (created) video.created ??= `${isoOfSeconds(created - VIDEO_EPOCH_SECONDS)}Z`;
}

/** The first track with a picture: its size (16.16 fixed point) and the turn of its matrix. */
function readTrackBox(blocks: Blocks, view: ByteView): void {
  const at = view.u8(0) === 1 ? 52 : 40;
  const width = (view.u32(at + 36) ?? 0) / 65536;
  const height = (view.u32(at + 40) ?? 0) / 65536;
  if (blocks.width !== null || !width || !height) return;
  blocks.width = Math.round(width);
  blocks.height = Math.round(height);
  const [a, b] = [view.i32(at) ?? 0, view.i32(at + 4) ?? 0];
  blocks.orientation = a > 0 ? 1 : a < 0 ? 3 : b > 0 ? 6 : b < 0 ? 8 : 1;
}

/** What a track is (`hdlr`) and how it is coded: the type of its first sample entry (14496-12, 8.4.3 and 8.5.2). */
async function readCoding(video: Video, source: ByteSource, track: IsoBox[]): Promise<void> {
  const kind = new ByteView(await contentOf(source, await boxAt(source, track, 'mdia', 'hdlr'))).ascii(8, 4);
  const entries = await boxAt(source, track, 'mdia', 'minf', 'stbl', 'stsd');
  const [first] = await childrenOf(source, entries, 8);
  if (!first) return;
  if (kind === 'vide') video.codec ??= first.type.trim();
  if (kind === 'soun') video.sound ??= first.type.trim();
}

const KEYED: Readonly<Record<string, keyof Video>> = {
  'com.apple.quicktime.creationdate': 'created',
  'com.apple.quicktime.make': 'make',
  'com.apple.quicktime.model': 'model',
  'com.apple.quicktime.location.ISO6709': 'gps',
};
const USER_DATA: Readonly<Record<string, keyof Video>> = {
  '©day': 'created',
  '©mak': 'make',
  '©mod': 'model',
  '©xyz': 'gps',
};

async function readUserData(video: Video, source: ByteSource, movie: IsoBox[]): Promise<void> {
  const meta = boxOf(movie, 'meta');
  // in one of the two formats `meta` opens with a version, in the other its boxes begin at once
  const plain = await childrenOf(source, meta);
  const boxes = boxOf(plain, 'keys') ? plain : await childrenOf(source, meta, 4);
  const keys = await keysOf(source, boxOf(boxes, 'keys'));
  for (const item of await childrenOf(source, boxOf(boxes, 'ilst'))) {
    const number = new ByteView(await source.read(item.offset + 4, 4)).u32(0) ?? 0;
    const [data] = await childrenOf(source, item);
    if (data?.type === 'data')
      putWord(
        video,
        KEYED[keys[number - 1] ?? ''],
        decodeUtf8OrWindows1252((await contentOf(source, data)).subarray(8)),
      );
  }
  for (const item of await childrenOf(source, boxOf(movie, 'udta'))) {
    const wanted = USER_DATA[item.type];
    const view = wanted && new ByteView(await contentOf(source, item));
    if (view) putWord(video, wanted, decodeUtf8OrWindows1252(view.slice(4, view.u16(0) ?? 0) ?? new Uint8Array()));
  }
}

async function keysOf(source: ByteSource, keys: IsoBox | undefined): Promise<string[]> {
  const boxes = await childrenOf(source, keys, 8);
  return Promise.all(boxes.slice(0, 200).map(async (box) => decodeUtf8OrWindows1252(await contentOf(source, box))));
}

function putWord(video: Video, wanted: keyof Video | undefined, text: string): void {
  const words = text.replace(/\0+$/, '').trim();
  if (words === '') return;
  if (wanted === 'gps') video.gps ??= positionOfIso6709(words);
  else if (wanted === 'created') video.created ??= videoDate(words);
  else if (wanted === 'make' || wanted === 'model') video[wanted] ??= words;
}

/** ISO 8601 with the offset's colon left out, as videos write it. */
function videoDate(text: string): string | null {
  const found = /^(\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2})(?:\.\d+)?(Z|[+-]\d{2}):?(\d{2})?$/.exec(text);
  if (found) return `${found[1]}${found[2]}${found[2] === 'Z' ? '' : `:${found[3] ?? '00'}`}`;
  return /^\d{4}(-\d{2}(-\d{2}(T\d{2}:\d{2}(:\d{2})?)?)?)?$/.test(text) ? text : null;
}

/** `+62.0107-006.7741+012.3/` (ISO 6709, annex H). */
export function positionOfIso6709(text: string): Video['gps'] {
  const found = /^([+-]\d{1,2}(?:\.\d+)?)([+-]\d{1,3}(?:\.\d+)?)([+-]\d+(?:\.\d+)?)?/.exec(text);
  if (!found) return null;
  const [lat, lon] = [Number(found[1]), Number(found[2])];
  return Math.abs(lat) <= 90 && Math.abs(lon) <= 180
    ? { lat, lon, altitudeM: found[3] === undefined ? null : Number(found[3]) }
    : null;
}
