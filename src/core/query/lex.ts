// The text of a scope in pieces, each with its place: what the parser reads, and what the scope line colours.

import type { Operator } from './query';

export type Piece =
  | { kind: 'open' | 'close' | 'or' | 'not'; start: number; end: number }
  /** `value` as it is meant, without its quotes; `closed` is false for a quotation mark that has no partner yet. */
  | {
      kind: 'term';
      start: number;
      end: number;
      key: string | null;
      operator: Operator;
      value: string;
      quoted: boolean;
      closed: boolean;
      valueStart: number;
    };

const SPACE = /\s/;
const KEY = /^(\p{L}+)(:|<=|>=|<|>|=)/u;

export function pieces(text: string): Piece[] {
  const found: Piece[] = [];
  let depth = 0;
  for (let at = 0; at < text.length;) {
    const sign = text[at] ?? '';
    if (SPACE.test(sign)) at += 1;
    else if (sign === '(') {
      found.push({ kind: 'open', start: at, end: at + 1 });
      depth += 1;
      at += 1;
    } else if (sign === ')') {
      found.push({ kind: 'close', start: at, end: at + 1 });
      depth = Math.max(0, depth - 1);
      at += 1;
    } else if (sign === '-' && /[^\s)]/.test(text[at + 1] ?? ' ')) {
      found.push({ kind: 'not', start: at, end: at + 1 });
      at += 1;
    } else {
      const piece = termAt(text, at, depth);
      found.push(piece);
      at = piece.end;
    }
  }
  return found;
}

function termAt(text: string, start: number, depth: number): Piece {
  const key = KEY.exec(text.slice(start));
  const valueStart = start + (key?.[0].length ?? 0);
  const quoted = text[valueStart] === '"';
  const close = quoted ? closingQuote(text, valueStart) : -1;
  const closed = !quoted || close > 0;
  const end = !quoted ? wordEnd(text, valueStart, depth) : closed ? close + 1 : text.length;
  const raw = text.slice(valueStart, end);
  if (!key && !quoted && raw === 'OR') return { kind: 'or', start, end };
  if (!key && !quoted && raw === 'NOT') return { kind: 'not', start, end };
  const value = quoted ? raw.slice(1, closed ? -1 : undefined).replaceAll('""', '"') : raw;
  return {
    kind: 'term',
    start,
    end,
    key: key?.[1]?.toLowerCase() ?? null,
    operator: (key?.[2] ?? ':') as Operator,
    value,
    quoted,
    closed,
    valueStart,
  };
}

/** −1 where there is none. Two together are one of the value's own. */
function closingQuote(text: string, open: number): number {
  for (let at = text.indexOf('"', open + 1); at >= 0; at = text.indexOf('"', at + 2))
    if (text[at + 1] !== '"') return at;
  return -1;
}

/**
 * Up to a space; within a group up to the parenthesis that closes it. Parentheses of the word itself (`IMG(2)`) belong
 * to it.
 */
function wordEnd(text: string, start: number, depth: number): number {
  let own = 0;
  for (let at = start; at < text.length; at++) {
    const sign = text[at] ?? '';
    if (SPACE.test(sign) || sign === '"') return at === start ? at + 1 : at;
    if (sign === '(') own += 1;
    if (sign !== ')') continue;
    if (own === 0 && depth > 0) return at;
    own = Math.max(0, own - 1);
  }
  return text.length;
}
