// The XML reader against a general one (saxes): the same documents are taken, the same refused, and the same is read.

import fc from 'fast-check';
import { SaxesParser } from 'saxes';
import { describe, expect, it } from 'vitest';
import { parseXml } from './xml-reader';
import { type XmlElement, writeXml } from './xml-tree';

/** What saxes reads, as a nested value; `null` where it refuses. Document types are refused by us alone. */
function bySaxes(text: string): unknown {
  const parser = new SaxesParser({ xmlns: true });
  const root: unknown[] = [];
  const stack: unknown[][] = [root];
  let failed = false;
  parser.on('error', () => (failed = true));
  parser.on('doctype', () => (failed = true));
  parser.on('opentag', (tag) => {
    const node = [
      tag.uri,
      tag.local,
      Object.values(tag.attributes)
        .map(({ uri, local, value }) => [uri, local, value])
        .sort(),
      [],
    ];
    stack.at(-1)?.push(node);
    stack.push(node[3] as unknown[]);
  });
  parser.on('closetag', () => stack.pop());
  const addText = (words: string) => stack.length > 1 && stack.at(-1)?.push(words);
  parser.on('text', addText);
  parser.on('cdata', addText);
  try {
    parser.write(text).close();
  } catch {
    return null;
  }
  return failed ? null : joined(root);
}

/** Text that stands together counts as one. */
function joined(nodes: unknown[]): unknown[] {
  const merged: unknown[] = [];
  for (const node of nodes) {
    const last = merged.at(-1);
    if (typeof node === 'string' && typeof last === 'string') merged[merged.length - 1] = last + node;
    else if (typeof node === 'string') {
      if (node !== '') merged.push(node);
    } else if (Array.isArray(node)) merged.push([node[0], node[1], node[2], joined(node[3] as unknown[])]);
  }
  return merged;
}

function ours(text: string): unknown {
  const document = parseXml(text);
  if (document.state !== 'read') return null;
  const valueOf = (element: XmlElement): unknown => [
    element.uri,
    element.local,
    element.attributes.map(({ uri, local, value }) => [uri, local, value]).sort(),
    element.children.map((child) => (child.kind === 'between' ? child.text : valueOf(child))),
  ];
  return joined([valueOf(document.value.root)]);
}

const name = fc.constantFrom('a', 'b', 'rdf:li', 'x:é', 'ð');
const text = fc.oneof(
  fc.constantFrom(
    'words',
    ' ',
    '\r\n',
    '&amp;',
    '&#x41;',
    '&#233;',
    '<![CDATA[<7>]]>',
    '<!-- note -->',
    '<?pi here?>',
    'ð 北 🐑',
    ']]',
    '"',
    "'",
  ),
  fc.string({ maxLength: 4, unit: 'grapheme' }),
);
const attribute = fc
  .tuple(
    fc.constantFrom('q', 'x:r', 'xml:lang', 'xmlns:n', 's'),
    fc.constantFrom('"v"', "'v &lt; w'", '"a\tb\nc"', '"ø"', "''", '"<"'),
    fc.constantFrom(' ', '\n  '),
  )
  .map(([key, value, space]) => `${space}${key}=${value}`);
const element: fc.Memo<string> = fc.memo((depth) =>
  fc
    .tuple(
      name,
      fc.array(attribute, { maxLength: 2 }),
      depth > 1 ? fc.array(fc.oneof(text, element(depth - 1)), { maxLength: 4 }) : fc.array(text, { maxLength: 2 }),
    )
    .map(([tag, attributes, inside]) =>
      inside.length === 0
        ? `<${tag}${attributes.join('')}/>`
        : `<${tag}${attributes.join('')}>${inside.join('')}</${tag} >`,
    ),
);
const documents = element(4).map(
  (inside) => `<?xml version="1.0"?>\n<r xmlns:rdf="urn:rdf" xmlns:x="urn:x">${inside}</r>\n<!-- end -->`,
);

describe('the XML reader', () => {
  it('takes what a general reader takes, reads the same in it, and gives every character back', () => {
    let taken = 0;
    fc.assert(
      fc.property(documents, (source) => {
        const theirs = bySaxes(source);
        expect(ours(source)).toEqual(theirs);
        const document = parseXml(source);
        if (document.state !== 'read') return;
        taken += 1;
        expect(writeXml(document.value)).toBe(source);
      }),
      { numRuns: 2000 },
    );
    expect(taken).toBeGreaterThan(500);
  });

  it('refuses what a general reader refuses, wherever one character is bent', () => {
    const whole =
      '<?xml version="1.0"?><r xmlns:x="urn:x" a="1"><x:b c=\'2\'>t &amp; u<!-- n --><![CDATA[<]]></x:b><d/></r>';
    const differing: string[] = [];
    for (let at = 22; at < whole.length; at++) {
      for (const put of ['', '<', '>', '&', '"', ' ', 'x', ':']) {
        const bent = whole.slice(0, at) + put + whole.slice(at + 1);
        if (JSON.stringify(ours(bent)) !== JSON.stringify(bySaxes(bent))) differing.push(bent);
      }
    }
    // saxes takes blanks off the ends of a namespace name; the recommendation compares names as they stand
    expect(differing.filter((bent) => !/xmlns:x="(?: |[^"]* ")/.test(bent))).toEqual([]);
  });

  it('is bounded: a billion laughs, a nest of thousands and a text of many megabytes end in a problem', () => {
    expect(parseXml('<!DOCTYPE r [<!ENTITY a "aaaa">]><r>&a;</r>')).toMatchObject({
      state: 'unreadable',
      problems: [{ code: 'xmp/doctype' }],
    });
    expect(parseXml('<a>'.repeat(5000))).toMatchObject({ state: 'unreadable' });
    expect(parseXml(`<a>${'x'.repeat(17 * 1024 * 1024)}</a>`)).toMatchObject({
      state: 'unreadable',
      problems: [{ code: 'xmp/too-large' }],
    });
  });
});
