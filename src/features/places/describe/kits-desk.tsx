'use client';

import { Kits } from '@/features/parts/describing/kit-drawer';
import { useSelection } from '@/features/parts/selection/selection';
import styles from './describe.module.css';

/** Kits, and what one would change on the selection. */
export function KitsDesk() {
  const ids = useSelection((state) => state.ids);
  return (
    <section className={styles.page} aria-label="Kits">
      <Kits ids={[...ids]} />
    </section>
  );
}
