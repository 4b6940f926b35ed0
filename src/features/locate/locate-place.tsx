'use client';

// Locate: the map of the scope, tracks matched to photos, the words for places, and the person's own spots. Which desk is open
// stands in the address.

import dynamic from 'next/dynamic';
import { usePathname, useSearchParams } from 'next/navigation';
import { LeftToPlace } from './left-to-place';
import styles from './locate.module.css';

const DESKS = { map: 'Map', tracks: 'Tracks', words: 'Words for places', spots: 'Spots of your own' } as const;
type Desk = keyof typeof DESKS;
const isDesk = (text: string | null): text is Desk => text !== null && text in DESKS;

// the map's library draws on a canvas, which only a browser has
const MapDesk = dynamic(() => import('./map-desk').then(({ MapDesk: desk }) => desk), { ssr: false });
const TracksDesk = dynamic(() => import('./tracks-desk').then(({ TracksDesk: desk }) => desk), { ssr: false });
const WordsDesk = dynamic(() => import('./words-desk').then(({ WordsDesk: desk }) => desk), { ssr: false });
const SpotsDesk = dynamic(() => import('./spots-desk').then(({ SpotsDesk: desk }) => desk), { ssr: false });

export function LocatePlace() {
  const asked = useSearchParams().get('desk');
  const path = usePathname();
  const desk: Desk = isDesk(asked) ? asked : 'map';
  const open = (next: Desk) => {
    const address = new URLSearchParams(window.location.search);
    address.set('desk', next);
    window.history.replaceState(null, '', `${path}?${address}`);
  };
  return (
    <div className={styles.place}>
      <nav className={styles.side} aria-label="Desks">
        <h1>Locate</h1>
        {(Object.keys(DESKS) as Desk[]).map((one) => <button key={one} type="button" className={styles.desk} aria-current={one === desk ? 'page' : undefined} onClick={() => open(one)}>{DESKS[one]}</button>)}
        <LeftToPlace />
      </nav>
      <main className={styles.main}>
        {desk === 'map' && <MapDesk />}
        {desk === 'tracks' && <TracksDesk />}
        {desk === 'words' && <WordsDesk />}
        {desk === 'spots' && <SpotsDesk />}
      </main>
    </div>
  );
}
