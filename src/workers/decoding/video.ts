// The poster of a video: a frame a second into it, or of a short one from its middle. Decoded by the browser, where it
// has the codec; where each frame is a JPEG, that is the picture.

import { firstAviFrame } from '@/core/formats/containers/avi-frame';
import { Undecodable } from '@/core/problems/undecodable';
import { blobSource } from '@/storage/drives/safe-write';
import type { DecodeOrder, Decoded } from './decoding';
import { shrunk } from './fitting';

const POSTER_SECONDS = 1;

export async function decodeVideo({ file, pixels }: DecodeOrder): Promise<Decoded> {
  const { ALL_FORMATS, BlobSource, CanvasSink, EncodedPacketSink, Input } = await import('mediabunny');
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(file) });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new Undecodable({ code: 'picture/refused', reason: 'there is no picture in this video' });
    const [start, end] = [await track.getFirstTimestamp(), await track.computeDuration()];
    const at = start + Math.min(POSTER_SECONDS, Math.max(0, end - start) / 2);
    if (await track.canDecode()) {
      const frame = await new CanvasSink(track).getCanvas(at);
      if (!frame) throw new Undecodable({ code: 'picture/refused', reason: 'none of its frames can be decoded' });
      return posterOf(await createImageBitmap(frame.canvas), pixels);
    }
    const packet = track.codec === null ? await new EncodedPacketSink(track).getPacket(at) : null;
    const poster = packet && (await jpegOf(new Blob([packet.data as Uint8Array<ArrayBuffer>])));
    if (poster) return posterOf(poster, pixels);
    throw new Undecodable({
      code: 'picture/codec',
      codec: track.codec ?? String(track.internalCodecId ?? 'unknown codec'),
    });
  } catch (error) {
    throw error instanceof Undecodable
      ? error
      : new Undecodable({ code: 'picture/refused', reason: error instanceof Error ? error.message : String(error) });
  } finally {
    input.dispose();
  }
}

export async function decodeAvi({ file, pixels }: DecodeOrder): Promise<Decoded> {
  const frame = await firstAviFrame(blobSource(file));
  const poster = frame && (await jpegOf(file.slice(frame.offset, frame.offset + frame.length)));
  if (!poster) throw new Undecodable({ code: 'picture/codec', codec: 'AVI' });
  return posterOf(poster, pixels);
}

const jpegOf = (blob: Blob): Promise<ImageBitmap | null> =>
  createImageBitmap(new Blob([blob], { type: 'image/jpeg' })).catch(() => null);

async function posterOf(bitmap: ImageBitmap, pixels: number | null): Promise<Decoded> {
  const full = { width: bitmap.width, height: bitmap.height };
  return { bitmap: await shrunk(bitmap, pixels), full, upright: true, pages: 1, whole: true };
}
