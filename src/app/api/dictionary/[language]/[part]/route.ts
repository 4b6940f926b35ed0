// The English dictionaries for the spell checker, as their packages have them. Made once, when the application is
// built.

import american from 'dictionary-en';
import british from 'dictionary-en-gb';

export const dynamic = 'force-static';

const DICTIONARIES = { american, british };
const PARTS = ['aff', 'dic'] as const;

export const generateStaticParams = () =>
  Object.keys(DICTIONARIES).flatMap((language) => PARTS.map((part) => ({ language, part })));

export async function GET(
  _: Request,
  { params }: { params: Promise<{ language: string; part: string }> },
): Promise<Response> {
  const { language, part } = await params;
  const dictionary = Object.hasOwn(DICTIONARIES, language) ? DICTIONARIES[language as keyof typeof DICTIONARIES] : null;
  const asked = PARTS.find((one) => one === part);
  if (!dictionary || !asked) return new Response(null, { status: 404 });
  return new Response(new Uint8Array(dictionary[asked]), { headers: { 'content-type': 'text/plain; charset=utf-8' } });
}
