import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { FIELDS_PAGE, fieldsPage } from '../../tools/fields-table';
import { TERMS_PAGE, termsPage } from '../../tools/terms-table';

it('the page of all fields is that of the registry', () => {
  expect(readFileSync(FIELDS_PAGE, 'utf8')).toBe(fieldsPage());
});

it('the table of terms is that of the scope', () => {
  const page = readFileSync(TERMS_PAGE, 'utf8');
  expect(page).toBe(termsPage(page));
});
