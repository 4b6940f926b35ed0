'use client';

// What a scope asks, condition by condition, with what each does; one is dropped with a click, a word that occurs
// nowhere exchanged.

import { Button } from 'antd';
import type { Explained } from '@/core/search/explain';
import { parseScope } from '@/core/query/parse-scope';
import { without } from '@/core/query/write-scope';
import { queryWords, unheardWords } from '@/messages/scope';
import { count } from '@/ui/format';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './search-line.module.css';

/** What the conditions of this scope do now; `null` until it is known. */
export function useExplained(scope: string, active: boolean): Explained | null {
  const found = useAsked(active && scope.trim() !== '' ? scope : null, () => session.search.explain(scope));
  return found?.of === scope ? found.answer : null;
}

export function ConditionList({
  scope,
  explained,
  onScope,
}: {
  scope: string;
  explained: Explained;
  onScope: (scope: string) => void;
}) {
  const { items } = parseScope(scope);
  return (
    <div className={styles.conditions}>
      <table>
        <thead>
          <tr>
            <th scope="col">Condition</th>
            <th scope="col">alone</th>
            <th scope="col">without it</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {items.map((item, at) => (
            <tr key={item.start}>
              <td>{queryWords(item.query)}</td>
              <td className="mono">{count(explained.items[at]?.alone ?? 0)}</td>
              <td className="mono">{count(explained.items[at]?.without ?? 0)}</td>
              <td>
                <Button
                  size="small"
                  onClick={() => onScope(without(scope, item))}
                  aria-label={`Drop ${queryWords(item.query)}`}
                >
                  Drop
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {explained.unheard.map((one) => (
        <p key={`${one.start} ${one.word}`}>
          {unheardWords(one)}
          {one.meant && (
            <>
              . Did you mean{' '}
              <Button
                size="small"
                type="link"
                onClick={() => onScope(scope.slice(0, one.start) + (one.meant?.text ?? '') + scope.slice(one.end))}
              >
                {one.meant.text} · {count(one.meant.count)}
              </Button>
            </>
          )}
        </p>
      ))}
      {explained.noCollection.map((name) => (
        <p key={name}>There is no collection “{name}”.</p>
      ))}
    </div>
  );
}
