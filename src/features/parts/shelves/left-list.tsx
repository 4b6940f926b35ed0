'use client';

// What is left to do, counted live over what the scope line says; each line narrows the scope to it, and again to all.

import { withTerm } from '@/core/query/write-scope';
import { count } from '@/ui/format';
import styles from './shelves.module.css';
import { useScope } from '@/features/parts/search/use-scope';
import { useCounts } from '@/features/parts/search/use-counts';

export interface LeftLine {
  /** One term of a scope, by which these photos are found. */
  term: string;
  words: string;
}

const CALM_MS = 300;

/** The scope without what such a list puts into it. */
const bare = (scope: string): string => withTerm(withTerm(scope, 'missing', null), 'left', null);

export function LeftList({ lines, label }: { lines: readonly LeftLine[]; label: string }) {
  const { scope, setScope } = useScope();
  const ground = bare(scope);
  const counts = useCounts(
    lines.map(({ term }) => `${ground} ${term}`),
    CALM_MS,
  );
  return (
    <section className={styles.left} aria-label={label}>
      <h2>{label}</h2>
      {lines.map(({ term, words }, index) => {
        const [key = '', value = ''] = term.split(':');
        const chosen = scope.includes(term);
        return (
          <button
            key={term}
            type="button"
            aria-pressed={chosen}
            className={styles.leftLine}
            onClick={() => setScope((now) => (chosen ? bare(now) : withTerm(bare(now), key, value)))}
          >
            <span>{words}</span>
            <span className="mono">{counts[index] === undefined ? '…' : count(counts[index])}</span>
          </button>
        );
      })}
    </section>
  );
}
