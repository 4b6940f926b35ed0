'use client';

// Locate: the map of the scope, tracks matched to photos, the words for places, and the person's own spots. Which desk
// is open stands in the address.

import dynamic from 'next/dynamic';
import { DeskNav, useDesk } from '@/features/parts/desks/desks';
import { LeftToPlace } from './left-to-place';
import styles from './locate.module.css';

const DESKS = { map: 'Map', tracks: 'Tracks', words: 'Place names', spots: 'Spots of your own' } as const;

// the map's library draws on a canvas, which only a browser has
const MapDesk = dynamic(() => import('./map-desk').then(({ MapDesk: desk }) => desk), { ssr: false });
const TracksDesk = dynamic(() => import('./tracks-desk').then(({ TracksDesk: desk }) => desk), { ssr: false });
const PlaceNamesDesk = dynamic(() => import('./place-names-desk').then(({ PlaceNamesDesk: desk }) => desk), {
  ssr: false,
});
const SpotsDesk = dynamic(() => import('./spots-desk').then(({ SpotsDesk: desk }) => desk), { ssr: false });

export function LocatePlace() {
  const [desk, open] = useDesk(DESKS, 'map');
  return (
    <div className={styles.place}>
      <DeskNav place="Locate" desks={DESKS} desk={desk} onOpen={open}>
        <LeftToPlace />
      </DeskNav>
      <main className={styles.main}>
        {desk === 'map' && <MapDesk />}
        {desk === 'tracks' && <TracksDesk />}
        {desk === 'words' && <PlaceNamesDesk />}
        {desk === 'spots' && <SpotsDesk />}
      </main>
    </div>
  );
}
