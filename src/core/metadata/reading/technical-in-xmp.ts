// Technical data that only XMP carries: of files whose EXIF was thrown away, and of those that never had any.

import type { Technical } from '../../formats/tiff/technical';
import { NS, type Prefix } from '../../formats/xmp/namespaces';
import { type PropertyMap, nameKey } from '../../formats/xmp/packet';
import { ratioOf } from '../xmp/gps';
import { saidBy } from '../xmp/values';

/** Fills what EXIF left open. */
export function technicalInXmp(technical: Technical, properties: PropertyMap): void {
  if (properties.size === 0) return;
  const text = (prefix: Prefix, name: string): string | null => {
    const said = saidBy(
      { xmp: { prefix, name }, form: 'single', value: 'text' },
      properties.get(nameKey(NS[prefix], name))?.node,
    );
    return said.state === 'value' ? String(said.value).trim() : null;
  };
  const { camera } = technical;
  if (camera.make === null && camera.model === null)
    technical.camera = { ...camera, make: text('tiff', 'Make'), model: text('tiff', 'Model') };
  technical.lens ??= text('exifEX', 'LensModel') ?? text('aux', 'Lens');
  const { exposure } = technical;
  technical.exposure = {
    ...exposure,
    seconds: exposure.seconds ?? ratioOf(text('exif', 'ExposureTime')),
    fNumber: exposure.fNumber ?? ratioOf(text('exif', 'FNumber')),
    focalMm: exposure.focalMm ?? ratioOf(text('exif', 'FocalLength')),
    iso: exposure.iso ?? ratioOf(text('exif', 'ISOSpeedRatings') ?? text('exifEX', 'PhotographicSensitivity')),
  };
}
