// What a photo file says of itself: its format, its technical data, its fields, the JPEGs embedded in it. Whatever the
// bytes, the answer is a reading; a file that lies costs its lie and nothing else.

import { type ByteSource, withHead, withPages } from '../../bytes/source';
import type { Video, EmbeddedPreview } from '../../formats/containers/blocks';
import { type Format, isRawFormat, sniffFormat } from '../../formats/containers/formats';
import { NO_TECHNICAL, type Technical, fullSizeOf, technicalOf } from '../../formats/tiff/technical';
import { previewsOf, verifyPreviews } from '../../formats/containers/tiff-previews';
import { positionText } from '../../geo/position';
import type { Problem } from '../../problems/problem';
import { EXIF } from '../../formats/tiff/exif-tags';
import { numberOf, tagsOf } from '../../formats/tiff/tiff';
import { BY_EXIF } from './profile';
import { type Reconciled, reconcile } from './reconcile';
import { type Captured, parseCaptured } from '../../time/captured';
import { type Families, readFamilies } from './families';
import { technicalInXmp } from './technical-in-xmp';

/**
 * The metadata of most JPEGs end within it (measured: reading twice as much costs a tenth more time); longer ones and
 * raws ask for more.
 */
export const HEAD_BYTES = 64 * 1024;
/** Structures away from the head are asked for in many small reads, near each other. */
const PAGE_BYTES = 32 * 1024;

export interface PhotoReading extends Technical, Reconciled {
  format: Format;
  /** Pixel size as shown, that is, with the orientation applied. */
  width: number | null;
  height: number | null;
  /** When it was taken, as the field `captured` says. */
  captured: Captured | null;
  /** Name of the colour profile, or what EXIF names without one. */
  profile: string | null;
  /** Length of a video in seconds. */
  seconds: number | null;
  /** How a video and its sound are coded, as its container names it; absent in records from before they were read. */
  codec?: string | null;
  sound?: string | null;
  /** Smaller pictures in the file: JPEGs first, the largest first. */
  previews: EmbeddedPreview[];
  problems: Problem[];
}

/** Opens a file for reading its metadata: its head in one read, the rest in pages as it is asked for. */
export async function openForReading(
  whole: ByteSource,
  name: string,
): Promise<{ source: ByteSource; head: Uint8Array; format: Format }> {
  const source = await withHead(withPages(whole, PAGE_BYTES, 8), HEAD_BYTES);
  const head = await source.read(0, 32);
  return { source, head, format: sniffFormat(head, name) };
}

export async function readPhoto(whole: ByteSource, name: string): Promise<PhotoReading> {
  if (whole.size === 0) return emptyReading('unknown', [{ code: 'file/empty' }]);
  const { source, head, format } = await openForReading(whole, name);
  if (format === 'unknown') return emptyReading(format, [{ code: 'file/not-understood', found: describeHead(head) }]);
  const families = await readFamilies(source, format);
  const { blocks, tiffs } = families;
  const technical = { ...technicalOf(tiffs) };
  const described = reconcile(families);
  if (blocks.video) describeVideo(technical, described, blocks.video);
  technicalInXmp(technical, families.properties);
  technical.orientation = blocks.orientation ?? technical.orientation;
  const full = blocks.width === null ? fullSizeOf(tiffs, isRawFormat(format)) : null;
  const [width, height] = turned(
    technical.orientation,
    blocks.width ?? full?.width ?? null,
    blocks.height ?? full?.height ?? null,
  );
  return {
    ...technical,
    ...described,
    format,
    width,
    height,
    captured: parseCaptured(String(described.fields.captured ?? '')),
    profile: blocks.profile ?? (isRawFormat(format) ? null : profileByExif(tiffs)),
    seconds: blocks.video?.seconds ?? null,
    ...(blocks.video && { codec: blocks.video.codec, sound: blocks.video.sound }),
    previews: await previewsIn(source, families, isRawFormat(format)),
    problems: families.problems,
  };
}

/** Why a file is no photo that can be cataloged; `null` where it is one, damaged or not. */
export const unreadableBecause = ({ problems }: Pick<PhotoReading, 'problems'>): Problem | null =>
  problems.find(({ code }) => code === 'file/empty' || code === 'file/not-understood') ?? null;

const emptyReading = (format: Format, problems: Problem[]): PhotoReading => ({
  ...NO_TECHNICAL,
  format,
  width: null,
  height: null,
  captured: null,
  profile: null,
  seconds: null,
  fields: {},
  sources: {},
  disagreements: [],
  previews: [],
  problems,
});

const describeHead = (head: Uint8Array) =>
  [...head.subarray(0, 8)].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');

/** Orientations 5 to 8 lie on their side (EXIF 2.32, tag 0x0112). */
export const turned = (
  orientation: number,
  width: number | null,
  height: number | null,
): [number | null, number | null] => (orientation >= 5 ? [height, width] : [width, height]);

const profileByExif = (tiffs: Families['tiffs']): string | null =>
  BY_EXIF[numberOf(tagsOf(tiffs, 'exif').get(EXIF.colorSpace)) ?? 0] ?? null;

function describeVideo(technical: Technical, described: Reconciled, video: Video): void {
  technical.camera = {
    ...technical.camera,
    make: technical.camera.make ?? video.make,
    model: technical.camera.model ?? video.model,
  };
  if (video.gps && described.fields.position === undefined) {
    described.fields.position = positionText(video.gps);
    described.sources.position = 'video';
  }
  if (video.created === null || described.fields.captured !== undefined) return;
  described.fields.captured = video.created;
  described.sources.captured = 'video';
}

async function previewsIn(source: ByteSource, { blocks, tiffs }: Families, isRaw: boolean): Promise<EmbeddedPreview[]> {
  const found = [
    ...blocks.previews,
    ...tiffs.flatMap((tiff, index) => previewsOf(tiff, blocks.tiffs[index]?.offset ?? 0, isRaw)),
  ];
  const verified = await verifyPreviews(source, found);
  return verified.sort((a, b) => Number(b.coding === 'jpeg') - Number(a.coding === 'jpeg') || b.length - a.length);
}
