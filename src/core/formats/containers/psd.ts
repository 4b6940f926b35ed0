// PSD and PSB (file format specification, from memory): a header with the size, then the image resources, which hold
// IIM, XMP, EXIF, the colour profile and a thumbnail.

import { type ByteSource, memorySource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { RESOURCE, parseResources, resourceData } from '../iim/resources';
import { type Blocks, METADATA_LIMIT_BYTES, exifBlock, noBlocks } from './blocks';
import { profileName } from './profile';

const THUMBNAIL_HEAD_BYTES = 28;

export async function readPsdBlocks(source: ByteSource): Promise<Blocks> {
  const blocks = noBlocks();
  const head = new ByteView(await source.read(0, 30));
  blocks.height = head.u32(14);
  blocks.width = head.u32(18);
  const lengthAt = 30 + (head.u32(26) ?? 0);
  const length = new ByteView(await source.read(lengthAt, 4)).u32(0);
  const bytes = length === null || length > METADATA_LIMIT_BYTES ? null : await source.read(lengthAt + 4, length);
  if (!bytes || bytes.length < (length ?? 0)) {
    blocks.problems.push({ code: 'psd/resources-past-end' });
    return blocks;
  }
  const resources = parseResources(bytes);
  if (!resources.whole) blocks.problems.push({ code: 'iim/resources-damaged' });
  const [xmp, exif, profile] = [RESOURCE.xmp, RESOURCE.exif, RESOURCE.iccProfile].map((id) =>
    resourceData(resources, id),
  );
  if (xmp) blocks.xmp.push(xmp);
  if (exif) blocks.tiffs.push(exifBlock(memorySource(exif), 0, exif));
  if (profile) blocks.profile = profileName(profile);
  blocks.resources.push(bytes);
  const thumbnail = resources.blocks.find(({ id }) => id === RESOURCE.thumbnail);
  const view = thumbnail && new ByteView(thumbnail.data);
  if (thumbnail && view?.u32(0) === 1) {
    blocks.previews.push({
      coding: 'jpeg',
      offset: lengthAt + 4 + thumbnail.start + THUMBNAIL_HEAD_BYTES,
      length: thumbnail.data.length - THUMBNAIL_HEAD_BYTES,
      width: view.u32(4),
      height: view.u32(8),
    });
  }
  return blocks;
}
