// The vocabulary as SKOS (Simple Knowledge Organization System Reference, W3C Recommendation 18 August 2009): a concept
// scheme, a concept a word with one prefLabel, altLabels for synonyms, a note, broader and narrower. As triples: what
// notation they are written in is the business of a library.

import { type ListedWord, listed } from './listed';

export interface Triple {
  subject: string;
  predicate: string;
  /** An address, or the text of a literal. */
  object: { kind: 'address' | 'text'; value: string; language: string };
}

export const SKOS = 'http://www.w3.org/2004/02/skos/core#';
export const RDF_TYPE = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#type';
const SCHEME = 'urn:wembo:vocabulary';
/** Deeper than any vocabulary; ends what goes round in a ring. */
const DEEPEST = 64;

const address = (value: string) => ({ kind: 'address' as const, value, language: '' });
const text = (value: string) => ({ kind: 'text' as const, value, language: '' });

export function skosTriples(words: readonly ListedWord[]): Triple[] {
  const triples: Triple[] = [{ subject: SCHEME, predicate: RDF_TYPE, object: address(`${SKOS}ConceptScheme`) }];
  let made = 0;
  const add = (one: ListedWord, above: string | null) => {
    const subject = `${SCHEME}:${(made += 1)}`;
    const say = (predicate: string, object: Triple['object']) =>
      triples.push({ subject, predicate: predicate === RDF_TYPE ? predicate : SKOS + predicate, object });
    say(RDF_TYPE, address(`${SKOS}Concept`));
    say('inScheme', address(SCHEME));
    say('prefLabel', text(one.word));
    for (const synonym of one.synonyms) say('altLabel', text(synonym));
    if (one.note !== '') say('note', text(one.note));
    if (above === null) {
      say('topConceptOf', address(SCHEME));
      triples.push({ subject: SCHEME, predicate: `${SKOS}hasTopConcept`, object: address(subject) });
    } else {
      say('broader', address(above));
      triples.push({ subject: above, predicate: `${SKOS}narrower`, object: address(subject) });
    }
    for (const child of one.below) add(child, subject);
  };
  for (const one of words) add(one, null);
  return triples;
}

const NOTES = ['note', 'scopeNote', 'definition', 'editorialNote', 'example'].map((name) => SKOS + name);

/**
 * The words of a graph. Of several preferred labels the one in `language`, in no language, or the first; of several
 * broader concepts the first. What has no preferred label is left out and its narrower concepts stand where it would.
 */
export function readSkos(triples: readonly Triple[], language = 'en'): ListedWord[] {
  const of = new Map<string, Triple[]>();
  for (const triple of triples) of.set(triple.subject, [...(of.get(triple.subject) ?? []), triple]);
  const objects = (subject: string, ...predicates: string[]) =>
    (of.get(subject) ?? []).filter(({ predicate }) => predicates.includes(predicate)).map(({ object }) => object);
  const concepts = [...of.keys()].filter((subject) => objects(subject, `${SKOS}prefLabel`).length > 0);
  const known = new Set(concepts);
  const above = new Map<string, string>();
  for (const [subject, own] of of) {
    for (const { predicate, object } of own) {
      const [child, parent] =
        predicate === `${SKOS}broader`
          ? [subject, object.value]
          : predicate === `${SKOS}narrower`
            ? [object.value, subject]
            : ['', ''];
      if (child !== '' && known.has(child) && known.has(parent) && !above.has(child) && child !== parent)
        above.set(child, parent);
    }
  }
  const isTop = (concept: string): boolean => {
    let at: string | undefined = concept;
    for (let step = 0; step < DEEPEST; step++) if ((at = above.get(at ?? '')) === undefined) return step === 0;
    return above.delete(concept); // in a ring, or below one: it stands at the top
  };
  const tops = concepts.filter(isTop);
  const children = new Map<string, string[]>();
  for (const concept of concepts) {
    const parent = above.get(concept);
    if (parent !== undefined) children.set(parent, [...(children.get(parent) ?? []), concept]);
  }
  const preferred = (labels: readonly Triple['object'][]) =>
    (
      labels.find((label) => label.language === language) ??
      labels.find((label) => label.language === '') ??
      labels[0]
    )?.value.trim() ?? '';
  const read = (concept: string, depth: number): ListedWord => ({
    ...listed(preferred(objects(concept, `${SKOS}prefLabel`))),
    synonyms: [...new Set(objects(concept, `${SKOS}altLabel`, `${SKOS}hiddenLabel`).map(({ value }) => value.trim()))],
    note: objects(concept, ...NOTES)
      .map(({ value }) => value.trim())
      .join('\n'),
    below: depth < DEEPEST ? (children.get(concept) ?? []).map((child) => read(child, depth + 1)) : [],
  });
  return tops.map((concept) => read(concept, 0));
}
