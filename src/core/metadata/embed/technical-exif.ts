// What the camera noted, as EXIF for a picture that is made anew: make, model, lens and exposure. Serial numbers, owners
// and makers' notes are not among it. The tags are those of EXIF 2.32 (CIPA DC-008), tables 4, 7 and 8.

import { asciiBytes, joinBytes, u16Bytes, u32Bytes } from '../../bytes/join';
import { memorySource } from '../../bytes/source';
import { EXIF, MAIN } from '../../formats/tiff/exif-tags';
import type { Technical } from '../../formats/tiff/technical';
import { type DirectoryEdits, EMPTY_TIFF, type TagValue, appendDirectories, noEdits } from './exif-edit';
import { exifText } from './exif-values';
import { type EmbedPart, sourceOfParts } from './parts';

const short = (value: number, littleEndian: boolean): TagValue => ({
  type: 3,
  count: 1,
  bytes: u16Bytes(value, littleEndian),
});

/** Exposure times are told as cameras do, as parts of one; all else in thousandths. */
function rational(value: number, littleEndian: boolean, signed = false): TagValue {
  const [top, bottom] =
    value > 0 && value < 1 ? [1_000_000, Math.round(1_000_000 / value)] : [Math.round(value * 1000), 1000];
  const divisor = commonDivisor(Math.abs(top), bottom);
  return {
    type: signed ? 10 : 5,
    count: 1,
    bytes: joinBytes([u32Bytes((top / divisor) >>> 0, littleEndian), u32Bytes(bottom / divisor, littleEndian)]),
  };
}

const commonDivisor = (a: number, b: number): number => (b === 0 ? Math.max(a, 1) : commonDivisor(b, a % b));

type NotedByCamera = Pick<Technical, 'camera' | 'lens' | 'exposure'>;

function technicalEdits({ camera, lens, exposure }: NotedByCamera, littleEndian: boolean): DirectoryEdits {
  const edits = noEdits();
  const put = <T>(inside: keyof DirectoryEdits, tag: number, value: T | null, made: (value: T) => TagValue) => {
    if (value !== null) edits[inside].set(tag, made(value));
  };
  const number = (value: number) => rational(value, littleEndian);
  put('main', MAIN.make, camera.make, exifText);
  put('main', MAIN.model, camera.model, exifText);
  put('exif', EXIF.exposureTime, exposure.seconds, number);
  put('exif', EXIF.fNumber, exposure.fNumber, number);
  put('exif', EXIF.iso, exposure.iso !== null && exposure.iso <= 65535 ? exposure.iso : null, (value) =>
    short(value, littleEndian),
  );
  put('exif', EXIF.exposureBias, exposure.biasEv, (value) => rational(value, littleEndian, true));
  put('exif', EXIF.focalLength, exposure.focalMm, number);
  put('exif', EXIF.focalLength35mm, exposure.focal35Mm, (value) => short(Math.round(value), littleEndian));
  put('exif', EXIF.lensModel, lens, exifText);
  return edits;
}

/** An EXIF block with its sign before it; `null` where the camera noted nothing. */
export async function technicalExif(technical: NotedByCamera): Promise<Uint8Array<ArrayBuffer> | null> {
  const edits = technicalEdits(technical, false);
  if (edits.main.size + edits.exif.size === 0) return null;
  const source = memorySource(EMPTY_TIFF);
  const parts = await asOriginal(appendDirectories(source, edits));
  if (!parts) return null;
  const made = sourceOfParts(source, parts);
  return joinBytes([asciiBytes('Exif\0\0'), await made.read(0, made.size)]);
}

/** The same in a TIFF, whose own directory takes it. `null` where that cannot be read. */
export async function withTechnical(
  tiff: Parameters<typeof appendDirectories>[0],
  technical: NotedByCamera,
): Promise<EmbedPart[] | null> {
  const littleEndian = (await tiff.read(0, 1))[0] === 0x49;
  return asOriginal(appendDirectories(tiff, technicalEdits(technical, littleEndian)));
}

/** Without the note that would have a later edit begin before it. */
const asOriginal = async (parts: Promise<EmbedPart[] | null>): Promise<EmbedPart[] | null> =>
  (await parts)?.slice(0, 3) ?? null;
