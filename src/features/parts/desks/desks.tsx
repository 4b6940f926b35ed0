'use client';

// The desks of a place. Which one is open stands in the address.

import { useSearchParams } from 'next/navigation';
import type { ReactNode } from 'react';
import { changeAddress } from '@/ui/address';
import styles from './desks.module.css';

/**
 * The open desk, the first where the address names none, and how another is opened. `desks` are their names by what
 * stands in the address.
 */
export function useDesk<D extends string>(
  desks: Readonly<Record<D, string>>,
  first: NoInfer<D>,
): [desk: D, open: (next: D) => void] {
  const asked = useSearchParams().get('desk');
  return [asked !== null && asked in desks ? (asked as D) : first, (desk) => changeAddress({ desk })];
}

interface Props<D extends string> {
  place: string;
  desks: Readonly<Record<D, string>>;
  desk: D;
  onOpen: (desk: D) => void;
  /** What stands below them. */
  children: ReactNode;
}

export function DeskNav<D extends string>({ place, desks, desk, onOpen, children }: Props<D>) {
  return (
    <nav className={styles.desks} aria-label="Desks">
      <h1>{place}</h1>
      {(Object.keys(desks) as D[]).map((one) => (
        <button
          key={one}
          type="button"
          className={styles.desk}
          aria-current={one === desk ? 'page' : undefined}
          onClick={() => onOpen(one)}
        >
          {desks[one]}
        </button>
      ))}
      {children}
    </nav>
  );
}
