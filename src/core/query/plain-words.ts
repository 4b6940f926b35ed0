// A question in plain English words into a scope the person sees and can change: "upright frames from the ferry last
// July with four stars". Rules, tried in order from left to right, the longest way of saying something first; no
// guessing. What no rule reads is looked for as a word where photos have it, and is otherwise said to be not
// understood.

import { COLOUR_NAMES } from '../picture/colour-names';
import { FIELDS } from '../fields/registry';
import { singularOf } from '../text/plural';
import { joinedConditions, quoted } from './write-scope';

export interface PlainReading {
  scope: string;
  /** What was read as which condition, in the order of the text. */
  read: { text: string; term: string }[];
  notUnderstood: string[];
}

type Rule = [pattern: RegExp, term: (...parts: string[]) => string | null];

const NUMBER_WORDS = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten'];
const numeral = (text: string): number =>
  /^\d+$/.test(text) ? Number(text) : NUMBER_WORDS.indexOf(text.toLowerCase());
const NUMERAL = `(\\d+|${NUMBER_WORDS.slice(1).join('|')})`;
const MONTHS = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
];
const MONTH = `(${MONTHS.join('|')})`;
const monthOf = (name: string): string => String(MONTHS.indexOf(name.toLowerCase()) + 1).padStart(2, '0');
/** Seasons as weather services of the northern half count them. */
const SEASONS: Record<string, string> = { spring: '3..5', summer: '6..8', autumn: '9..11', winter: '12..2' };
const YEAR = '((?:18|19|20)\\d\\d)';
/** Words with a capital, as names have them. */
const NAME = "((?:\\p{Lu}[\\p{L}\\p{M}\\d’'.-]*)(?:\\s+(?:í|á|við|de|von|van|of)?\\s*\\p{Lu}[\\p{L}\\p{M}\\d’'.-]*)*)";

const FIELD_WORDS: Record<string, string> = {
  ...Object.fromEntries(FIELDS.map(({ label, searchName }) => [label.toLowerCase(), searchName.toLowerCase()])),
  keyword: 'keyword',
  people: 'person',
  place: 'place',
  position: 'position',
  date: 'date',
  'copyright notice': 'copyright',
};
const FIELD = `(${Object.keys(FIELD_WORDS)
  .sort((a, b) => b.length - a.length)
  .map((name) => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
  .join('|')})s?`;
const fieldTerm = (key: 'has' | 'missing', name: string): string | null =>
  Object.hasOwn(FIELD_WORDS, name.toLowerCase()) ? `${key}:${FIELD_WORDS[name.toLowerCase()]}` : null;

const rung = (text: string, how: '' | '..' | 'to'): string | null => {
  const number = numeral(text);
  return number >= 0 && number <= 5 ? `rating:${how === 'to' ? `..${number}` : `${number}${how}`}` : null;
};
const STARS = '(?:stars?|bars?|rungs?)';

