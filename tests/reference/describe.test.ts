// Describing against outside authorities: SKOS by RDF libraries that are not ours, tables by a CSV library and a
// spreadsheet library, country codes against another list of ISO 3166-1, spelling against the dictionary file itself.
// The scene codes and the topics are from memory; ExifTool and exiv2 ship no list of them, so only their form is
// checked here.

import { parse as parseCsv } from 'csv-parse/sync';
import britishDictionary from 'dictionary-en-gb';
import fc from 'fast-check';
import iso from 'iso-3166-1';
import nspell from 'nspell';
import * as rdf from 'rdflib';
import { describe, expect, it } from 'vitest';
import xlsx from 'xlsx';
import { CODE_LISTS, TERM_LISTS } from '@/core/fields/code-lists';
import { lookUpCodes, wrongCodes } from '@/core/fields/check-codes';
import { decodeTable, readTable, writeTable } from '@/core/text/delimited';
import { photoRows, readPhotoRows } from '@/core/describe/photo-table';
import { readIndented } from '@/core/vocabulary/indented';
import { SKOS, readSkos } from '@/core/vocabulary/skos';
import { demoVocabulary } from '@/demo/archive/words';
import { listedOf } from '@/core/vocabulary/listed';
import { vocabularyOf } from '@/core/vocabulary/vocabulary';
import { readJsonLd, readTurtle, readWordFile, writeJsonLd, writeTurtle } from '@/features/places/describe/word-files';

const WORDS = listedOf(vocabularyOf(demoVocabulary(1)));
const hard = readIndented('Bátar {say "boat"; back\\slash} # two words, "quoted" [?]\n\tferð\n\t\tðe o\u0301\nمرفأ\n');

function parseWithRdflib(text: string, type: string): Promise<rdf.IndexedFormula> {
  const graph = rdf.graph();
  return new Promise((resolve, reject) =>
    rdf.parse(text, graph, 'http://example.org/', type, (error) => (error ? reject(error) : resolve(graph))),
  );
}

describe('SKOS, by rdflib', () => {
  it.each([
    ['Turtle', 'text/turtle'],
    ['JSON-LD', 'application/ld+json'],
  ])('%s: every word is a concept with its label, synonyms, note and place', async (_, type) => {
    const graph = await parseWithRdflib(
      type === 'text/turtle' ? await writeTurtle([...WORDS, ...hard]) : writeJsonLd([...WORDS, ...hard]),
      type,
    );
    const skos = rdf.Namespace(SKOS);
    let compared = 0;
    const walk = (words: typeof WORDS, above: rdf.NamedNode | null) => {
      for (const { word, synonyms, note, below } of words) {
        const own = graph
          .each(undefined, skos('prefLabel'), rdf.literal(word))
          .filter((node) => above === null || graph.holds(node as rdf.NamedNode, skos('broader'), above));
        expect(own, word).toHaveLength(1);
        const node = own[0] as rdf.NamedNode;
        expect(
          graph.holds(node, rdf.Namespace('http://www.w3.org/1999/02/22-rdf-syntax-ns#')('type'), skos('Concept')),
        ).toBe(true);
        expect(
          graph
            .each(node, skos('altLabel'))
            .map(({ value }) => value)
            .sort(),
        ).toEqual([...synonyms].sort());
        expect(graph.each(node, skos('note')).map(({ value }) => value)).toEqual(note === '' ? [] : [note]);
        expect(graph.each(node, skos('narrower')).length).toBe(below.length);
        compared += 1;
        walk(below, node);
      }
    };
    walk([...WORDS, ...hard], null);
    expect(compared).toBeGreaterThan(60);
  });

  it('what rdflib writes, we read: the same words in the same places', async () => {
    const graph = await parseWithRdflib(await writeTurtle(WORDS), 'text/turtle');
    const text = rdf.serialize(null, graph, 'http://example.org/', 'text/turtle') ?? '';
    const plain = (words: typeof WORDS): unknown[] =>
      words
        .map(({ word, synonyms, note, below }) => [word, [...synonyms].sort(), note, plain(below)])
        .sort((a, b) => (String(a) < String(b) ? -1 : 1));
    expect(plain(readSkos(await readTurtle(text)))).toEqual(plain(WORDS));
    expect(plain(readSkos(await readJsonLd(writeJsonLd(WORDS))))).toEqual(plain(WORDS));
  });

  it('a sign beyond the first plane comes back by n3; rdflib 2.4 drops what is escaped as \\U, also in Turtle written by hand', async () => {
    expect(readSkos(await readTurtle(await writeTurtle(readIndented('boat 🚤 {⛵}\n'))))).toEqual(
      readIndented('boat 🚤 {⛵}\n'),
    );
  });

  it('a file that asks for something from outside, or is none, is refused with a reason', async () => {
    const file = (name: string, text: string) => ({
      name,
      size: text.length,
      arrayBuffer: () => Promise.resolve(new TextEncoder().encode(text).buffer as ArrayBuffer),
    });
    await expect(
      readWordFile(file('x.jsonld', '{"@context":"https://example.org/context","@id":"a"}')),
    ).rejects.toThrow(/https:\/\/example.org\/context/);
    await expect(readWordFile(file('x.ttl', '<a> <b'))).rejects.toThrow('It is no Turtle');
    await expect(readWordFile(file('x.csv', 'word,synonyms\n'))).rejects.toThrow('There is no word in it.');
  });
});

const cell = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 12 }),
  fc.constantFrom('a,b', 'x;y', 'say "so"', 'two\nlines', '007', 'ðø', ' lead', '='),
);

