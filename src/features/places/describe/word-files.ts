// The vocabulary as files: indented text, a table, SKOS as Turtle and as JSON-LD. Parsing RDF is the work of libraries,
// which are fetched when they are needed; a JSON-LD file that asks for a context from elsewhere is refused, since
// nothing leaves the machine.

import { decodeTable, readTable, writeTable } from '@/core/text/delimited';
import { readIndented, writeIndented } from '@/core/vocabulary/indented';
import type { ListedWord } from '@/core/vocabulary/listed';
import { RDF_TYPE, SKOS, type Triple, readSkos, skosTriples } from '@/core/vocabulary/skos';
import { WORD_COLUMNS, readWordRows, wordRows } from '@/core/vocabulary/word-table';

interface WordFile {
  ending: string;
  label: string;
  type: string;
  write: (words: readonly ListedWord[]) => Promise<string> | string;
}

export const WORD_FILES: readonly WordFile[] = [
  { ending: 'txt', label: 'Indented text', type: 'text/plain', write: (words) => writeIndented(words) },
  {
    ending: 'csv',
    label: 'Table (CSV)',
    type: 'text/csv',
    write: (words) => `\uFEFF${writeTable([[...WORD_COLUMNS], ...wordRows(words)], ',')}`,
  },
  { ending: 'ttl', label: 'SKOS as Turtle', type: 'text/turtle', write: writeTurtle },
  { ending: 'jsonld', label: 'SKOS as JSON-LD', type: 'application/ld+json', write: writeJsonLd },
];

/** Longer than any vocabulary. */
const LIMIT_BYTES = 64_000_000;

/** Throws an `Error` that says what is wrong. */
export async function readWordFile(file: Pick<File, 'name' | 'size' | 'arrayBuffer'>): Promise<ListedWord[]> {
  if (file.size > LIMIT_BYTES) throw new Error('It is larger than any vocabulary (64 MB).');
  const text = decodeTable(new Uint8Array(await file.arrayBuffer()));
  const ending = /[^.]*$/.exec(file.name.toLowerCase())?.[0] ?? '';
  const words =
    ending === 'ttl'
      ? readSkos(await readTurtle(text))
      : ending === 'jsonld' || ending === 'json'
        ? readSkos(await readJsonLd(text))
        : ending === 'csv' || ending === 'tsv'
          ? readWordRows(readTable(text))
          : readIndented(text);
  if (words.length === 0) throw new Error('There is no word in it.');
  return words;
}

export async function writeTurtle(words: readonly ListedWord[]): Promise<string> {
  const { Writer, DataFactory } = await import('n3');
  const writer = new Writer({ prefixes: { skos: SKOS } });
  const { namedNode, literal, quad } = DataFactory;
  for (const { subject, predicate, object } of skosTriples(words))
    writer.addQuad(
      quad(
        namedNode(subject),
        namedNode(predicate),
        object.kind === 'address' ? namedNode(object.value) : literal(object.value),
      ),
    );
  return new Promise((resolve, reject) => writer.end((error, text: string) => (error ? reject(error) : resolve(text))));
}

export async function readTurtle(text: string): Promise<Triple[]> {
  const { Parser } = await import('n3');
  try {
    return new Parser({ format: 'text/turtle' }).parse(text).map(({ subject, predicate, object }) => ({
      subject: subject.value,
      predicate: predicate.value,
      object: {
        kind: object.termType === 'Literal' ? 'text' : 'address',
        value: object.value,
        language: object.termType === 'Literal' ? object.language : '',
      },
    }));
  } catch (error) {
    throw new Error(`It is no Turtle: ${error instanceof Error ? error.message : String(error)}`, { cause: error });
  }
}

export function writeJsonLd(words: readonly ListedWord[]): string {
  const nodes = new Map<string, Record<string, unknown>>();
  for (const { subject, predicate, object } of skosTriples(words)) {
    const node = nodes.get(subject) ?? { '@id': subject };
    nodes.set(subject, node);
    const name = predicate === RDF_TYPE ? '@type' : `skos:${predicate.slice(SKOS.length)}`;
    const value =
      predicate === RDF_TYPE
        ? `skos:${object.value.slice(SKOS.length)}`
        : object.kind === 'address'
          ? { '@id': object.value }
          : object.value;
    const before = node[name];
    node[name] = before === undefined ? value : [...(Array.isArray(before) ? (before as unknown[]) : [before]), value];
  }
  return `${JSON.stringify({ '@context': { skos: SKOS }, '@graph': [...nodes.values()] }, null, 1)}\n`;
}

interface RdfTerm {
  termType: string;
  value: string;
  language?: string;
}

export async function readJsonLd(text: string): Promise<Triple[]> {
  const { default: jsonld } = await import('jsonld');
  try {
    const document = JSON.parse(text) as object;
    const refuse = (address: string) =>
      Promise.reject(new Error(`it asks for ${address}, which would have to be fetched`));
    const quads = (await jsonld.toRDF(document as never, { documentLoader: refuse })) as unknown as {
      subject: RdfTerm;
      predicate: RdfTerm;
      object: RdfTerm;
    }[];
    return quads.map(({ subject, predicate, object }) => ({
      subject: subject.value,
      predicate: predicate.value,
      object: {
        kind: object.termType === 'Literal' ? 'text' : 'address',
        value: object.value,
        language: object.language ?? '',
      },
    }));
  } catch (error) {
    throw new Error(`It could not be read as JSON-LD: ${error instanceof Error ? error.message : String(error)}`, {
      cause: error,
    });
  }
}