const RULES: readonly Rule[] = [
  [/(?:upright|vertical|portrait)(?:\s+format)?/i, () => 'orientation:upright'],
  [/(?:level|horizontal|landscape)\s+(?:format|frames?|pictures?|photos?|images?)/i, () => 'orientation:level'],
  [/square(?:\s+format)?/i, () => 'orientation:square'],
  [/raws?(?:\s+files?)?/i, () => 'kind:raw'],
  [/(?:films|videos?|movies?)/i, () => 'kind:video'],
  [/panoramas?/i, () => 'kind:panorama'],
  [/brackets?/i, () => 'set:bracket'],
  [/bursts?/i, () => 'set:burst'],
  [
    new RegExp(`(?:with\\s+)?(?:at\\s+least|not\\s+less\\s+than)\\s+${NUMERAL}\\s+${STARS}`, 'i'),
    (stars = '') => rung(stars, '..'),
  ],
  [
    new RegExp(`(?:with\\s+)?(?:at\\s+most|up\\s+to|not\\s+more\\s+than)\\s+${NUMERAL}\\s+${STARS}`, 'i'),
    (stars = '') => rung(stars, 'to'),
  ],
  [
    new RegExp(
      `(?:with\\s+)?${NUMERAL}\\s+(?:or\\s+more\\s+${STARS}|${STARS}\\s+(?:or\\s+more|or\\s+better|and\\s+up))`,
      'i',
    ),
    (stars = '') => rung(stars, '..'),
  ],
  [new RegExp(`(?:with\\s+|rated\\s+)?${NUMERAL}\\s+${STARS}`, 'i'), (stars = '') => rung(stars, '')],
  [/(?:rated|rating)\s+(\d)/i, (stars = '') => rung(stars, '')],
  [/unrated|without\s+a?\s*rating|not\s+rated/i, () => 'rating:0'],
  [/rejected|rejects/i, () => 'rating:-1'],
  [/(?:that\s+are\s+)?(?:not\s+safe|unsafe)/i, () => 'safe:no'],
  [/safe/i, () => 'safe:yes'],
  [
    new RegExp(`(?:with\\s+)?(?:only|just)\\s+${NUMERAL}\\s+cop(?:y|ies)`, 'i'),
    (copies = '') => `copies:${numeral(copies)}`,
  ],
  [
    new RegExp(`(?:with\\s+)?(?:less|fewer)\\s+than\\s+${NUMERAL}\\s+copies`, 'i'),
    (copies = '') => `copies<${numeral(copies)}`,
  ],
  [new RegExp(`(?:with|at)?\\s*iso\\s+(?:above|over|more\\s+than)\\s+(\\d+)`, 'i'), (iso = '') => `iso>${iso}`],
  [new RegExp(`(?:with|at)?\\s*iso\\s+(?:below|under|less\\s+than)\\s+(\\d+)`, 'i'), (iso = '') => `iso<${iso}`],
  [/(?:at\s+)?iso\s+(\d+)/i, (iso = '') => `iso:${iso}`],
  [/(?:at\s+)?f\/?(\d+(?:\.\d+)?)/i, (f = '') => `f:${f}`],
  [/(?:at\s+)?(\d+)\s?mm/i, (mm = '') => `focal:${mm}`],
  [/on\s+this\s+day(?:\s+in\s+(?:other|all)\s+years)?|this\s+day\s+in\s+other\s+years/i, () => 'taken:this-day'],
  [/(?:from\s+|in\s+)?(?:the\s+)?last\s+(\d+)\s+days/i, (days = '') => `taken:last-${days}-days`],
  [
    /(?:from\s+|in\s+)?(last|this)\s+(week|month|year)/i,
    (which = '', unit = '') => `taken:${which.toLowerCase()}-${unit.toLowerCase()}`,
  ],
  [/(?:from\s+)?(today|yesterday)/i, (word = '') => `taken:${word.toLowerCase()}`],
  [
    new RegExp(`(?:from\\s+|in\\s+)?(last|this)\\s+${MONTH}`, 'i'),
    (which = '', month = '') => `taken:${which.toLowerCase()}-${month.toLowerCase()}`,
  ],
  [
    new RegExp(`(?:between|from)\\s+${YEAR}\\s+(?:and|to|until)\\s+${YEAR}`, 'i'),
    (from = '', to = '') => `taken:${from}..${to}`,
  ],
  [new RegExp(`(?:since|from)\\s+${YEAR}(?:\\s+on(?:wards)?)?`, 'i'), (year = '') => `taken:${year}..`],
  [new RegExp(`after\\s+${YEAR}`, 'i'), (year = '') => `taken:>${year}`],
  [new RegExp(`before\\s+${YEAR}`, 'i'), (year = '') => `taken:<${year}`],
  [new RegExp(`(?:until|up\\s+to)\\s+${YEAR}`, 'i'), (year = '') => `taken:..${year}`],
  [
    new RegExp(`(?:on\\s+)?(?:the\\s+)?(\\d{1,2})(?:st|nd|rd|th)?\\s+(?:of\\s+)?${MONTH}\\s+${YEAR}`, 'i'),
    (day = '', month = '', year = '') =>
      Number(day) >= 1 && Number(day) <= 31 ? `taken:${year}-${monthOf(month)}-${day.padStart(2, '0')}` : null,
  ],
  [
    new RegExp(`(?:in\\s+|from\\s+)?${MONTH}\\s+${YEAR}`, 'i'),
    (month = '', year = '') => `taken:${year}-${monthOf(month)}`,
  ],
  [new RegExp(`(?:in|from)\\s+${YEAR}`, 'i'), (year = '') => `taken:${year}`],
  [new RegExp(YEAR, 'i'), (year = '') => `taken:${year}`],
  [new RegExp(`(?:in|every)\\s+${MONTH}`, 'i'), (month = '') => `month:${Number(monthOf(month))}`],
  [/in\s+(?:the\s+)?(spring|summer|autumn|winter)/i, (season = '') => `month:${SEASONS[season.toLowerCase()] ?? ''}`],
  [
    new RegExp(`(?:without|with\\s+no|that\\s+have\\s+no|no|lacking)\\s+(?:an?\\s+|any\\s+)?${FIELD}`, 'i'),
    (name = '') => fieldTerm('missing', name),
  ],
  [new RegExp(`(?:with|that\\s+have)\\s+(?:an?\\s+|any\\s+)?${FIELD}`, 'i'), (name = '') => fieldTerm('has', name)],
  [
    new RegExp(`(?:mostly|much|mainly)\\s+(${Object.keys(COLOUR_NAMES).join('|')})`, 'i'),
    (colour = '') => `colour:${colour.toLowerCase()}`,
  ],
  [new RegExp(`(?:made|taken|shot|photographed)?\\s*[Bb]y\\s+${NAME}`, 'u'), (name = '') => `creator:${quoted(name)}`],
  [
    new RegExp(`(?:with|on)\\s+the\\s+drive\\s+${NAME}|on\\s+drive\\s+${NAME}`, 'u'),
    (a = '', b = '') => `drive:${quoted(a || b)}`,
  ],
  [new RegExp(`sent\\s+to\\s+(?:the\\s+)?${NAME}`, 'u'), (name = '') => `sent:${quoted(name)}`],
  [/(?:that\s+were\s+)?sent(?:\s+out)?/i, () => 'sent:any'],
  [
    /marked\s+(?:as\s+|with\s+)?(?:"([^"]+)"|([\p{L}\d-]+))/iu,
    (phrase = '', word = '') => `marker:${quoted(phrase || word)}`,
  ],
  [/"([^"]+)"/, (phrase = '') => `"${phrase}"`],
  [/(?:not|without|but\s+not)\s+(?:the\s+|an?\s+)?([\p{L}\d]+)/iu, (word = '') => `-${word}`],
];

