// EXIF as a block of a container (a chunk, a segment): the whole block with the fields put in.

import { joinBytes } from '../../bytes/join';
import { type ByteSource, sectionOf } from '../../bytes/source';
import { exifBlock } from '../../formats/containers/blocks';
import type { FieldValues } from '../../fields/registry';
import { appendDirectories, readOriginal } from './exif-edit';
import { exifEdits } from './exif-values';
import { sourceOfParts } from './parts';

/** `null` where the block cannot be read whole. What stands before its TIFF header stays. */
export async function editedExif(block: ByteSource, fields: FieldValues): Promise<Uint8Array<ArrayBuffer> | null> {
  const head = await block.read(0, 8);
  const { source, offset } = exifBlock(block, 0, head);
  const read = await readOriginal(source);
  const parts = read && (await appendDirectories(source, exifEdits(read.tiff, fields)));
  if (!parts) return null;
  const plan = sourceOfParts(source, parts);
  return joinBytes([await sectionOf(block, 0, offset).read(0, offset), await plan.read(0, plan.size)]);
}
