// One photo sent out: its original read in full and held against its measure, a picture made of it or the file as it is,
// the words that leave put into it and read again, the picture decoded once more, and the file placed on the drive it
// goes to, read back and compared. Nothing that does not stand all of this gets a name there.

import { sameBytes } from '@/core/bytes/join';
import { type DigestOf, type RunningDigest, digestWhole, fingerprint } from '@/core/bytes/digest';
import type { FieldValues } from '@/core/fields/registry';
import type { Corrections } from '@/core/looks/corrections';
import { differingKeys } from '@/core/fields/values';
import { newPacket, writePacket } from '@/core/formats/xmp/packet';
import { planEmbed } from '@/core/metadata/embed/embed';
import type { EmbedPart } from '@/core/metadata/embed/parts';
import { technicalExif, withTechnical } from '@/core/metadata/embed/technical-exif';
import type { PhotoReading } from '@/core/metadata/reading/reading';
import { readPhoto } from '@/core/metadata/reading/reading';
import { setFields } from '@/core/metadata/xmp/sidecar';
import { nameIn } from '@/core/names/file-names';
import type { Problem } from '@/core/problems/problem';
import { Undecodable } from '@/core/problems/undecodable';
import type { MadePicture, PictureSettings } from '@/core/send-out/delivery-profile';
import { type Drive, DriveError, type LazyBytes, type OpenedFile } from '../drives/drive';
import { blobOf, blobSource, readIfThere, replaceFile } from '../drives/safe-write';
import { copyVerified } from './verified-copy';

/** What of a photo has to be known to make another picture of it. */
export type Makeable = Pick<
  PhotoReading,
  'format' | 'orientation' | 'width' | 'height' | 'profile' | 'previews' | 'camera' | 'lens' | 'exposure'
> & { corrections?: Corrections };

/** Laid over the picture: pixels, and where their upper left corner lies. */
export interface Overlay {
  pixels: ImageData;
  left: number;
  top: number;
}

export interface DeliverOrder {
  /** Where it goes; without a drive it is made ready and handed back. */
  drive: Drive | null;
  path: string;
  /** The original, and its name, by which its format is told. */
  file: OpenedFile;
  name: string;
  /** Its measure; `null` where it was never read. */
  expected: string | null;
  photo: Makeable;
  picture: PictureSettings;
  /** Of the picture to be made; `null` for all pixels, where their number is not known. */
  pixels: { width: number; height: number } | null;
  /** The words that leave. */
  fields: FieldValues;
  /** Whether what the camera noted leaves as well. */
  technical: boolean;
  overlay: Overlay | null;
}

export interface PlacedDelivery {
  state: 'placed';
  path: string;
  outcome: 'made' | 'already-there';
  sizeBytes: number;
  sha256: string;
  fingerprint: string;
  /** `null` for an original. */
  width: number | null;
  height: number | null;
  quality: number | null;
}

/** Made ready, and not placed anywhere yet. */
export interface MadeDelivery extends Omit<PlacedDelivery, 'state' | 'path' | 'outcome'> {
  state: 'made';
  blob: Blob;
}

/** `refused`: its picture cannot be decoded, or its words cannot be written as they should; nothing was placed. */
export type Delivered = PlacedDelivery | MadeDelivery | { state: 'refused'; problem: Problem };

class WordsRefused extends Error {
  override name = 'WordsRefused';
  constructor(readonly problem: Problem) {
    super(problem.code);
  }
}

export interface MadeBlob {
  blob: Blob;
  width: number;
  height: number;
  quality: number;
}

export interface MakeSettings extends Pick<DeliverOrder, 'pixels' | 'overlay'> {
  picture: MadePicture;
  /** Words for formats into which none are written afterwards. */
  exif: Uint8Array<ArrayBuffer> | null;
  xmp: Uint8Array<ArrayBuffer> | null;
}

/** Makes the picture; rejects with `Undecodable`. */
export type MakePicture = (file: LazyBytes, photo: Makeable, settings: MakeSettings) => Promise<MadeBlob>;
/** The size of the picture in a file, after it was decoded whole; rejects with `Undecodable`. */
export type DecodeMade = (file: Blob, name: string) => Promise<{ width: number; height: number }>;

export interface DeliverTools {
  makePicture: MakePicture;
  decodeMade: DecodeMade;
  newDigest: () => Promise<RunningDigest>;
  sha256: DigestOf;
  onBytes: (bytes: number) => void;
  signal?: AbortSignal | undefined;
}

/** Rejects with `DriveError`: `source-damaged` where the original is not as measured, else the drive's own problem. */
export async function deliver(order: DeliverOrder, tools: DeliverTools): Promise<Delivered> {
  await holdAgainstMeasure(order, tools);
  try {
    const made = order.picture.kind === 'made' ? await madeWithWords(order, order.picture, tools) : null;
    tools.signal?.throwIfAborted();
    return order.drive ? await placed(order.drive, order, made, tools) : await handedBack(order, made, tools);
  } catch (error) {
    if (error instanceof Undecodable || error instanceof WordsRefused)
      return { state: 'refused', problem: error.problem };
    throw error;
  }
}

