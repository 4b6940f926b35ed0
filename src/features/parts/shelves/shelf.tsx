'use client';

// A shelf at the left: a heading, and lines that narrow the scope with a count beside each. A shelf folds.

import type { ReactNode } from 'react';
import { z } from 'zod';
import { count } from '@/ui/format';
import { keptChoice } from '@/ui/kept-choice';
import styles from './shelves.module.css';

/** Shelves that are open, by name. */
const useOpen = keptChoice<{ open: string[] }>(
  'wembo-shelves',
  z.object({ open: z.array(z.string().max(40)).max(100) }),
  { open: ['drives', 'collections', 'accessions', 'deliveries', 'rating', 'marker', 'camera', 'keyword'] },
);

export const useShelfOpen = (name: string): boolean => useOpen((state) => state.open.includes(name));

export function Shelf({
  name,
  title,
  action,
  children,
}: {
  name: string;
  title: string;
  action?: ReactNode;
  children: ReactNode;
}) {
  const isOpen = useShelfOpen(name);
  const fold = () =>
    useOpen.setState(({ open }) => ({ open: isOpen ? open.filter((one) => one !== name) : [...open, name] }));
  return (
    <section className={styles.shelf} aria-label={`Shelf: ${title}`}>
      <h2>
        <button type="button" className={styles.shelfTitle} aria-expanded={isOpen} onClick={fold}>
          <span aria-hidden>{isOpen ? '−' : '+'}</span> {title}
        </button>
        {isOpen && action}
      </h2>
      {isOpen && children}
    </section>
  );
}

interface LineProps {
  name: ReactNode;
  number?: number | undefined;
  chosen: boolean;
  /** Struck out: photos that have it are left out. */
  out?: boolean;
  remark?: string | undefined;
  title?: string | undefined;
  onClick: () => void;
}

export function ShelfLine({ name, number, chosen, out = false, remark, title, onClick }: LineProps) {
  return (
    <button
      type="button"
      className={styles.shelfLine}
      aria-pressed={chosen}
      data-out={out}
      title={title}
      onClick={onClick}
    >
      <span className={styles.shelfName}>{name}</span>
      {remark && <span className={styles.shelfRemark}>{remark}</span>}
      {number !== undefined && <span className={styles.shelfCount}>{count(number)}</span>}
    </button>
  );
}
