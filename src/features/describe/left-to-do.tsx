'use client';

// What is left to do, counted live over what the scope line says; each line narrows the scope to it, and again to all.

import { useEffect, useState } from 'react';
import { withTerm } from '@/core/scope/scope';
import { count } from '@/ui/format';
import { useScope } from '../scope/use-scope';
import { session, useSession } from '../session/session';
import styles from './describe.module.css';

const LISTS = [
  { term: 'without:caption', words: 'no caption' }, { term: 'without:headline', words: 'no headline' }, { term: 'without:keyword', words: 'no keyword' }, { term: 'without:creator', words: 'no creator' },
  { term: 'without:copyright', words: 'no copyright notice' }, { term: 'without:place', words: 'no place' }, { term: 'without:date', words: 'no date' },
  { term: 'left:blanks', words: 'blanks open' }, { term: 'left:codes', words: 'a wrong code' }, { term: 'left:words', words: 'a word that is not in the vocabulary' },
] as const;

const CALM_MS = 300;

/** The scope without what this list puts into it. */
const bare = (scope: string): string => withTerm(withTerm(scope, 'without', null), 'left', null);

export function LeftToDo() {
  const { scope, setScope } = useScope();
  const version = useSession((state) => state.indexVersion);
  const stage = useSession((state) => state.stage);
  const [counts, setCounts] = useState<readonly number[]>([]);
  const ground = bare(scope);
  useEffect(() => {
    if (stage !== 'ready') return;
    let current = true;
    const timer = setTimeout(() => void session.search.count(LISTS.map(({ term }) => `${ground} ${term}`)).then((found) => current && setCounts(found), () => {}), CALM_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [ground, version, stage]);
  return (
    <section className={styles.left} aria-label="Left to do">
      <h2>Left to do</h2>
      {LISTS.map(({ term, words }, index) => {
        const [key = '', value = ''] = term.split(':');
        const chosen = scope.includes(term);
        return <button key={term} type="button" aria-pressed={chosen} className={styles.leftLine} onClick={() => setScope(chosen ? ground : withTerm(ground, key, value))}><span>{words}</span><span className="mono">{counts[index] === undefined ? '…' : count(counts[index])}</span></button>;
      })}
    </section>
  );
}
