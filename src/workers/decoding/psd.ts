// PSD and PSB: the picture of all layers, handed on as the TIFF it nearly is.

import { readPsdComposite } from '@/core/formats/containers/psd-composite';
import { blobSource } from '@/storage/drives/safe-write';
import { Undecodable } from '@/core/problems/undecodable';
import type { DecodeOrder, Decoded, Numbers } from './decoding';
import { decodeWithVips } from './vips';

const REASONS = {
  'not-psd': 'it is no PSD',
  'cut-short': 'it ends before its picture does',
  mode: 'its colour mode is not known',
  compression: 'its picture is packed in a way that is not known',
  'too-large': 'it claims to be larger than the format allows',
} as const;

export async function decodePsd({ file, pixels, region }: DecodeOrder): Promise<Decoded> {
  return decodeWithVips({ ...(await toldPsd(file)), pixels, region, page: 0 });
}

/** The file as libvips understands it, and what its numbers mean. Rejects with `Undecodable`. */
export async function toldPsd(file: Blob): Promise<{ file: Blob; numbers: Numbers }> {
  const read = await readPsdComposite(blobSource(file));
  if (read.state === 'refused') throw new Undecodable({ code: 'picture/refused', reason: REASONS[read.reason] });
  const { head, from, end, numbers } = read.composite;
  return { file: new Blob([head, file.slice(from, end)]), numbers };
}
