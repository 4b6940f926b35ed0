import { describe, expect, it } from 'vitest';
import type { FieldValues } from '../fields/registry';
import type { Structure } from '../fields/shape';
import type { Spot } from '../locate/kept';
import { type VocabularyWord, vocabularyOf } from '../vocabulary/vocabulary';
import { type WordsPolicy, privateMarks, wordsOfPhoto, wordsToSend } from './words-policy';

const word = (id: string, parentId: string | null, more: Partial<VocabularyWord> = {}): VocabularyWord => ({
  id,
  word: id,
  parentId,
  synonyms: [],
  note: '',
  updatedAt: 0,
  deleted: false,
  ...more,
});
const VOCABULARY = [
  word('birds', null),
  word('puffin', 'birds', { synonyms: ['lundi'] }),
  word('private matters', null, { isPrivate: true }),
  word('Óli á Lag', 'private matters', { synonyms: ['Uncle Óli'] }),
];
const spot = (isPrivate: boolean): Spot => ({
  id: 's',
  name: 'Grandmother’s house',
  lat: 62.227,
  lon: -6.589,
  radiusM: 200,
  isPrivate,
  words: {},
  updatedAt: 0,
  deleted: false,
});
const NOTHING_PRIVATE = privateMarks([], []);
const MARKS = privateMarks(VOCABULARY, [spot(true)]);
const FIELDS: FieldValues = {
  rating: 4,
  headline: 'At the slip',
  caption: 'The crew at the slip.',
  keywords: ['puffin', 'slip', 'Óli á Lag'],
  personShown: ['Mia Holt', 'Óli á Lag'],
  sublocation: 'the old slip',
  city: 'Klaksvík',
  country: 'Faroe Islands',
  position: '62.3, -6.6',
  locationCreated: [{ name: 'the old slip', city: 'Klaksvík', lat: '62,18.0N' }],
  creator: ['Mia Holt'],
  copyrightNotice: '© 2026 Survey',
  captured: '2026-07-04T12:00:00+01:00',
  originalName: 'NK4_1.jpg',
};
const policy = (more: Partial<WordsPolicy> = {}): WordsPolicy => ({ which: 'all', place: 'in', people: 'in', ...more });
const keys = (fields: FieldValues) => Object.keys(fields).sort();

describe('the words that leave', () => {
  it('all of them, and nothing stays', () => {
    expect(wordsToSend(FIELDS, policy(), NOTHING_PRIVATE)).toEqual({ fields: FIELDS, behind: [] });
  });

  it('descriptions and rights: no judgement, no names of files', () => {
    const { fields, behind } = wordsToSend(FIELDS, policy({ which: 'descriptive' }), NOTHING_PRIVATE);
    expect(behind.map(({ key }) => key).sort()).toEqual(['originalName', 'rating']);
    expect(fields.captured).toBe(FIELDS.captured);
  });

  it('rights alone, and none', () => {
    expect(keys(wordsToSend(FIELDS, policy({ which: 'rights' }), NOTHING_PRIVATE).fields)).toEqual([
      'copyrightNotice',
      'creator',
    ]);
    expect(wordsToSend(FIELDS, policy({ which: 'none' }), NOTHING_PRIVATE).fields).toEqual({});
  });

  it('places out: none of their fields; town alone: no spot and no position, in structures neither', () => {
    const out = wordsToSend(FIELDS, policy({ place: 'out' }), NOTHING_PRIVATE);
    for (const key of ['sublocation', 'city', 'country', 'position', 'locationCreated'] as const)
      expect(out.fields[key], key).toBeUndefined();
    expect(out.behind.every(({ why }) => why === 'place')).toBe(true);
    const town = wordsToSend(FIELDS, policy({ place: 'town' }), NOTHING_PRIVATE);
    expect(town.fields).toMatchObject({
      city: 'Klaksvík',
      country: 'Faroe Islands',
      locationCreated: [{ city: 'Klaksvík' }],
    });
    expect(town.fields.locationCreated).toEqual([{ city: 'Klaksvík' }]);
    expect(town.fields.position ?? town.fields.sublocation).toBeUndefined();
  });

  it('people out: their fields, keywords that are their names, and texts that name them', () => {
    const fields = { ...FIELDS, caption: 'Mia Holt at the slip.', keywords: ['slip', 'Mia  HOLT'] };
    const sent = wordsToSend(fields, policy({ people: 'out' }), NOTHING_PRIVATE);
    expect(sent.fields.personShown ?? sent.fields.caption).toBeUndefined();
    expect(sent.fields.keywords).toEqual(['slip']);
    expect(sent.fields.headline).toBe('At the slip');
    // who made it is told, although she is in the picture
    expect(sent.fields.creator).toEqual(['Mia Holt']);
  });

  it('private words never leave, nor what stands under them, nor their synonyms, nor a text that names them', () => {
    const sent = wordsToSend(
      { ...FIELDS, headline: 'uncle oli on his boat', altText: 'Oliver at the quay' },
      policy(),
      MARKS,
    );
    expect(sent.fields.keywords).toEqual(['puffin', 'slip']);
    expect(sent.fields.personShown).toEqual(['Mia Holt']);
    expect(sent.fields.headline).toBeUndefined();
    expect(sent.fields.altText).toBe('Oliver at the quay');
    expect(sent.behind.map(({ key, why }) => [key, why])).toEqual(
      expect.arrayContaining([
        ['headline', 'private'],
        ['keywords', 'private'],
        ['personShown', 'private'],
      ]),
    );
  });

  it('inside a private spot no place leaves, whatever the policy, nor a text that names the spot', () => {
    const inside = { ...FIELDS, position: '62.2271, -6.5891', caption: 'In Grandmother’s house.' };
    const { fields, behind } = wordsToSend(inside, policy(), MARKS);
    for (const key of ['sublocation', 'city', 'country', 'position', 'locationCreated', 'caption'] as const)
      expect(fields[key], key).toBeUndefined();
    expect(behind.find(({ key }) => key === 'position')?.why).toBe('private');
    expect(wordsToSend(inside, policy(), privateMarks(VOCABULARY, [spot(false)])).fields.position).toBe(
      inside.position,
    );
  });

  it('keywords leave with the tree they stand in, without its private branches', () => {
    const marks = { marks: MARKS, vocabulary: vocabularyOf(VOCABULARY) };
    expect(wordsOfPhoto(FIELDS, policy(), marks).fields.keywordTree).toEqual({
      hierarchy: [{ keyword: 'birds', children: [{ keyword: 'puffin', applied: true }] }],
    });
    const own: Structure = {
      hierarchy: [{ keyword: 'people', children: [{ keyword: 'Óli á Lag', applied: true }] }, { keyword: 'sea' }],
    };
    expect(wordsOfPhoto({ ...FIELDS, keywordTree: own }, policy(), marks).fields.keywordTree).toEqual({
      hierarchy: [{ keyword: 'people' }, { keyword: 'sea' }],
    });
  });
});
