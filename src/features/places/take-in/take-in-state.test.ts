import { beforeEach, describe, expect, it } from 'vitest';
import { NEW_SHEET } from '@/core/take-in/sheet';
import type { SurveyedFrame, SourceStatus } from '@/storage/jobs/source-survey';
import { runOf } from './run-of';
import { isVideo, isKnown, isTicked, markRun, tick, useTakeIn } from './take-in-state';

const item = (
  name: string,
  status: SourceStatus | null = { state: 'new' },
  more: Partial<SurveyedFrame> = {},
): SurveyedFrame => {
  const photo = { path: name, sizeBytes: 1, modifiedMs: 1 };
  return {
    frame: { key: name.replace(/\.\w+$/, ''), folder: '', base: name, photos: [photo], beside: [] },
    reading: null,
    camera: '',
    status,
    problem: null,
    ...more,
  };
};
const ticked = (...items: SurveyedFrame[]) =>
  items
    .filter((one) => isTicked(one, useTakeIn.getState()))
    .map(({ frame }) => frame.key)
    .join('');

const [a, b, c] = [item('a.jpg'), item('b.jpg', { state: 'doubtful', why: 'same-name' }), item('c.mp4')];
const [known, likely] = [
  item('k.jpg', { state: 'known', photoId: 'p' }),
  item('l.jpg', { state: 'likely', photoId: 'p' }),
];
const bad = item('x.jpg', { state: 'new' }, { problem: { code: 'file/empty' } });

beforeEach(() =>
  useTakeIn.setState({ leftOut: new Set(), insisted: new Set(), given: new Set(), mark: null, sheet: NEW_SHEET }),
);

describe('what is ticked', () => {
  it('all that is new or in doubt, also while it is not known what it is; nothing that is known or cannot be read', () => {
    expect(ticked(a, b, c, known, likely, bad, item('y.jpg', null))).toBe('abcy');
    expect([isKnown(known), isKnown(likely), isKnown(b), isVideo(c), isVideo(a)]).toEqual([
      true,
      true,
      false,
      true,
      false,
    ]);
  });

  it('none, and all again; what is known is ticked only by itself', () => {
    tick([a, b, c, known], false);
    expect(ticked(a, b, c, known)).toBe('');
    tick([a, b, c, known], true);
    expect(ticked(a, b, c, known)).toBe('abc');
    tick([known], true);
    expect(ticked(a, known)).toBe('ak');
    tick([known], false);
    expect(ticked(a, known)).toBe('a');
  });

  it('videos can be left out, and what was given to an accession is no longer there to be chosen', () => {
    useTakeIn.setState({ sheet: { ...NEW_SHEET, withVideos: false }, given: new Set(['a']) });
    expect(ticked(a, b, c)).toBe('b');
  });
});

describe('a marked run', () => {
  it('goes from the first click to the last, either way, and begins anew with a plain click', () => {
    const all = [a, b, c, known];
    markRun('c', false);
    markRun('a', true);
    expect(runOf(all, useTakeIn.getState().mark).map(({ frame }) => frame.key)).toEqual(['a', 'b', 'c']);
    markRun('k', true);
    expect(runOf(all, useTakeIn.getState().mark).map(({ frame }) => frame.key)).toEqual(['c', 'k']);
    markRun('b', false);
    expect(runOf(all, useTakeIn.getState().mark)).toEqual([b]);
    expect([runOf(all, null), runOf(all, { first: 'gone', last: 'a' })]).toEqual([[], []]);
  });
});
