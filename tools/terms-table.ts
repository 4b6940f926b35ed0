// The table of terms in docs/FINDING.md, made from the rows of the scope: `npm run terms-page` writes it, a test holds
// it against them.

import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { TERMS } from '../src/core/query/terms';

export const TERMS_PAGE = 'docs/FINDING.md';
const BEGIN = '<!-- terms: made by npm run terms-page -->';
const END = '<!-- end of terms -->';

/** The page with the table as the terms are now. */
export function termsPage(page: string): string {
  const rows = TERMS.map(
    ({ key, label, kind, choices, example, help }) =>
      `| \`${key}\` | ${label} | ${choices ? choices.join(', ') : kind} | \`${example}\` | ${help.replaceAll('|', '\\|')} |`,
  );
  const table = ['| term | asks for | values | example | |', '|---|---|---|---|---|', ...rows].join('\n');
  return page.slice(0, page.indexOf(BEGIN) + BEGIN.length) + `\n\n${table}\n\n` + page.slice(page.indexOf(END));
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  writeFileSync(TERMS_PAGE, termsPage(readFileSync(TERMS_PAGE, 'utf8')));
