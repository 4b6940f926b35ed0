// The first picture of an AVI, where its frames are pictures by themselves: the first chunk `##dc` of its list `movi`
// (RIFF; AVI RIFF file reference, from memory).

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';

const CHUNKS_LIMIT = 1000;

/** Where its bytes lie; `null` where there is none within the first thousand chunks. */
export async function firstAviFrame(source: ByteSource): Promise<{ offset: number; length: number } | null> {
  let offset = 12;
  for (let count = 0; count < CHUNKS_LIMIT && offset + 12 <= source.size; count++) {
    const head = new ByteView(await source.read(offset, 12), true);
    const [type, length] = [head.ascii(0, 4), head.u32(4) ?? 0];
    const isEntered = type === 'LIST' && ['movi', 'rec '].includes(head.ascii(8, 4));
    if (isEntered) offset += 12;
    else if (/^\d\ddc$/.test(type) && length > 0) return { offset: offset + 8, length };
    else offset += 8 + length + (length % 2);
  }
  return null;
}
