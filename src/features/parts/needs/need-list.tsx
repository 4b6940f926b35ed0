'use client';

// What waits for the person: how many, what it is, and where it is put right. Each opens what it is about.

import Link from 'next/link';
import { count } from '@/ui/format';
import styles from './needs.module.css';

export interface Need {
  words: string;
  /** `null` where it is not counted in photos. */
  count: number | null;
  /** An address: the photos, or where it is told. */
  to: string;
  level: 'attention' | 'caution' | 'plain';
  /** Where it is put right, if that is another place. */
  act: { to: string; words: string } | null;
}

/** Those of which there are none are left out. */
export const NeedList = ({ label, needs }: { label: string; needs: readonly Need[] }) => (
  <ul className={styles.needs} aria-label={label}>
    {needs.map(
      ({ words, count: photos, to, level, act }) =>
        photos !== 0 && (
          <li key={words} data-level={level}>
            <Link href={to}>
              {photos !== null && <b>{count(photos)}</b>} {words}
            </Link>
            {act && (
              <Link href={act.to} aria-label={`${act.words}: ${words}`}>
                {act.words}
              </Link>
            )}
          </li>
        ),
    )}
  </ul>
);
