// A page of the photos that were sent, beside them in their folder: one HTML file, opened from a disk without a server,
// without scripts and without anything from elsewhere. Texts are escaped; what they say is the person's.

import type { FieldValues } from '../fields/registry';
import { wordsIn } from '../fields/values';
import { escapeAttribute, escapeText, xmlCharacters } from '../formats/xmp/xml-tree';

export interface PagePhoto {
  /** Where the picture lies, from the page; with `/`. */
  path: string;
  width: number | null;
  height: number | null;
  /** The words that left with it. */
  fields: FieldValues;
}

const STYLE = `body{margin:2rem auto;max-width:76rem;padding:0 1rem;background:#e9e9e7;color:#1e2427;font:1rem/1.5 "IBM Plex Sans",sans-serif}
header{border-bottom:2px solid #0e5a67;margin-bottom:2rem}
main{display:grid;grid-template-columns:repeat(auto-fill,minmax(min(22rem,100%),1fr));gap:2rem 1.5rem}
figure{margin:0}
figure a{display:block;background:#f7f7f5}
img{display:block;width:100%;height:auto}
figcaption{padding-top:.5rem}
h2{font-size:1.05rem;margin:0}
p{margin:.25rem 0}
.rights{color:#4e585d;font-size:.875rem}`;

/** Linear in the length of all texts. */
export function webPage(title: string, photos: readonly PagePhoto[]): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${text(title)}</title>
<style>
${STYLE}
</style>
</head>
<body>
<header>
<h1>${text(title)}</h1>
<p>${photos.length === 1 ? '1 photo' : `${photos.length} photos`}</p>
</header>
<main>
${photos.map(figure).join('\n')}
</main>
</body>
</html>
`;
}

function figure({ path, width, height, fields }: PagePhoto): string {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const headline = said(fields.headline) ?? said(fields.title);
  const rights = [said(fields.credit), said(fields.copyrightNotice), said(fields.usageTerms)].filter(
    (one) => one !== null,
  );
  const by = wordsIn(fields.creator).join(', ');
  const alt = said(fields.altText) ?? headline ?? said(fields.caption) ?? name;
  const size = width && height ? ` width="${width}" height="${height}"` : '';
  return `<figure>
<a href="${attribute(addressOf(path))}"><img src="${attribute(addressOf(path))}" alt="${attribute(alt)}"${size} loading="lazy"></a>
<figcaption>
<h2>${text(headline ?? name)}</h2>
${[
  said(fields.caption) && `<p>${text(said(fields.caption) ?? '').replace(/\r\n?|\n/g, '<br>')}</p>`,
  by !== '' && `<p>${text(by)}</p>`,
  rights.length > 0 && `<p class="rights">${rights.map((one) => text(one)).join(' · ')}</p>`,
]
  .filter((line) => typeof line === 'string')
  .join('\n')}
</figcaption>
</figure>`;
}

const said = (value: unknown): string | null => (typeof value === 'string' && value !== '' ? value : null);
const text = (words: string): string => escapeText(xmlCharacters(words));
const attribute = (words: string): string => escapeAttribute(xmlCharacters(words));
/** A path as an address: a `#` or `%` in a name is a letter of it. */
const addressOf = (path: string): string => path.split('/').map(encodeURIComponent).join('/');