/** Words that only join the others. */
const JOINING = new Set(
  'a an the of from in on at with and to for by is are was were be been that which who these those this my our me i we all any every some show find give get see please look photos photo pictures picture frames frame images image shots shot photographs photograph taken made where when there have has had it its than'.split(
    ' ',
  ),
);

/** @param hasWord whether some photo has a word, or one that begins so, in plain form */
export function readPlainWords(text: string, hasWord: (word: string) => boolean): PlainReading {
  const reading: PlainReading = { scope: '', read: [], notUnderstood: [] };
  const terms: string[] = [];
  let either = false;
  const put = (said: string, term: string) => {
    reading.read.push({ text: said, term });
    const last = terms.length - 1;
    if (either && last >= 0) terms[last] = `${terms[last]} OR ${term}`;
    else terms.push(term);
    either = false;
  };
  for (let rest = text.trim(); rest !== ''; rest = rest.replace(/^[\s,.;:!?]+/, '')) {
    const found = firstRule(rest);
    if (found) {
      put(found.said, found.term);
      rest = rest.slice(found.said.length);
      continue;
    }
    const [word = rest] = /^[\p{L}\p{M}\p{N}’'-]+/u.exec(rest) ?? [rest.slice(0, 1)];
    rest = rest.slice(word.length);
    const bare = word.toLowerCase();
    if (bare === 'or') either = terms.length > 0;
    else if (JOINING.has(bare)) continue;
    else {
      const term = termOfWord(word, hasWord);
      if (term !== null) put(word, term);
      else if (/[\p{L}\p{N}]/u.test(word)) reading.notUnderstood.push(word);
    }
  }
  return { ...reading, scope: joinedConditions(...terms) };
}

/** A word that photos have; of a plural the singular too, since nobody keeps to one of them. */
function termOfWord(word: string, hasWord: (word: string) => boolean): string | null {
  const one = singularOf(word);
  const known = [one, word].filter((form, at) => (at === 0 || form !== one) && hasWord(form));
  // a word finds those that begin with it
  const [first, second] = known;
  if (first === undefined) return null;
  return second === undefined || second.toLowerCase().startsWith(first.toLowerCase())
    ? quoted(first)
    : `${quoted(first)} OR ${quoted(second)}`;
}

const NOT = /^(?:but\s+)?(?:not|never)\s+/i;

function firstRule(rest: string): { said: string; term: string } | null {
  const not = NOT.exec(rest);
  const turned = not && readRule(rest.slice(not[0].length));
  if (not && turned) return { said: not[0] + turned.said, term: `-${turned.term}` };
  return readRule(rest);
}

function readRule(rest: string): { said: string; term: string } | null {
  for (const [pattern, termOf] of RULES) {
    const found = new RegExp(`^${pattern.source}(?![\\p{L}\\p{N}])`, `${pattern.flags.replace('u', '')}u`).exec(rest);
    const term = found && termOf(...found.slice(1).map((part) => part ?? ''));
    if (found && term) return { said: found[0], term };
  }
  return null;
}
