// Names of files behind their number: of very many it says how many more there are.

import { count } from '@/ui/format';
import styles from './jobs-list.module.css';

/** Rows shown before the rest is a count. */
export const NAMES_SHOWN = 200;

export function FoldedNames({
  title,
  names,
  alarm = false,
}: {
  title: string;
  names: readonly string[];
  alarm?: boolean;
}) {
  if (names.length === 0) return null;
  return (
    <details className={styles.details} open={alarm}>
      <summary data-alarm={alarm}>
        {title}: {count(names.length)}
      </summary>
      <ul className="mono">
        {names.slice(0, NAMES_SHOWN).map((name) => (
          <li key={name}>{name}</li>
        ))}
      </ul>
      {names.length > NAMES_SHOWN && <p className="quiet">and {count(names.length - NAMES_SHOWN)} more</p>}
    </details>
  );
}
