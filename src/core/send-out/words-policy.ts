// Which words leave with a picture. What is private stays behind whatever the policy: keywords and people marked so in
// the vocabulary, with all that stands under them and their synonyms; the place of photos inside a private spot; and
// any text that names one of them, because a name cannot be cut out of a sentence.

import { type FieldGroup, type FieldKey, WRITTEN_FIELDS, type FieldValues, fieldOf } from '../fields/registry';
import type { FieldValue, Structure } from '../fields/shape';
import { isWordList } from '../fields/shape';
import { positionIn, structuresIn, wordsIn } from '../fields/values';
import { type Spot, privateAreaAt } from '../locate/kept';
import { plain, wordsOf } from '../text/fold';
import { type Vocabulary, type VocabularyWord, isPrivateWord, vocabularyOf } from '../vocabulary/vocabulary';

export interface WordsPolicy {
  /** `descriptive`: what is shown, where, who, when, and rights. `all`: judgements and what the camera noted as well. */
  which: 'all' | 'descriptive' | 'rights' | 'none';
  /** `town`: town, province and country alone. */
  place: 'in' | 'town' | 'out';
  people: 'in' | 'out';
}

/** All words but those that are private. */
export const ALL_BUT_PRIVATE: WordsPolicy = { which: 'all', place: 'in', people: 'in' };

/** What is never sent, from the person's marks. */
export interface PrivateMarks {
  /** Words and names, each as the words it is made of, folded. */
  phrases: readonly (readonly string[])[];
  spots: readonly Spot[];
}

export function privateMarks(vocabulary: readonly VocabularyWord[], spots: readonly Spot[]): PrivateMarks {
  const tree = vocabularyOf(vocabulary);
  const phrases = [...tree.byId.values()]
    .filter(({ id }) => isPrivateWord(tree, id))
    .flatMap(({ word, synonyms }) => [word, ...synonyms]);
  return { phrases: phrasesOf(phrases), spots };
}

export type BehindWhy = 'policy' | 'place' | 'people' | 'private';

export interface SentWords {
  fields: FieldValues;
  /** Fields of which something stays here, and why. */
  behind: { key: FieldKey; why: BehindWhy }[];
}

const DESCRIPTIVE: ReadonlySet<FieldGroup> = new Set<FieldGroup>([
  'content',
  'people',
  'place',
  'rights',
  'licensing',
  'codes',
]);
const RIGHTS: ReadonlySet<FieldGroup> = new Set<FieldGroup>(['rights', 'licensing']);
/** Of where a picture comes from, what describes it; numbers and names of before are the archive's own. */
const DESCRIBING_ORIGIN: ReadonlySet<FieldKey> = new Set<FieldKey>([
  'captured',
  'digitised',
  'digitalSourceType',
  'contributor',
  'registryEntry',
]);
const OWN_ORDER: ReadonlySet<FieldKey> = new Set<FieldKey>(['memberOf', 'userComment']);
const OF_PERSONS: ReadonlySet<FieldKey> = new Set<FieldKey>([
  'personShown',
  'person',
  'modelAge',
  'modelInfo',
  'minorModelAge',
  'region',
]);
const OF_TOWN: ReadonlySet<FieldKey> = new Set<FieldKey>(['city', 'province', 'country', 'countryCode']);
const MEMBERS_OF_TOWN = ['city', 'province', 'country', 'countryCode', 'worldRegion'];

function isAsked(key: FieldKey, which: WordsPolicy['which']): boolean {
  const { group } = fieldOf(key);
  if (which === 'all') return true;
  if (which === 'none') return false;
  if (which === 'rights') return RIGHTS.has(group);
  return group === 'origin' ? DESCRIBING_ORIGIN.has(key) : DESCRIPTIVE.has(group) && !OWN_ORDER.has(key);
}

type Filter = (key: FieldKey, value: FieldValue) => FieldValue | undefined;

/** Linear in the length of all texts times the number of private words. */
export function wordsToSend(fields: FieldValues, policy: WordsPolicy, marks: PrivateMarks): SentWords {
  const filters = filtersFor(fields, policy, marks);
  const sent: SentWords = { fields: {}, behind: [] };
  // corrections are in the picture that is sent, and would act on it twice
  for (const { key } of WRITTEN_FIELDS) {
    const value = fields[key];
    if (value === undefined) continue;
    let kept: FieldValue | undefined = value;
    let why: BehindWhy | null = null;
    for (const [reason, filter] of filters) {
      if (kept === undefined) break;
      const left: FieldValue | undefined = filter(key, kept);
      if (left !== kept) why ??= reason;
      kept = left;
    }
    if (kept !== undefined) sent.fields[key] = kept;
    if (why) sent.behind.push({ key, why });
  }
  return sent;
}

/** One after the other; the first that holds something back says why. */
function filtersFor(fields: FieldValues, policy: WordsPolicy, marks: PrivateMarks): [BehindWhy, Filter][] {
  const position = positionIn(fields);
  const area = position && privateAreaAt(position, marks.spots);
  const secret = [...marks.phrases, ...phrasesOf(area ? [area.name] : [])];
  const names = phrasesOf(policy.people === 'out' ? namesIn(fields) : []);
  return [
    ['policy', (key, value) => (isAsked(key, policy.which) ? value : undefined)],
    ['private', (key, value) => (area ? withPlace(key, value, 'out') : value)],
    ['private', (key, value) => withoutPhrases(key, value, secret)],
    ['place', (key, value) => withPlace(key, value, policy.place)],
    ['people', (key, value) => (policy.people === 'out' && OF_PERSONS.has(key) ? undefined : value)],
    // who made a picture is told, also where they are in it
    ['people', (key, value) => (RIGHTS.has(fieldOf(key).group) ? value : withoutPhrases(key, value, names))],
  ];
}

