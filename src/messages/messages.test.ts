import { describe, expect, it } from 'vitest';
import type { Change } from '@/core/catalog/change';
import { type Collection, newCollection } from '@/core/catalog/collection';
import type { Problem, TrackProblem } from '@/core/problems/problem';
import { changeWords } from './changes';
import { driveProblemSentence, problemSentence } from './problems';
import { droppedSentence } from './tracks';

/** One of each code; the type makes sure that none is forgotten. */
const EVERY: { [C in Problem['code']]: Extract<Problem, { code: C }> } = {
  'file/empty': { code: 'file/empty' },
  'file/not-understood': { code: 'file/not-understood', found: '68 65' },
  'file/cut-short': { code: 'file/cut-short', needed: 10, present: 7 },
  'file/unreadable': { code: 'file/unreadable', reason: 'no' },
  'file/vanished': { code: 'file/vanished' },
  'jpeg/segment-past-end': { code: 'jpeg/segment-past-end', marker: 0xe1, offset: 2 },
  'jpeg/no-frame': { code: 'jpeg/no-frame' },
  'tiff/bad-header': { code: 'tiff/bad-header' },
  'tiff/directory-past-end': { code: 'tiff/directory-past-end', offset: 8 },
  'tiff/value-past-end': { code: 'tiff/value-past-end', tag: 271 },
  'tiff/directory-loop': { code: 'tiff/directory-loop', offset: 8 },
  'tiff/too-many-entries': { code: 'tiff/too-many-entries', limit: 4096 },
  'png/chunk-past-end': { code: 'png/chunk-past-end', offset: 8 },
  'webp/chunk-past-end': { code: 'webp/chunk-past-end', offset: 12 },
  'png/text-not-readable': { code: 'png/text-not-readable' },
  'gif/cut-short': { code: 'gif/cut-short' },
  'psd/resources-past-end': { code: 'psd/resources-past-end' },
  'boxes/past-end': { code: 'boxes/past-end', offset: 8 },
  'boxes/compressed': { code: 'boxes/compressed', type: 'Exif' },
  'heif/no-picture': { code: 'heif/no-picture' },
  'video/cut-short': { code: 'video/cut-short' },
  'iim/resources-damaged': { code: 'iim/resources-damaged' },
  'iim/length-past-end': { code: 'iim/length-past-end', record: 2, dataset: 120 },
  'iim/length-wrong': { code: 'iim/length-wrong', record: 2, dataset: 120 },
  'iim/text-undecodable': { code: 'iim/text-undecodable', record: 2, dataset: 105 },
  'xmp/not-well-formed': { code: 'xmp/not-well-formed', reason: 'unclosed tag' },
  'xmp/doctype': { code: 'xmp/doctype' },
  'xmp/too-large': { code: 'xmp/too-large', bytes: 9, limit: 8 },
  'xmp/no-rdf': { code: 'xmp/no-rdf' },
  'xmp/extension-astray': { code: 'xmp/extension-astray' },
  'xmp/extension-incomplete': { code: 'xmp/extension-incomplete', bytes: 9, present: 7 },
  'embed/refused': { code: 'embed/refused', reason: 'it is so' },
  'track/problem': { code: 'track/problem', reason: { code: 'not-a-track' } },
  'picture/no-decoder': { code: 'picture/no-decoder', format: 'avi' },
  'picture/refused': { code: 'picture/refused', reason: 'bad strip' },
  'picture/coding': { code: 'picture/coding', coding: 'WebP' },
  'picture/too-large': { code: 'picture/too-large', width: 9, height: 9 },
  'picture/too-slow': { code: 'picture/too-slow', seconds: 30 },
  'picture/decoder-gave-up': { code: 'picture/decoder-gave-up' },
  'picture/not-isolated': { code: 'picture/not-isolated' },
  'picture/twelve-bit': { code: 'picture/twelve-bit' },
  'picture/codec': { code: 'picture/codec', codec: 'hevc' },
  'delivery/words-in-file': { code: 'delivery/words-in-file' },
  'preview/not-made': { code: 'preview/not-made', reason: 'no' },
};

