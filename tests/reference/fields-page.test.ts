import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { FIELDS_PAGE, fieldsPage } from '../../tools/fields-table';

it('the page of all fields is that of the registry', () => {
  expect(readFileSync(FIELDS_PAGE, 'utf8')).toBe(fieldsPage());
});
