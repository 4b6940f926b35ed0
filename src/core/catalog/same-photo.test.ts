import { expect, it } from 'vitest';
import type { Round } from '../sift/round';
import { withSamePhoto } from './same-photo';

const kept = { id: 'x', name: 'x', updatedAt: 1, deleted: false };
const up = { decision: 'up' as const, was: 0 };
const leave = { decision: 'leave' as const, was: 1 };

it('what does not hold the photo is left', () => {
  const delivery = { ...kept, date: '2026-11-30', note: '', photoIds: ['a'] };
  expect(withSamePhoto('deliveries', delivery, 'b', 'c')).toBeNull();
});

it('the photo stands once, where the first of the two stood; files that were sent follow', () => {
  const sent = (photoId: string) => ({
    photoId,
    driveId: 'd',
    path: 'p',
    fingerprint: '',
    sha256: '',
    bytes: 1,
    width: null,
    height: null,
  });
  const delivery = { ...kept, date: '2026-11-30', note: '', photoIds: ['b', 'a', 'c'], files: [sent('b'), sent('a')] };
  const followed = withSamePhoto('deliveries', delivery, 'b', 'c');
  expect(followed?.photoIds).toEqual(['c', 'a']);
  expect(followed?.files?.map(({ photoId }) => photoId)).toEqual(['c', 'a']);
});

it('what was decided of it in a round is decided, unless it was of the other', () => {
  const round = (decided: Round['decided']): Round => ({
    ...kept,
    rung: 1,
    photoIds: ['a', 'b'],
    decided,
    startedAt: 1,
    after: null,
  });
  expect(withSamePhoto('rounds', round({ b: up }), 'b', 'a')).toMatchObject({ photoIds: ['a'], decided: { a: up } });
  expect(withSamePhoto('rounds', round({ a: leave, b: up }), 'b', 'a')?.decided).toEqual({ a: leave });
});
