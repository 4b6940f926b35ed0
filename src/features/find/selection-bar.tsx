'use client';

import { Button } from 'antd';
import Link from 'next/link';
import { photos } from '@/ui/format';
import { clearSelection, useSelection } from '../session/selection';
import styles from './find.module.css';

/** Shown only while several photos are selected. */
export function SelectionBar() {
  const ids = useSelection((state) => state.ids);
  if (ids.size < 2) return null;
  return (
    <div className={styles.selection} role="region" aria-label="Selection">
      <strong>{photos(ids.size)} selected</strong>
      <span className="quiet">Keys: 1–5 rating, Q reject, K keyword, T caption</span>
      <Link href="/safekeep?what=selection"><Button size="small">Second copy…</Button></Link>
      <Button size="small" type="text" onClick={clearSelection}>Clear</Button>
    </div>
  );
}
