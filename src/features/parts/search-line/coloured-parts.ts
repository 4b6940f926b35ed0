// The text of a scope in parts, each as what it is shown: what the line colours.

import { pieces } from '@/core/query/lex';
import { parseScope } from '@/core/query/parse-scope';

export interface Coloured {
  text: string;
  as: 'plain' | 'field' | 'value' | 'sign' | 'problem';
}

export function colouredParts(text: string): Coloured[] {
  const { problems } = parseScope(text);
  const parts: Coloured[] = [];
  let at = 0;
  const put = (end: number, as: Coloured['as']) => {
    if (end > at) parts.push({ text: text.slice(at, end), as });
    at = Math.max(at, end);
  };
  for (const piece of pieces(text)) {
    put(piece.start, 'plain');
    const isProblem = problems.some(
      ({ start, end, code }) => code !== 'group-open' && start <= piece.start && end >= piece.end,
    );
    if (isProblem) put(piece.end, 'problem');
    else if (piece.kind !== 'term') put(piece.end, 'sign');
    else {
      put(piece.valueStart, 'field');
      put(piece.end, piece.key === null && !piece.quoted ? 'plain' : 'value');
    }
  }
  put(text.length, 'plain');
  return parts;
}
