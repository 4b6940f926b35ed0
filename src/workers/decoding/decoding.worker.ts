import { serve } from '../serve';
import { Undecodable } from '@/core/problems/undecodable';
import type { DecodeOrder, Decoded } from './decoding';
import { decodeHeif } from './heif';
import { makeWithVips } from './make';
import { decodePsd } from './psd';
import { decodeRaw } from './raw';
import { decodeTiff } from './tiff';
import { decodeAvi, decodeVideo } from './video';
import { decodeWithVips } from './vips';

const DECODERS: Partial<Record<DecodeOrder['format'], (order: DecodeOrder) => Promise<Decoded>>> = {
  tiff: decodeTiff,
  jpeg: decodeWithVips,
  png: decodeWithVips,
  webp: decodeWithVips,
  heif: decodeHeif,
  psd: decodePsd,
  raw: decodeRaw,
  cr3: decodeRaw,
  raf: decodeRaw,
  video: decodeVideo,
  avi: decodeAvi,
};

serve<'decode' | 'make'>(self, {
  make: makeWithVips,
  decode: async (order) => {
    const decoder = DECODERS[order.format];
    if (!decoder) throw new Undecodable({ code: 'picture/no-decoder', format: order.format });
    return decoder(order);
  },
});
