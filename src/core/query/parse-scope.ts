// From the text of the scope line to the query. The grammar is in docs/FINDING.md; in short:
//
//   conditions stand side by side and all must hold; `OR` joins two neighbours; `-` or `NOT` before one turns it round;
//   parentheses make one condition of several.
//
// What is not understood narrows nothing and is said, with its place and, where one can be made, a proposal.

import { nearestWord } from '../text/edit-distance';
import { type Piece, pieces } from './lex';
import {
  type ScopeProblem,
  type ScopeProblemCode,
  type ScopeItem,
  type Query,
  type Scope,
  SORTS,
  type Sort,
  type Term,
} from './query';
import { TERMS, termRow } from './terms';

/** Groups within groups; more than a person can read. */
const DEPTH_LIMIT = 30;

type TermPiece = Piece & { kind: 'term' };

export function parseScope(text: string): Scope {
  const reader = new Reader(pieces(text), text);
  const items = reader.items(0);
  return { items, sort: reader.sort, problems: reader.problems };
}

class Reader {
  sort: Sort = { by: 'taken', reversed: false };
  readonly problems: ScopeProblem[] = [];
  private at = 0;

  constructor(
    private readonly all: readonly Piece[],
    private readonly text: string,
  ) {}

  /** Conditions side by side, to the end or to the parenthesis that closes them. */
  items(depth: number): ScopeItem[] {
    const items: ScopeItem[] = [];
    for (let piece = this.peek(); piece; piece = this.peek()) {
      if (piece.kind === 'close') {
        if (depth > 0) return items;
        this.problem('stray-close', piece, '');
        this.at += 1;
        continue;
      }
      const item = this.either(depth);
      if (item) items.push(item);
    }
    return items;
  }

  /** `a OR b OR c`; one that is not understood is left out of it. */
  private either(depth: number): ScopeItem | null {
    const start = this.peek()?.start ?? 0;
    const of: Query[] = [];
    const take = () => {
      const query = this.unit(depth);
      if (query) of.push(query);
    };
    if (this.peek()?.kind === 'or') this.problem('nothing-before', this.peek() as Piece, '');
    else take();
    for (let or = this.peek(); or?.kind === 'or'; or = this.peek()) {
      this.at += 1;
      const next = this.peek();
      if (!next || next.kind === 'or' || next.kind === 'close') this.problem('nothing-after', or, '');
      else take();
    }
    const [only] = of;
    return only
      ? { query: of.length === 1 ? only : { kind: 'any', of }, start, end: this.all[this.at - 1]?.end ?? start }
      : null;
  }

  private unit(depth: number): Query | null {
    const piece = this.peek();
    if (!piece) return null;
    if (piece.kind === 'not') {
      this.at += 1;
      const next = this.peek();
      if (!next || next.kind === 'or' || next.kind === 'close') {
        this.problem('nothing-after', piece, '');
        return null;
      }
      const of = this.unit(depth);
      return of && { kind: 'not', of };
    }
    if (piece.kind === 'open') return this.group(piece, depth);
    if (piece.kind !== 'term') {
      this.at += 1;
      this.problem('nothing-before', piece, '');
      return null;
    }
    this.at += 1;
    return this.term(piece);
  }

  private group(open: Piece, depth: number): Query | null {
    this.at += 1;
    if (depth >= DEPTH_LIMIT) {
      this.skipGroup();
      this.problem('too-deep', { ...open, end: this.all[this.at - 1]?.end ?? open.end }, null);
      return null;
    }
    const of = this.items(depth + 1).map(({ query }) => query);
    const close = this.peek();
    if (close) this.at += 1;
    else
      this.problems.push({
        code: 'group-open',
        start: open.start,
        end: this.text.length,
        text: this.text.slice(open.start),
        repair: `${this.text.slice(open.start).trimEnd()})`,
      });
    if (of.length === 0 && close) this.problem('group-empty', { start: open.start, end: close.end }, '');
    const [only] = of;
    return of.length > 1 ? { kind: 'all', of } : (only ?? null);
  }

  private skipGroup(): void {
    for (let depth = 1; depth > 0 && this.peek(); this.at++)
      depth += this.peek()?.kind === 'open' ? 1 : this.peek()?.kind === 'close' ? -1 : 0;
  }

  private term(piece: TermPiece): Term | null {
    const { key, operator, value, quoted } = piece;
    if (key === 'sort') return this.order(piece);
    if (key === null)
      return value.trim() === ''
        ? null
        : {
            kind: 'term',
            key,
            operator,
            value,
            quoted,
            test: { kind: 'text', place: 'any', text: value, phrase: quoted },
          };
    const row = termRow(key);
    if (!row) {
      const near = nearestWord(
        key,
        TERMS.map((one) => one.key),
      );
      const written = this.text.slice(piece.start, piece.end);
      this.problem(
        'unknown-field',
        piece,
        near === null
          ? written.includes('"')
            ? value
            : `"${written}"`
          : near + this.text.slice(piece.start + key.length, piece.end),
      );
      return null;
    }
    const test = value === '' ? null : row.read(value, operator);
    if (test) return { kind: 'term', key: row.key, operator, value, quoted, test };
    const otherwise = value !== '' && row.read(value, ':') !== null;
    const repair = otherwise ? value : value === '' ? null : repairOf(row.key, value);
    this.problem(otherwise ? 'no-operator' : 'bad-value', piece, repair === null ? null : `${row.key}:${repair}`);
    return null;
  }

  private order(piece: TermPiece): null {
    const found = /^(-?)(.+)$/.exec(piece.value);
    const by = SORTS.find((name) => name === found?.[2]?.toLowerCase());
    if (by) this.sort = { by, reversed: found?.[1] === '-' };
    else {
      const near = nearestWord(piece.value, SORTS);
      this.problem('bad-value', piece, near === null ? null : `sort:${near}`);
    }
    return null;
  }

  private peek(): Piece | undefined {
    return this.all[this.at];
  }

  private problem(code: ScopeProblemCode, { start, end }: { start: number; end: number }, repair: string | null): void {
    this.problems.push({ code, start, end, text: this.text.slice(start, end), repair });
  }
}

/** Another way to say a value that the term would understand. */
function repairOf(key: string, value: string): string | null {
  const row = termRow(key);
  if (!row) return null;
  const tries = [
    value.replace(
      /^(\d{4})[./](\d{1,2})[./](\d{1,2})$/,
      (_, year: string, month: string, day: string) => `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`,
    ),
    value.replace(/\+$/, '..'),
    value.replace(/^(\d{4}(?:-\d\d){0,2}|\d+)-(\d{4}(?:-\d\d){0,2}|\d+)$/, '$1..$2'),
    value.replace(/[, ]/g, ''),
    nearestWord(value.toLowerCase(), row.choices ?? []) ?? value,
  ];
  return tries.find((one) => one !== value && row.read(one, ':') !== null) ?? null;
}
