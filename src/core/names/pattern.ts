// A pattern: the parts of which the name of a file or a folder is put together, one after the other.

import type { Captured } from '../time/captured';
import { legalName } from './legal';
import { MONTHS } from '../time/date-words';

/** Over which photos a sequence counts before it begins anew. */
export type SequenceOver = 'accession' | 'folder' | 'day';

/** What the person types once for a whole accession. */
export type BlankName = 'kind' | 'client' | 'subject';

export type PatternPart =
  | { kind: 'text'; text: string }
  /**
   * `YYYY`, `YY`, `MM`, `DD`, `hh`, `mm`, `ss` and `Month` in `form` stand for the date taken; everything else for
   * itself.
   */
  | { kind: 'date'; form: string }
  | { kind: 'sequence'; start: number; digits: number; over: SequenceOver }
  /** The number the camera gave: the last digits of the old name. */
  | { kind: 'camera-number' }
  | { kind: 'old-name' }
  | { kind: 'camera' }
  | { kind: 'accession' }
  /** The photo's own permanent number. */
  | { kind: 'photo-number' }
  | { kind: 'blank'; of: BlankName }
  /** The name of the card or folder it came from. */
  | { kind: 'source' }
  /** `originals` or `processed`. */
  | { kind: 'role' }
  /** Begins a folder inside the folder so far. In folder patterns only. */
  | { kind: 'level' };

export type Pattern = readonly PatternPart[];

/** What is known of a group of files when it gets its name. */
export interface NameFacts {
  captured: Captured | null;
  oldBase: string;
  camera: string;
  accession: string;
  photoNumber: string;
  blanks: Readonly<Record<BlankName, string>>;
  source: string;
  role: 'originals' | 'processed';
}

const DATE_WORDS = /YYYY|YY|MM|DD|hh|mm|ss|Month/g;

/** Parts of a date that is only known in part are zeros; without any date the whole part is `undated`. */
function dateText(form: string, captured: Captured | null): string {
  if (!captured) return 'undated';
  const { written } = captured;
  const at = (from: number, length: number) => written.slice(from, from + length).padEnd(length, '0');
  const values: Record<string, string> = {
    YYYY: at(0, 4),
    YY: at(2, 2),
    MM: at(5, 2),
    DD: at(8, 2),
    hh: at(11, 2),
    mm: at(14, 2),
    ss: at(17, 2),
    Month: MONTHS[Number(at(5, 2)) - 1] ?? 'undated',
  };
  return form.replace(DATE_WORDS, (word) => values[word] ?? word);
}

export const sequenceIn = (pattern: Pattern): (PatternPart & { kind: 'sequence' }) | null =>
  pattern.find((part) => part.kind === 'sequence') ?? null;

function partText(part: PatternPart, facts: NameFacts, sequence: number): string {
  switch (part.kind) {
    case 'text':
      return part.text;
    case 'date':
      return dateText(part.form, facts.captured);
    case 'sequence':
      return String(sequence).padStart(part.digits, '0');
    case 'camera-number':
      return /\d+$/.exec(facts.oldBase)?.[0] ?? '';
    case 'old-name':
      return facts.oldBase;
    case 'camera':
      return facts.camera;
    case 'accession':
      return facts.accession;
    case 'photo-number':
      return facts.photoNumber;
    case 'blank':
      return facts.blanks[part.of].trim();
    case 'source':
      return facts.source;
    case 'role':
      return facts.role;
    case 'level':
      return '';
  }
}

/** What only stands between parts. */
const SEPARATOR = /^[\s._,-]+$/;

/** The texts of the parts; a separator goes where what it parts from the next is empty, so that no two of them meet. */
function textsOf(pattern: Pattern, facts: NameFacts, sequence: number): string[] {
  const texts: string[] = [];
  let empty = false;
  for (const part of pattern) {
    const text = partText(part, facts, sequence);
    if (part.kind !== 'text') {
      empty = text === '';
      texts.push(text);
    } else if (!(empty && SEPARATOR.test(text))) {
      empty = false;
      texts.push(text);
    }
  }
  return texts;
}

/** The name a pattern gives, without an ending, legal on every system; empty where no part gives anything. */
export const fillName = (pattern: Pattern, facts: NameFacts, sequence: number): string =>
  legalName(textsOf(pattern, facts, sequence).join(''));

/** The folder a pattern gives, from the drive's root; levels of which nothing is left are left out. */
export function fillFolder(pattern: Pattern, facts: NameFacts): string {
  const levels: PatternPart[][] = [[]];
  for (const part of pattern) {
    if (part.kind === 'level') levels.push([]);
    else levels.at(-1)?.push(part);
  }
  return levels
    .map((level) => fillName(level, facts, 0))
    .filter((level) => level !== '')
    .join('/');
}
