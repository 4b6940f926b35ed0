// What is said of a picture in words.

import { capturedIn } from '@/core/fields/values';
import { problemSentence } from '@/messages/problems';
import type { PhotoRecord } from '@/storage/catalog/records';
import { cameraName } from '@/storage/catalog/search-feed';
import { capturedWords, exposureWords } from '@/ui/format';
import { PREVIEW_PIXELS } from '@/storage/file-tasks/file-tasks';
import type { Picture, Shown } from './picture-store';

export const altOf = (photo: PhotoRecord | undefined): string => {
  const said = photo?.fields.caption ?? photo?.fields.headline ?? photo?.fields.title;
  return typeof said === 'string' ? said : 'Photo';
};

/** Capture data in one line. */
export const captureLine = (photo: PhotoRecord | undefined): string =>
  photo
    ? [capturedWords(capturedIn(photo.fields)), cameraName(photo.camera), ...exposureWords(photo.exposure)]
        .filter(Boolean)
        .join('  ')
    : '';

/** What is shown, where it is not the original at the size asked for; `null` where there is nothing to say. */
export function shownWords({ picture, settled }: Shown, zoomed: boolean): string | null {
  if (!picture) return null;
  if (picture.instead === 'away') return `Its drive is away: this is ${previewWords(picture)}.`;
  if (picture.instead === 'undecodable')
    return `This is the preview. ${picture.why ? problemSentence(picture.why) : 'The original cannot be decoded.'}`;
  if (picture.instead === 'embedded') return 'This is the picture the camera left in the file.';
  if (picture.instead === 'developed') return 'Developed from the data of the sensor, by Wembo.';
  if (!picture.whole) return 'The file breaks off: it is shown as far as it goes.';
  if (!settled && (zoomed ? picture.size !== 'full' : picture.size === 'preview'))
    return zoomed ? 'Not yet at real pixels…' : 'Preview…';
  return null;
}

function previewWords({ size, bitmap }: Picture): string {
  const long = Math.max(bitmap.width, bitmap.height);
  if (size === 'preview' || long <= PREVIEW_PIXELS.small) return 'the small preview';
  return long <= PREVIEW_PIXELS.large ? 'the large preview' : 'its preview of real pixels';
}