describe('tables', () => {
  it('are read by csv-parse as they were written, whatever stands in a cell', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }),
        fc.constantFrom(',' as const, ';' as const, '\t' as const),
        (rows, separator) => {
          const text = writeTable(rows, separator);
          const read: string[][] = parseCsv(text, {
            delimiter: separator,
            relax_column_count: true,
            record_delimiter: ['\r\n'],
            skip_empty_lines: false,
          });
          expect(read).toEqual(rows.map((cells) => cells.map((one) => one.replace(/\r\n?/g, '\n'))));
        },
      ),
    );
  });

  it('through a spreadsheet library and back, every cell opened and saved, no photo is changed', () => {
    const photos = [
      {
        id: 'a1',
        path: 'x/1.jpg',
        fields: {
          headline: 'Við bátin, “út”',
          caption: 'Two\nlines; and "quotes"',
          keywords: ['boat', 'Dam, Sólja', 'a;b'],
          sceneCode: ['011200'],
          rating: 4,
          title: '0012',
          copyrightStatus: true,
        },
      },
      { id: 'a2', path: 'x/2.jpg', fields: { headline: '=HYPERLINK("x")', title: '1e5', caption: '-5 degrees' } },
    ];
    const text = `\uFEFF${writeTable(photoRows(photos, ['headline', 'caption', 'keywords', 'sceneCode', 'rating', 'title', 'copyrightStatus']), ',')}`;
    const book = xlsx.read(new TextEncoder().encode(text), { type: 'array', raw: true, codepage: 65001 });
    const sheet = book.Sheets[book.SheetNames[0] ?? ''];
    if (!sheet) throw new Error('a sheet');
    for (const [at, one] of Object.entries(sheet))
      if (!at.startsWith('!')) expect((one as { f?: string }).f, at).toBeUndefined(); // no cell is a formula
    const saved = new TextEncoder().encode(xlsx.utils.sheet_to_csv(sheet, { FS: ';' }));
    const reading = readPhotoRows(
      readTable(decodeTable(saved)),
      new Map(photos.map((photo) => [photo.id, photo])),
      false,
    );
    expect(reading).toEqual({ edits: [], rows: 2, unknownColumns: [], problems: [] });
  });
});

describe('codes', () => {
  it('of countries are those of another list of ISO 3166-1', () => {
    const ours = (CODE_LISTS.countryCode?.codes ?? []).filter(({ code }) => code !== 'XKK'); // Kosovo: a code of the range for private use, as the package has it
    const theirs = iso.all();
    expect(ours.map(({ code, note }) => `${code} ${note}`).sort()).toEqual(
      theirs.map(({ alpha3, alpha2 }) => `${alpha3} ${alpha2}`).sort(),
    );
    expect(ours.length).toBe(249); // ISO 3166-1 as of 2024
  });

  it('have the form of their list, each once; the lists are found by word and by code', () => {
    for (const list of Object.values(CODE_LISTS)) {
      for (const { code } of list.codes) expect(code).toMatch(list.form);
      expect(new Set(list.codes.map(({ code }) => code)).size).toBe(list.codes.length);
    }
    expect(TERM_LISTS.aboutTerm?.codes).toHaveLength(17);
    expect(lookUpCodes(CODE_LISTS.language?.codes ?? [], 'føroyskt', 9).map(({ code }) => code)).toEqual(['fo']);
    // the same codes name the same languages in the platform's own list (CLDR, which Node.js ships)
    const names = new Intl.DisplayNames('en', { type: 'language', fallback: 'none' });
    const unknown = (CODE_LISTS.language?.codes ?? [])
      .filter(({ code }) => names.of(code) === undefined)
      .map(({ code }) => code);
    expect(unknown).toEqual([]);
    expect(lookUpCodes(CODE_LISTS.countryCode?.codes ?? [], 'faroe', 9).map(({ code }) => code)).toEqual(['FRO']);
    expect(lookUpCodes(CODE_LISTS.sceneCode?.codes ?? [], 'view inside', 9).map(({ code }) => code)).toEqual([
      '011700',
    ]);
    expect(
      wrongCodes({
        countryCode: 'FRQ',
        sceneCode: ['011200', '12'],
        subjectCode: ['01999999', '99000000'],
        modelReleaseStatus: 'x',
      }),
    ).toEqual(
      [
        { key: 'countryCode', code: 'FRQ', problem: 'unknown' },
        { key: 'modelReleaseStatus', code: 'x', problem: 'unknown' },
        { key: 'sceneCode', code: '12', problem: 'form' },
        { key: 'subjectCode', code: '99000000', problem: 'form' },
      ].sort(
        (a, b) =>
          ['countryCode', 'modelReleaseStatus', 'sceneCode', 'subjectCode'].indexOf(a.key) -
          ['countryCode', 'modelReleaseStatus', 'sceneCode', 'subjectCode'].indexOf(b.key),
      ),
    );
  });
});

describe('spelling', () => {
  it('knows every plain entry of the dictionary’s own word list, and none of them with two letters exchanged into nonsense', () => {
    const checker = nspell(
      Buffer.from(britishDictionary.aff).toString('utf8'),
      Buffer.from(britishDictionary.dic).toString('utf8'),
    );
    const entries = Buffer.from(britishDictionary.dic)
      .toString('utf8')
      .split('\n')
      .slice(1)
      .map((line) => line.split(/[/\t]/)[0] ?? '')
      .filter((word) => /^[a-z]{6,}$/.test(word));
    const sample = entries.filter((_, index) => index % 97 === 0);
    expect(sample.length).toBeGreaterThan(200);
    expect(sample.filter((word) => !checker.correct(word))).toEqual([]);
    expect(['lighthuose', 'harbuor', 'qqqqqq'].filter((word) => checker.correct(word))).toEqual([]);
    expect(checker.suggest('lighthuose')).toContain('lighthouse');
  });
});
