// The languages of which a dictionary ships, in the order in which they are offered.

export const DICTIONARIES = {
  british: 'English, British',
  american: 'English, American',
  danish: 'Danish',
  faroese: 'Faroese',
  german: 'German',
  icelandic: 'Icelandic',
  norwegian: 'Norwegian',
  swedish: 'Swedish',
} as const;
export type DictionaryLanguage = keyof typeof DICTIONARIES;
export const DICTIONARY_LANGUAGES = Object.keys(DICTIONARIES) as DictionaryLanguage[];
