'use client';

// What a scope asks, condition by condition, with what each does; one is dropped with a click, a word that occurs nowhere exchanged.

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import type { Explained } from '@/core/search/explain';
import { parseScope } from '@/core/scope/parse-scope';
import { without } from '@/core/scope/write-scope';
import { queryWords, unheardWords } from '@/messages/scope';
import { count } from '@/ui/format';
import { session, useSession } from '../session/session';
import styles from './scope.module.css';

/** What the conditions of this scope do now; `null` until it is known. */
export function useExplained(scope: string, active: boolean): { of: string; explained: Explained } | null {
  const [found, setFound] = useState<{ of: string; explained: Explained } | null>(null);
  const version = useSession((state) => state.indexVersion);
  useEffect(() => {
    if (!active || scope.trim() === '') return setFound(null);
    let current = true;
    session.search.explain(scope).then((explained) => current && setFound({ of: scope, explained }), () => {});
    return () => {
      current = false;
    };
  }, [scope, version, active]);
  return found?.of === scope ? found : null;
}

export function ConditionList({ scope, explained, onScope }: { scope: string; explained: Explained; onScope: (scope: string) => void }) {
  const { items } = parseScope(scope);
  return (
    <div className={styles.conditions}>
      <table>
        <thead><tr><th scope="col">Condition</th><th scope="col">alone</th><th scope="col">without it</th><th /></tr></thead>
        <tbody>
          {items.map((item, at) => (
            <tr key={item.start}>
              <td>{queryWords(item.query)}</td>
              <td className="mono">{count(explained.items[at]?.alone ?? 0)}</td>
              <td className="mono">{count(explained.items[at]?.without ?? 0)}</td>
              <td><Button size="small" onClick={() => onScope(without(scope, item))} aria-label={`Drop ${queryWords(item.query)}`}>Drop</Button></td>
            </tr>
          ))}
        </tbody>
      </table>
      {explained.unheard.map((one) => (
        <p key={`${one.start} ${one.word}`}>{unheardWords(one)}{one.meant && <>. Did you mean <Button size="small" type="link" onClick={() => onScope(scope.slice(0, one.start) + (one.meant?.text ?? '') + scope.slice(one.end))}>{one.meant.text} · {count(one.meant.count)}</Button></>}</p>
      ))}
      {explained.noCollection.map((name) => <p key={name}>There is no collection “{name}”.</p>)}
    </div>
  );
}
