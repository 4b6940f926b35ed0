'use client';

// What is left to do, counted live over what the scope line says; each line narrows the scope to it, and again to all.

import { useEffect, useState } from 'react';
import { withTerm } from '@/core/scope/write-scope';
import { count } from '@/ui/format';
import { session, useSession } from '../session/session';
import styles from './scope.module.css';
import { useScope } from './use-scope';

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
  const version = useSession((state) => state.indexVersion);
  const stage = useSession((state) => state.stage);
  const [counts, setCounts] = useState<readonly number[]>([]);
  const ground = bare(scope);
  useEffect(() => {
    if (stage !== 'ready') return;
    let current = true;
    const timer = setTimeout(() => void session.search.count(lines.map(({ term }) => `${ground} ${term}`)).then((found) => current && setCounts(found), () => {}), CALM_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [ground, version, stage, lines]);
  return (
    <section className={styles.left} aria-label={label}>
      <h2>{label}</h2>
      {lines.map(({ term, words }, index) => {
        const [key = '', value = ''] = term.split(':');
        const chosen = scope.includes(term);
        return <button key={term} type="button" aria-pressed={chosen} className={styles.leftLine} onClick={() => setScope(chosen ? ground : withTerm(ground, key, value))}><span>{words}</span><span className="mono">{counts[index] === undefined ? '…' : count(counts[index])}</span></button>;
      })}
    </section>
  );
}
