'use client';

// Describe: what is left to do, and the five desks at which it is done. Which desk is open stands in the address.

import { usePathname, useSearchParams } from 'next/navigation';
import { useState } from 'react';
import { CaptionDesk } from './caption-desk';
import styles from './describe.module.css';
import { KitsDesk } from './kits-desk';
import { LeftToDo } from './left-to-do';
import { ShorthandDesk } from './shorthand-desk';
import { TableDesk } from './table-desk';
import { WordsDesk } from './words-desk';

const DESKS = { captions: 'Captions', words: 'Words', kits: 'Kits', shorthand: 'Shorthand', table: 'Table' } as const;
type Desk = keyof typeof DESKS;
const isDesk = (text: string | null): text is Desk => text !== null && text in DESKS;

export function DescribePlace() {
  const params = useSearchParams();
  const path = usePathname();
  const asked = params.get('desk');
  const desk: Desk = isDesk(asked) ? asked : 'captions';
  const [visit, setVisit] = useState(0); // asked for again, the desk begins anew, with the cursor in the caption
  const open = (next: Desk) => {
    setVisit((now) => now + 1);
    const address = new URLSearchParams(window.location.search);
    address.set('desk', next);
    window.history.replaceState(null, '', `${path}?${address}`);
  };
  return (
    <div className={styles.place}>
      <nav className={styles.side} aria-label="Desks">
        <h1>Describe</h1>
        {(Object.keys(DESKS) as Desk[]).map((one) => <button key={one} type="button" className={styles.desk} aria-current={one === desk ? 'page' : undefined} onClick={() => open(one)}>{DESKS[one]}</button>)}
        <LeftToDo />
      </nav>
      <main className={styles.main}>
        {desk === 'captions' && <CaptionDesk key={visit} />}
        {desk === 'words' && <WordsDesk />}
        {desk === 'kits' && <KitsDesk />}
        {desk === 'shorthand' && <ShorthandDesk />}
        {desk === 'table' && <TableDesk />}
      </main>
    </div>
  );
}