async function handedBack({ file }: DeliverOrder, made: MadeBlob | null, tools: DeliverTools): Promise<MadeDelivery> {
  const blob = made?.blob ?? (await blobOf(file));
  const source = blobSource(blob);
  return {
    state: 'made',
    blob,
    sha256: await digestWhole(source, await tools.newDigest(), () => tools.signal?.throwIfAborted()),
    ...(await told(blob, made, tools)),
  };
}

/** What is noted of a result wherever it goes. */
const told = async (blob: LazyBytes, made: MadeBlob | null, { sha256 }: DeliverTools) => ({
  sizeBytes: blob.size,
  fingerprint: await fingerprint(blobSource(blob), sha256),
  width: made?.width ?? null,
  height: made?.height ?? null,
  quality: made?.quality ?? null,
});

async function placed(
  drive: Drive,
  order: DeliverOrder,
  made: MadeBlob | null,
  tools: DeliverTools,
): Promise<PlacedDelivery> {
  const { path, picture } = order;
  const blob = made?.blob ?? order.file;
  const { newDigest, onBytes, signal } = tools;
  const copies = await copyVerified(blob, path, [{ drive, path }], { newDigest, onBytes, signal });
  const [one] = copies.placed;
  if (one?.state !== 'placed' || !copies.digests)
    throw new DriveError(one?.state === 'failed' ? one.problem : 'failed', path);
  if (picture.kind === 'original' && picture.sidecar) await writeSidecar(drive, `${one.path}.xmp`, order.fields);
  return {
    state: 'placed',
    path: one.path,
    outcome: one.outcome === 'copied' ? 'made' : 'already-there',
    sha256: copies.digests.file,
    ...(await told(blob, made, tools)),
  };
}

/** A damaged original is not sent in silence. */
async function holdAgainstMeasure({ file, name, expected }: DeliverOrder, tools: DeliverTools): Promise<void> {
  const found = await digestWhole(blobSource(file), await tools.newDigest(), (bytes) => {
    tools.signal?.throwIfAborted();
    tools.onBytes(bytes);
  });
  if (expected !== null && found !== expected) throw new DriveError('source-damaged', name);
}

async function madeWithWords(order: DeliverOrder, picture: MadePicture, tools: DeliverTools): Promise<MadeBlob> {
  const { file, photo, pixels, overlay, path, fields } = order;
  const noted = order.technical ? await technicalExif(photo) : null;
  const isSealed = picture.format === 'avif';
  const made = await tools.makePicture(file, photo, {
    picture,
    pixels,
    overlay,
    exif: picture.format === 'tiff' ? null : noted,
    xmp: isSealed && Object.keys(fields).length > 0 ? packetWith(fields) : null,
  });
  const withNoted = picture.format === 'tiff' && noted ? await inTiff(made.blob, photo) : made.blob;
  const blob = isSealed ? withNoted : await withWords(withNoted, path, fields, tools);
  if (isSealed) await proveWords(blob, path, fields);
  const decoded = await tools.decodeMade(blob, nameIn(path));
  if (decoded.width !== made.width || decoded.height !== made.height)
    throw new Undecodable({ code: 'picture/refused', reason: 'what was made of it cannot be decoded again' });
  return { ...made, blob };
}

function packetWith(fields: FieldValues): Uint8Array<ArrayBuffer> {
  const packet = newPacket();
  setFields(packet, fields, () => false);
  return writePacket(packet);
}

async function inTiff(blob: Blob, photo: Makeable): Promise<Blob> {
  const parts = await withTechnical(blobSource(blob), photo);
  return parts ? joined(blob, parts) : blob;
}

const joined = (blob: Blob, parts: readonly EmbedPart[]): Blob =>
  new Blob(
    parts.map((part) => (part instanceof Uint8Array ? part : blob.slice(part.from, part.from + part.length))),
    { type: blob.type },
  );

async function withWords(blob: Blob, path: string, fields: FieldValues, tools: DeliverTools): Promise<Blob> {
  const plan = await planEmbed(blobSource(blob), path, fields, tools.newDigest);
  if (plan.state === 'refused') throw new WordsRefused({ code: 'embed/refused', reason: plan.reason });
  return plan.state === 'planned' ? joined(blob, plan.parts) : blob;
}

async function proveWords(blob: Blob, path: string, fields: FieldValues): Promise<void> {
  const { fields: said } = await readPhoto(blobSource(blob), path);
  if (differingKeys(said, fields).length > 0)
    throw new WordsRefused({ code: 'embed/refused', reason: 'not-as-planned' });
}

/** Beside an original. One that is there already and says something else stays, and the photo is not called sent. */
async function writeSidecar(drive: Drive, path: string, fields: FieldValues): Promise<void> {
  const bytes = packetWith(fields);
  const there = await readIfThere(drive, path);
  if (there && sameBytes(there, bytes)) return;
  if (there) throw new DriveError('exists', path);
  await replaceFile(drive, path, bytes, null);
}
