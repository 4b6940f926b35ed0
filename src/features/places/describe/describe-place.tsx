'use client';

// Describe: what is left to do, and the five desks at which it is done. Which desk is open stands in the address.

import { useState } from 'react';
import { DeskNav, useDesk } from '@/features/parts/desks/desks';
import { CaptionDesk } from './caption-desk';
import styles from './describe.module.css';
import { KitsDesk } from './kits-desk';
import { LeftToDoList } from './left-to-do';
import { ShorthandDesk } from './shorthand-desk';
import { TableDesk } from './table-desk';
import { WordsDesk } from './words-desk';

const DESKS = {
  captions: 'Captions',
  words: 'Keywords',
  kits: 'Kits',
  shorthand: 'Shorthand',
  table: 'Table',
} as const;

export function DescribePlace() {
  const [desk, show] = useDesk(DESKS, 'captions');
  const [visit, setVisit] = useState(0); // asked for again, the desk begins anew, with the cursor in the caption
  const open = (next: typeof desk) => {
    setVisit((now) => now + 1);
    show(next);
  };
  return (
    <div className={styles.place}>
      <DeskNav place="Describe" desks={DESKS} desk={desk} onOpen={open}>
        <LeftToDoList />
      </DeskNav>
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