const phrasesOf = (texts: readonly string[]) => texts.map(wordsOf).filter((words) => words.length > 0);

/** All names of people that the fields tell. */
const namesIn = ({ personShown, person, region }: FieldValues): string[] => [
  ...wordsIn(personShown),
  ...[...structuresIn(person), ...structuresIn(region)].flatMap(({ name }) => (typeof name === 'string' ? [name] : [])),
];

function withPlace(key: FieldKey, value: FieldValue, place: WordsPolicy['place']): FieldValue | undefined {
  if (place === 'in' || fieldOf(key).group !== 'place') return value;
  if (place === 'out') return undefined;
  if (OF_TOWN.has(key)) return value;
  if (key !== 'locationCreated' && key !== 'locationShown') return undefined;
  const towns = structuresIn(value)
    .map((location) => Object.fromEntries(Object.entries(location).filter(([name]) => MEMBERS_OF_TOWN.includes(name))))
    .filter((location) => Object.keys(location).length > 0);
  if (towns.length === 0) return undefined;
  return JSON.stringify(towns) === JSON.stringify(structuresIn(value)) ? value : towns;
}

function withoutPhrases(key: FieldKey, value: FieldValue, phrases: PrivateMarks['phrases']): FieldValue | undefined {
  if (phrases.length === 0 || !stringsIn(value).some((text) => namesOne(text, phrases))) return value;
  if (key === 'keywordTree') return withoutBranches(value as Structure, phrases);
  if (isWordList(fieldOf(key))) return notEmpty(wordsIn(value).filter((word) => !namesOne(word, phrases)));
  if (!Array.isArray(value)) return undefined;
  return notEmpty(structuresIn(value).filter((one) => !stringsIn(one).some((text) => namesOne(text, phrases))));
}

const notEmpty = <T extends string[] | Structure[]>(list: T): T | undefined => (list.length > 0 ? list : undefined);

/** A branch goes with all that stands under it. */
function withoutBranches({ hierarchy }: Structure, phrases: PrivateMarks['phrases']): FieldValue | undefined {
  const kept = (nodes: readonly Structure[]): Structure[] =>
    nodes
      .filter(({ keyword }) => !(typeof keyword === 'string' && namesOne(keyword, phrases)))
      .map(({ children, ...node }) => {
        const below = kept(structuresIn(children));
        return below.length > 0 ? { ...node, children: below } : node;
      });
  const nodes = kept(structuresIn(hierarchy));
  return nodes.length > 0 ? { hierarchy: nodes } : undefined;
}

function stringsIn(value: FieldValue): string[] {
  if (typeof value === 'string') return [value];
  if (Array.isArray(value)) return value.flatMap(stringsIn);
  return typeof value === 'object' ? Object.values(value).flatMap(stringsIn) : [];
}

/** Whether the words of one of the phrases stand in the text, one after the other. */
function namesOne(text: string, phrases: PrivateMarks['phrases']): boolean {
  const words = wordsOf(text);
  return phrases.some((phrase) =>
    words.some(
      (_, at) => at + phrase.length <= words.length && phrase.every((word, next) => words[at + next] === word),
    ),
  );
}

/** What decides about words beside the policy: the person's vocabulary, and what is private in it. */
export interface WordMarks {
  marks: PrivateMarks;
  vocabulary: Vocabulary;
}

/** What leaves of a photo, with the tree its keywords stand in where it has none of its own. */
export function wordsOfPhoto(fields: FieldValues, policy: WordsPolicy, { marks, vocabulary }: WordMarks): SentWords {
  const tree = fields.keywordTree ?? treeOfKeywords(wordsIn(fields.keywords), vocabulary);
  return wordsToSend({ ...fields, ...(tree !== undefined && { keywordTree: tree }) }, policy, marks);
}

/** The keywords with those they stand under in the vocabulary; `undefined` where none stands under another. */
function treeOfKeywords(keywords: readonly string[], vocabulary: Vocabulary): Structure | undefined {
  interface Node {
    keyword: string;
    applied: boolean;
    children: Map<string, Node>;
  }
  const top = new Map<string, Node>();
  let isTree = false;
  for (const keyword of keywords) {
    const [entry] = vocabulary.named(keyword);
    const path = entry ? vocabulary.path(entry.id).map(({ word }) => word) : [];
    if (path.length < 2) continue;
    isTree = true;
    let level = top;
    for (const word of path) {
      const node = level.get(plain(word)) ?? { keyword: word, applied: false, children: new Map<string, Node>() };
      level.set(plain(word), node);
      if (word === path.at(-1)) node.applied = true;
      level = node.children;
    }
  }
  const structureOf = ({ keyword, applied, children }: Node): Structure => ({
    keyword,
    ...(applied && { applied }),
    ...(children.size > 0 && { children: [...children.values()].map(structureOf) }),
  });
  return isTree ? { hierarchy: [...top.values()].map(structureOf) } : undefined;
}
