import { describe, expect, it } from 'vitest';
import { isCameraName } from './telling';

describe('a name that says nothing', () => {
  // the form of CIPA DC-009 (DCF 2.0): four free characters, a number from 0001 to 9999
  it.each(['ABCD0001.JPG', 'DCIM/100ABCDE/_ABC9999.TIF', 'img_0042.jpg', '100_0007.jpg', 'P1010001.JPG'])(
    '%s is a camera’s',
    (name) => expect(isCameraName(name)).toBe(true),
  );

  // common practice: a number that was put behind, and dates of telephones
  it.each([
    'IMG_0042-2.jpg',
    'IMG_0042 (1).jpg',
    'NK4_2032_1.jpg',
    'IMG_20190704_120304.jpg',
    'VID-20190704-120304123.mp4',
  ])('%s is a camera’s too', (name) => expect(isCameraName(name)).toBe(true));

  it.each([
    'ABCD0000.JPG', // no number of DCF
    'Gjógv 0042.jpg',
    '20190704.jpg',
    '2019-07-04 Gjógv 01.jpg',
    'FHS-0001.tif',
    'BOAT2019.jpg',
    'Fest0001.jpg',
    'Launching.jpg',
    'IMG_0042 the slip.jpg',
    '',
  ])('%s says something, or is no camera’s', (name) => expect(isCameraName(name)).toBe(false));
});
