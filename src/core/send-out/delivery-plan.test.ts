import { describe, expect, it } from 'vitest';
import { vocabularyOf } from '../vocabulary/vocabulary';
import { type DeliveryContext, type SendablePhoto, isUnderEmbargo, planDelivery } from './delivery-plan';
import { type DeliveryProfile, NEW_PROFILE, estimatedBytes } from './delivery-profile';
import { privateMarks } from './words-policy';

const RIGHTS = { creator: ['Mia Holt'], copyrightNotice: '© 2026' };
const photo = (id: string, more: Partial<SendablePhoto> = {}): SendablePhoto => ({
  id,
  driveId: 'studio',
  path: `2026/shoot/${id}.jpg`,
  sizeBytes: 5_000_000,
  state: 'here',
  isWritable: true,
  format: 'jpeg',
  seconds: null,
  width: 6000,
  height: 4000,
  profile: 'sRGB',
  fields: RIGHTS,
  embedded: {},
  isSafe: true,
  sentTo: [],
  naming: { captured: null, oldBase: id, camera: '', accession: '', photoNumber: '', source: '', role: 'originals' },
  ...more,
});
const profile = (more: Partial<DeliveryProfile> = {}): DeliveryProfile => ({
  ...NEW_PROFILE,
  id: 'p',
  name: 'Press',
  folder: { kind: 'on-drive', driveId: 'out', parts: [{ kind: 'text', text: 'press' }] },
  updatedAt: 0,
  deleted: false,
  ...more,
});
const context = (more: Partial<DeliveryContext> = {}): DeliveryContext => ({
  answers: {},
  blanks: { kind: '', client: '', subject: '' },
  taken: new Set(),
  marks: { marks: privateMarks([], []), vocabulary: vocabularyOf([]) },
  today: '2026-11-30',
  ...more,
});
const found = (photos: SendablePhoto[], more: Partial<DeliveryProfile> = {}) =>
  planDelivery(photos, profile(more), context()).findings.map(({ finding }) => finding);

describe('what a delivery will do', () => {
  it('nothing to say: every photo goes, as a file of its own, with its pixels', () => {
    const plan = planDelivery([photo('a'), photo('b')], profile(), context());
    expect(plan.findings).toEqual([]);
    expect(plan.files.map(({ driveId, path, pixels }) => [driveId, path, pixels?.width])).toEqual([
      ['out', 'press/a.jpg', 3600],
      ['out', 'press/b.jpg', 3600],
    ]);
  });

  it('no photos: nothing', () => {
    expect(planDelivery([], profile(), context())).toMatchObject({
      files: [],
      findings: [],
      open: [],
      estimatedBytes: 0,
    });
  });

  it.each<[string, Partial<SendablePhoto>]>([
    ['away', { state: 'away' }],
    ['damaged', { state: 'damaged' }],
    ['video', { seconds: 4 }],
    ['rejected', { fields: { ...RIGHTS, rating: -1 } }],
    ['embargo', { fields: { ...RIGHTS, instructions: 'Embargo until 2027-01-01' } }],
    ['terms', { fields: { ...RIGHTS, usageTerms: 'Editorial use only' } }],
    ['blank', { fields: { ...RIGHTS, caption: 'At the [?where].' } }],
    ['no-rights', { fields: { creator: ['Mia Holt'] } }],
    ['sent-before', { sentTo: ['Press'] }],
    ['unsafe', { isSafe: false }],
    ['smaller', { width: 1200, height: 800 }],
    ['no-profile', { profile: null }],
  ])('%s is said', (finding, more) => {
    expect(found([photo('a', more)])).toContain(finding);
    expect(found([photo('a')])).not.toContain(finding);
  });

  it('what cannot go stays; what is asked about waits for an answer, and stays where that is so', () => {
    const photos = [photo('a'), photo('b', { state: 'away' }), photo('c', { fields: { ...RIGHTS, rating: -1 } })];
    const asked = planDelivery(photos, profile(), context());
    expect(asked.files.map(({ photoId }) => photoId)).toEqual(['a', 'c']);
    expect(asked.open).toEqual(['rejected']);
    const left = planDelivery(photos, profile(), context({ answers: { rejected: 'leave' } }));
    expect([left.open, left.files.map(({ photoId }) => photoId)]).toEqual([[], ['a']]);
    const sent = planDelivery(photos, profile(), context({ answers: { rejected: 'send' } }));
    expect([sent.open, sent.files.length]).toEqual([[], 2]);
  });

  it('names that differ by case alone, or are taken there, get a number', () => {
    const photos = [
      photo('x', { path: 'a/Boat.jpg', naming: { ...photo('x').naming, oldBase: 'Boat' } }),
      photo('y', { path: 'b/boat.jpg', naming: { ...photo('y').naming, oldBase: 'boat' } }),
    ];
    const plan = planDelivery(photos, profile(), context({ taken: new Set(['out/press/boat']) }));
    expect(plan.files.map(({ path }) => path)).toEqual(['press/Boat-2.jpg', 'press/boat-3.jpg']);
    expect(plan.findings.map(({ finding }) => finding)).toContain('renamed');
  });

  it('beside each original: on its own drive, in a folder of its own', () => {
    const photos = [photo('a'), photo('b', { driveId: 'attic', path: 'old/b.tif' })];
    const plan = planDelivery(photos, profile({ folder: { kind: 'beside', name: 'delivered' } }), context());
    expect(plan.files.map(({ driveId, path }) => `${driveId}: ${path}`)).toEqual([
      'studio: 2026/shoot/delivered/a.jpg',
      'attic: old/delivered/b.jpg',
    ]);
    const [readOnly] = planDelivery(
      [photo('a', { isWritable: false })],
      profile({ folder: { kind: 'beside', name: 'delivered' } }),
      context(),
    ).findings;
    expect(readOnly?.finding).toBe('read-only');
    expect(found([photo('a', { isWritable: false })])).toEqual([]);
  });

  it('an untouched original keeps its ending, and stays where its file says what is not to leave', () => {
    const original: Partial<DeliveryProfile> = {
      picture: { kind: 'original', sidecar: false },
      words: { which: 'all', place: 'out', people: 'in' },
    };
    const photos = [
      photo('a', { path: 'x/a.CR2', format: 'raw' }),
      photo('b', { embedded: { position: '62.2, -6.6' } }),
    ];
    const plan = planDelivery(photos, profile(original), context());
    expect(plan.files.map(({ path, pixels }) => [path, pixels])).toEqual([['press/a.CR2', null]]);
    expect(plan.findings).toEqual([{ finding: 'words-in-file', photoIds: ['b'] }]);
  });

  it('an embargo ends with its last date; one without a date does not end by itself', () => {
    const under = (instructions: string) => isUnderEmbargo({ instructions }, '2026-11-30');
    expect(under('EMBARGO until 2026-12-01')).toBe(true);
    expect(under('Embargo until 2026-11-01')).toBe(false);
    expect(under('embargo until the opening')).toBe(true);
    expect(under('until 2027-01-01')).toBe(false);
  });

  it('a limit of bytes bounds the estimate', () => {
    const { picture } = profile();
    if (picture.kind !== 'made') throw new Error('made');
    expect(estimatedBytes(picture, 1_000_000)).toBeGreaterThan(100_000);
    expect(estimatedBytes({ ...picture, bytesLimit: 50_000 }, 1_000_000)).toBe(50_000);
    expect(estimatedBytes({ ...picture, quality: 50 }, 1_000_000)).toBeLessThan(estimatedBytes(picture, 1_000_000));
  });
});
