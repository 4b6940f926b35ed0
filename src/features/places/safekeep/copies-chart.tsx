'use client';

import Link from 'next/link';
import { count, photos } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import styles from './safekeep.module.css';
import { useCounts } from '@/features/parts/search/use-counts';

const LEVELS = [
  { scope: 'copies:..0', words: 'no verified copy yet', level: 'attention' },
  { scope: 'copies:1', words: 'one verified copy only', level: 'caution' },
  { scope: 'copies:2..', words: 'two or more verified copies', level: 'safe' },
] as const;

/** How the library stands: each level a bar and a scope that opens its photos. */
export function CopiesChart() {
  const counts = useCounts(LEVELS.map(({ scope }) => scope));
  const all = counts.reduce((sum, value) => sum + value, 0);
  return (
    <ul className={styles.status}>
      {LEVELS.map(({ scope, words, level }, index) => {
        const value = counts[index] ?? 0;
        return (
          <li key={scope} data-level={level}>
            <Link href={findAddress(scope)}>{count(value)}</Link>
            <span>{words}</span>
            <i style={{ width: all > 0 ? `${(100 * value) / all}%` : 0 }} aria-hidden />
          </li>
        );
      })}
      <li className="quiet">{photos(all)} in all</li>
    </ul>
  );
}
