import { expect, it } from 'vitest';
import { fromTyped, valueRemarksOf } from './values';
import { noticeLacks, withSign } from './notice';

// the form asked for by the Universal Copyright Convention, article III 1, and 17 U.S.C. § 401 (b)
it.each([
  ['© 2026 Faroe Harbours Survey', []],
  ['Copyright 2004–2026 Mia Holt', []],
  ['Copr. 1998, 2001 Jógvan á Lakjuni. All rights reserved', []],
  ['© Mia Holt', ['year']],
  ['© 2026', ['name']],
  ['Copyright', ['year', 'name']],
  ['All rights reserved', ['year', 'name']],
  ['Public domain', []],
  ['', []],
])('“%s” is short of %j', (text, lacks) => expect(noticeLacks(text)).toEqual(lacks));

it('(c) becomes the sign where a notice is typed, and nowhere else', () => {
  expect(withSign('(C) 2026 (c)')).toBe('© 2026 ©');
  expect(fromTyped('copyrightNotice', ' (c) 2026 Mia Holt ')).toBe('© 2026 Mia Holt');
  expect(fromTyped('caption', 'frame (c) of the row')).toBe('frame (c) of the row');
});

it('a notice and a web address are remarked on as they are typed', () => {
  expect(valueRemarksOf('copyrightNotice', '(c) Mia Holt')).toEqual(['notice-year']);
  expect(valueRemarksOf('copyrightNotice', '© 2026 Mia Holt')).toEqual([]);
  // RFC 3986, section 3: a scheme and, for the web, an authority
  for (const address of ['https://harbours.example/rights', 'http://example.org', ''])
    expect(valueRemarksOf('rightsUrl', address)).toEqual([]);
  for (const address of [
    'harbours.example',
    'https:/harbours',
    'see our page',
    'https://not a host/',
    'mailto:a@b.example',
  ])
    expect(valueRemarksOf('rightsUrl', address)).toEqual(['address']);
});
