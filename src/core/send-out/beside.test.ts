// What goes along beside the pictures: a page and a table.

import { describe, expect, it } from 'vitest';
import { readTable } from '../text/delimited';
import { captionsTable } from './captions-table';
import { webPage } from './web-page';

const EVIL = '"><script>alert(1)</script> & =1+1';

describe('the page', () => {
  it('escapes whatever is said, and asks for nothing from elsewhere', () => {
    const page = webPage(EVIL, [
      {
        path: 'a#1 ð.jpg',
        width: 3,
        height: 2,
        fields: { headline: EVIL, caption: `${EVIL}\nsecond line`, altText: EVIL },
      },
    ]);
    expect(page).not.toContain('<script');
    expect(page).toContain('&lt;script&gt;');
    expect(page).toContain('href="a%231%20%C3%B0.jpg"');
    expect(page).toContain('<br>second line');
    expect(page.match(/https?:|@import|url\(/g)).toBeNull();
  });

  it('a photo of which nothing is said has its name as title and as text for those who do not see it', () => {
    const page = webPage('Press', [{ path: 'x.jpg', width: null, height: null, fields: {} }]);
    expect(page).toContain('alt="x.jpg"');
    expect(page).toContain('<h2>x.jpg</h2>');
    expect(page).toContain('1 photo<');
  });
});

describe('the table of captions', () => {
  it('has the fields that are there, guarded against formulas', () => {
    const text = captionsTable([
      { name: 'a.jpg', fields: { caption: '=HYPERLINK("x")', keywords: ['boat', 'slip; old'] } },
      { name: '-b.jpg', fields: { creator: ['Mia Holt'] } },
    ]);
    const [head, first, second] = readTable(text.replace('\uFEFF', ''), ',');
    expect(head).toEqual(['File', 'Caption', 'Keywords', 'Creator']);
    expect(first).toEqual(['a.jpg', `'=HYPERLINK("x")`, 'boat; slip; old', '']);
    expect(second).toEqual([`'-b.jpg`, '', '', 'Mia Holt']);
  });
});
