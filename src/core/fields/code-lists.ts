// Published lists of codes, to be looked up by word or code. What is shipped of each list is said in `complete`: a code
// of an incomplete list that is not known here may still be right.
// Countries: `countries.ts`. Languages: the two-letter codes of ISO 639, from the package iso-639-1; three letters and
// regions (BCP 47) may follow. Scene codes (IPTC NewsCodes, scene), the seventeen topics at the top of the IPTC subject
// codes and Media Topics: from memory; ExifTool and exiv2 ship no list to hold them against.

import languages from 'iso-639-1';
import type { FieldKey } from './registry';
import { COUNTRIES } from './countries';

export interface Code {
  code: string;
  label: string;
  note: string;
}

export interface CodeList {
  name: string;
  /** Whether every code of the published list is here. */
  complete: boolean;
  /** Otherwise, which are. */
  offered?: string;
  /** What a code looks like, and the same in words. */
  form: RegExp;
  formWords: string;
  codes: readonly Code[];
  /** The field that holds the label in words, where there is one. */
  labelField?: FieldKey;
}

const codes = (...rows: [code: string, label: string, note?: string][]): Code[] => rows.map(([code, label, note = '']) => ({ code, label, note }));

const SCENES = codes(
  ['010100', 'headshot', 'head only, of a person or an animal'], ['010200', 'half-length', 'a torso and head'], ['010300', 'full-length', 'from head to toe'], ['010400', 'profile', 'from the side'], ['010500', 'rear view', 'from behind'],
  ['010600', 'single', 'one person, object or animal'], ['010700', 'couple', 'two people who belong together'], ['010800', 'two', 'two people'], ['010900', 'group', 'more than two people'], ['011000', 'general view', 'an overall view of the subject and its surrounds'],
  ['011100', 'panoramic view', 'a wide view'], ['011200', 'aerial view', 'from above'], ['011300', 'under-water'], ['011400', 'night scene'], ['011500', 'satellite', 'from a satellite'], ['011600', 'exterior view', 'the outside of a building or object'],
  ['011700', 'interior view', 'the inside of a building or object'], ['011800', 'close-up', 'a detail fills the picture'], ['011900', 'action', 'subject in motion'], ['012000', 'performing', 'on a stage or for an audience'],
  ['012100', 'posing', 'posed for the picture'], ['012200', 'symbolic', 'stands for something else'], ['012300', 'off-beat', 'the unusual side of a thing'], ['012400', 'movie scene', 'taken during the making of a film'],
);

const TOPICS: [string, string][] = [
  ['01000000', 'arts, culture, entertainment and media'], ['02000000', 'crime, law and justice'], ['03000000', 'disaster, accident and emergency incident'], ['04000000', 'economy, business and finance'], ['05000000', 'education'], ['06000000', 'environment'],
  ['07000000', 'health'], ['08000000', 'human interest'], ['09000000', 'labour'], ['10000000', 'lifestyle and leisure'], ['11000000', 'politics and government'], ['12000000', 'religion'], ['13000000', 'science and technology'],
  ['14000000', 'society'], ['15000000', 'sport'], ['16000000', 'conflict, war and peace'], ['17000000', 'weather'],
];

const COUNTRY_CODES: Code[] = COUNTRIES.map(({ alpha2, alpha3, name }) => ({ code: alpha3, label: name, note: alpha2 }));

const LANGUAGES: Code[] = languages.getAllCodes().map((code) => ({ code, label: languages.getName(code), note: languages.getNativeName(code) }));

export const CODE_LISTS: Partial<Record<FieldKey, CodeList>> = {
  sceneCode: { name: 'IPTC scene codes', complete: true, form: /^\d{6}$/, formWords: 'six digits', codes: SCENES },
  subjectCode: { name: 'IPTC subject codes', complete: false, offered: 'the 17 topics at the top of the list', form: /^(?:0[1-9]|1[0-7])\d{6}$/, formWords: 'eight digits, the first two from 01 to 17', codes: codes(...TOPICS) },
  language: { name: 'ISO 639 language codes', complete: false, offered: 'the languages of two letters (ISO 639-1)', form: /^[a-z]{2,3}(?:-[A-Za-z0-9]{2,8})*$/, formWords: 'two or three small letters, as in fo or en-GB', codes: LANGUAGES },
  countryCode: { name: 'ISO 3166-1 country codes', complete: true, form: /^[A-Z]{2,3}$/, formWords: 'two or three capital letters', codes: COUNTRY_CODES, labelField: 'country' },
};

const MEDIA_TOPICS = 'http://cv.iptc.org/newscodes/mediatopic/';

/**
 * Terms of published lists that a structure of terms is filled from, by its field. Of the Media Topics the seventeen at
 * the top.
 */
export const TERM_LISTS: Partial<Record<FieldKey, { name: string; vocabulary: string; codes: readonly Code[] }>> = {
  aboutTerm: { name: 'Media Topics', vocabulary: MEDIA_TOPICS, codes: codes(...TOPICS.map(([code, label]): [string, string] => [MEDIA_TOPICS + code, label])) },
};