describe('problems', () => {
  it.each(Object.values(EVERY))('$code is a sentence that carries its values', (problem) => {
    const sentence = problemSentence(problem);
    expect(sentence).toMatch(/^[A-Z].{15,}\.$/);
    for (const [name, value] of Object.entries(problem)) {
      if (!['code', 'marker', 'offset', 'bytes'].includes(name) && typeof value !== 'object')
        expect(sentence).toContain(String(value));
    }
  });

  it('what is wrong with a track is a sentence with its values, and what of it was left out is counted', () => {
    const problems: TrackProblem[] = [
      { code: 'too-large', bytes: 9e9, limit: 512 * 1_048_576 },
      { code: 'not-a-track' },
      { code: 'doctype' },
      { code: 'not-well-formed', detail: 'unclosed tag' },
      { code: 'no-timed-points', withoutTime: 7 },
      { code: 'no-timed-points', withoutTime: 0 },
    ];
    for (const problem of problems)
      expect(problemSentence({ code: 'track/problem', reason: problem })).toMatch(/^[A-Z].{15,}\.$/);
    expect(problemSentence({ code: 'track/problem', reason: problems[0]! })).toContain('512 MB');
    expect(problemSentence({ code: 'track/problem', reason: problems[3]! })).toContain('unclosed tag');
    expect(problemSentence({ code: 'track/problem', reason: problems[4]! })).toContain('7 points');
    expect(droppedSentence({ withoutTime: 2, unreadable: 0, zoneless: 3 })).toBe(
      '2 points without a time left out, 3 times without a zone taken as UTC.',
    );
    expect(droppedSentence({ withoutTime: 0, unreadable: 0, zoneless: 0 })).toBeNull();
  });

  it('a problem that has no sentence of its own is still named', () => {
    for (const problem of ['source-gone', 'target-gone', 'copies-gone', 'not-agreed'])
      expect(driveProblemSentence(problem)).not.toContain(problem);
    expect(driveProblemSentence('full')).toContain('Nothing was left half-written');
    expect(driveProblemSentence('something new')).toBe('It did not work (something new).');
  });
});

describe('changes in a few words', () => {
  const collection: Collection = {
    ...newCollection('Boats', 'smart', { scope: 'boat' }),
    id: 'c',
    updatedAt: 1,
    deleted: false,
  };
  const fields = (
    keys: ('city' | 'title' | 'source')[],
    photos: string[],
    origin: 'person' | 'sidecar' = 'person',
  ): Change => ({
    kind: 'fields',
    origin,
    edits: photos.flatMap((photoId) => keys.map((key) => ({ photoId, key, after: 'x' }))),
  });

  it.each([
    [fields(['city'], ['a']), 'City of one photo'],
    [fields(['city', 'title'], ['a', 'b']), 'City and Title of 2 photos'],
    [fields(['city', 'title', 'source'], ['a'], 'sidecar'), '3 fields of one photo, from a sidecar'],
    [
      {
        kind: 'kept',
        savedKind: 'kits',
        before: { id: 'k' },
        after: { name: 'Survey', deleted: false },
      } as unknown as Change,
      'Kit “Survey”',
    ],
    [
      {
        kind: 'kept',
        savedKind: 'routines',
        before: null,
        after: { name: 'Card', deleted: false },
      } as unknown as Change,
      'New routine “Card”',
    ],
    [
      {
        kind: 'kept',
        savedKind: 'patterns',
        before: { id: 'p' },
        after: { name: 'By day', deleted: true },
      } as unknown as Change,
      'Removal of the name pattern “By day”',
    ],
    [
      {
        kind: 'names',
        edits: [],
        moves: [
          { photoId: 'a', driveId: 'd', before: 'x', after: 'y' },
          { photoId: 'a', driveId: 'e', before: 'x', after: 'y' },
        ],
      } as Change,
      'New names of one photo',
    ],
    [{ kind: 'drive-name', driveId: 'd', before: 'A', after: 'B' } as Change, 'Name of the drive “B”'],
    [
      { kind: 'kept', savedKind: 'collections', before: null, after: collection } as Change,
      'New smart collection “Boats”',
    ],
    [
      { kind: 'kept', savedKind: 'collections', before: collection, after: { ...collection, deleted: true } } as Change,
      'Removal of the smart collection “Boats”',
    ],
  ])('%#', (change, words) => {
    expect(changeWords(change)).toBe(words);
  });
});
