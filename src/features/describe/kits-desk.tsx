'use client';

import { Kits } from '../describing/kit-drawer';
import { useSelection } from '../session/selection';
import styles from './describe.module.css';

/** Kits, and what one would change on the selection. */
export function KitsDesk() {
  const ids = useSelection((state) => state.ids);
  return <section className={styles.page} aria-label="Kits"><Kits ids={[...ids]} /></section>;
}
