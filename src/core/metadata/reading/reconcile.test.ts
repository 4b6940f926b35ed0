// The rules for one fact in three families, as a table: MWG guidelines for handling image metadata 2.0, sections 3.3
// and 5 (from memory), and the exceptions `reconcile.ts` names.

import { describe, expect, it } from 'vitest';
import { memorySource } from '../../bytes/source';
import { readTiff } from '../../formats/tiff/tiff';
import type { FieldValues } from '../../fields/registry';
import { planIim } from '../embed/iim-edit';
import { parseIim } from '../../formats/iim/iim';
import { newPacket, propertyMap } from '../../formats/xmp/packet';
import { setFields } from '../xmp/sidecar';
import { ascii, writeExif } from '@/demo/archive/tiff-writer';
import { reconcile, type Sayings } from './reconcile';

interface Given {
  exif?: string;
  taken?: string;
  iim?: FieldValues;
  xmp?: FieldValues;
  digest?: Sayings['iimDigest'];
}

async function settled({ exif, taken, iim, xmp, digest = 'none' }: Given) {
  const block = writeExif(
    new Map(exif === undefined ? [] : [[0x010e, ascii(exif)]]),
    new Map(taken === undefined ? [] : [[0x9003, ascii(taken)]]),
    null,
  );
  const tiff = await readTiff(memorySource(block));
  const packet = newPacket();
  setFields(packet, xmp ?? {}, () => false);
  return reconcile({
    tiffs: tiff ? [tiff] : [],
    properties: propertyMap(xmp ? [packet] : []),
    iim: iim ? parseIim(planIim([], iim) ?? new Uint8Array()) : null,
    iimDigest: digest,
  });
}

describe('one caption in three families', () => {
  it.each<[string, Given, string, string, number]>([
    ['EXIF before the others', { exif: 'E', xmp: { caption: 'X' }, iim: { caption: 'I' } }, 'E', 'exif', 3],
    ['XMP before IIM without a digest', { xmp: { caption: 'X' }, iim: { caption: 'I' } }, 'X', 'xmp', 2],
    [
      'XMP before IIM while the digest fits',
      { xmp: { caption: 'X' }, iim: { caption: 'I' }, digest: 'same' },
      'X',
      'xmp',
      2,
    ],
    [
      'IIM before XMP once the digest does not',
      { xmp: { caption: 'X' }, iim: { caption: 'I' }, digest: 'differs' },
      'I',
      'iim',
      2,
    ],
    [
      'XMP where IIM changed but has nothing',
      { xmp: { caption: 'X' }, iim: { headline: 'I' }, digest: 'differs' },
      'X',
      'xmp',
      0,
    ],
    ['IIM alone', { iim: { caption: 'I' } }, 'I', 'iim', 0],
    [
      'what a camera fills in counts as nothing',
      { exif: 'OLYMPUS DIGITAL CAMERA', xmp: { caption: 'X' } },
      'X',
      'xmp',
      0,
    ],
    ['blanks count as nothing', { exif: '        ', xmp: { caption: 'X' } }, 'X', 'xmp', 0],
    [
      'the whole before its cut',
      { xmp: { caption: 'á'.repeat(1500) }, iim: { caption: 'á'.repeat(1500) }, digest: 'differs' },
      'á'.repeat(1500),
      'xmp',
      0,
    ],
    ['letters before question marks', { exif: 'B?tur', xmp: { caption: 'Bátur' } }, 'Bátur', 'xmp', 0],
    ['line ends do not disagree', { exif: 'a\r\nb', xmp: { caption: 'a\nb' } }, 'a\r\nb', 'exif', 0],
  ])('%s', async (_, given, caption, source, said) => {
    const { fields, sources, disagreements } = await settled(given);
    expect([fields.caption, sources.caption]).toEqual([caption, source]);
    expect(disagreements.find(({ key }) => key === 'caption')?.said.length ?? 0).toBe(said);
  });

  it('a short text that another merely begins with is no cut, and disagrees', async () => {
    const { fields, disagreements } = await settled({
      xmp: { caption: 'Boats in the harbour' },
      iim: { caption: 'Boats' },
      digest: 'differs',
    });
    expect(fields.caption).toBe('Boats');
    expect(disagreements).toHaveLength(1);
  });
});

describe('one date in three families', () => {
  it.each<[string, Given, string, boolean]>([
    ['EXIF before XMP', { taken: '2019:07:04 14:03:22', xmp: { captured: '2018-01-01' } }, '2019-07-04T14:03:22', true],
    [
      'the offset that only XMP has',
      { taken: '2019:07:04 14:03:22', xmp: { captured: '2019-07-04T14:03:22+01:00' } },
      '2019-07-04T14:03:22+01:00',
      false,
    ],
    [
      'the time that only IIM has',
      { xmp: { captured: '2019-07-04' }, iim: { captured: '2019-07-04T06:27:51-05:00' } },
      '2019-07-04T06:27:51-05:00',
      false,
    ],
    [
      'two offsets disagree',
      { xmp: { captured: '2019-07-04T14:03:22+01:00' }, iim: { captured: '2019-07-04T14:03:22-05:00' } },
      '2019-07-04T14:03:22+01:00',
      true,
    ],
    [
      'a year is less than a day in it',
      { xmp: { captured: '2019' }, iim: { captured: '2019-07-04' } },
      '2019-07-04',
      false,
    ],
  ])('%s', async (_, given, captured, disagrees) => {
    const { fields, disagreements } = await settled(given);
    expect(fields.captured).toBe(captured);
    expect(disagreements.some(({ key }) => key === 'captured')).toBe(disagrees);
  });
});

it('keywords in another order do not disagree, other keywords do', async () => {
  const given = (keywords: string[]) => settled({ xmp: { keywords: ['boat', 'slip'] }, iim: { keywords } });
  expect((await given(['slip', 'boat'])).disagreements).toEqual([]);
  expect((await given(['slip'])).disagreements).toHaveLength(1);
});
