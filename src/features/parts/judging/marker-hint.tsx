'use client';

import { MarkerSign } from '@/ui/marker-sign';
import styles from './judging.module.css';
import { useMarkers } from './markers';

/** After M: which digit gives which marker. */
export function MarkerHint({ naming }: { naming: boolean }) {
  const markers = useMarkers();
  if (!naming) return null;
  return (
    <div className={styles.hint} role="status" aria-label="Markers by digit">
      {markers.slice(0, 9).map((marker, index) => (
        <span key={marker.id}>
          <kbd>{index + 1}</kbd> <MarkerSign {...marker} /> {marker.name}
        </span>
      ))}
      {markers.length === 0 ? (
        'No markers yet: make them in Sift.'
      ) : (
        <span>
          <kbd>0</kbd> none
        </span>
      )}
    </div>
  );
}
