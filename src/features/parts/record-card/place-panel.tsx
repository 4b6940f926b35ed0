'use client';

// Where the photo was taken: the place in words first (its own, else those of the nearest named place), then degrees,
// decimals on demand; the way to the map and to the photos around; and that the place goes along when the file is
// handed on.

import Link from 'next/link';
import { useEffect, useState } from 'react';
import { parseDirection } from '@/core/geo/direction';
import { type Position } from '@/core/geo/position';
import { nearText } from '@/core/query/terms';
import { privateAreaAt } from '@/core/locate/kept';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { awayWords, directionWords, positionWords } from '@/ui/format';
import { type NearestPlace, nearestPlaces } from '@/features/parts/map/places-client';
import { session } from '@/engine/session';
import styles from './record-card.module.css';
import { positionIn } from '@/core/fields/values';

/** How far around is meant by "around it". */
const AROUND_M = 500;

export function PlacePanel({ photo }: { photo: PhotoRecord }) {
  const position = positionIn(photo.fields);
  const [decimal, setDecimal] = useState(false);
  const own = [photo.fields.sublocation, photo.fields.city, photo.fields.province, photo.fields.country].filter(
    (word) => typeof word === 'string',
  );
  const nearest = useNearest(own.length > 0 ? null : position);
  const spots = useLive(() => session.db.spots.toArray(), []) ?? [];
  if (!position) return null;
  const around = `near:${nearText(position, AROUND_M)}`;
  const inside = privateAreaAt(position, spots);
  const direction = typeof photo.fields.direction === 'string' ? parseDirection(photo.fields.direction) : null;
  return (
    <section className={styles.where} aria-label="Where it was taken">
      {own.length > 0 && <strong>{own.join(', ')}</strong>}
      {nearest && (
        <strong>
          {[nearest.city, nearest.province, nearest.country].filter(Boolean).join(', ')}
          {nearest.distanceM >= 1000 && <span className="quiet">, {awayWords(nearest.distanceM)} away</span>}
        </strong>
      )}
      <button
        type="button"
        className="mono"
        onClick={() => setDecimal((now) => !now)}
        title={`${decimal ? 'Show degrees' : 'Show decimal degrees'}. The place is in the metadata; whether it is sent out, a delivery profile says.`}
      >
        {decimal ? `${position.lat}, ${position.lon}` : positionWords(position)}
      </button>
      {inside && (
        <span className={styles.private}>
          In the private area “{inside.name}”: its place is left out when it is sent out
        </span>
      )}
      <Link href={`/locate?desk=map&q=${encodeURIComponent(around)}`}>On the map</Link>
      {(position.altitudeM !== null || direction) && (
        <span className="quiet">
          {[
            position.altitudeM === null ? null : `${Math.round(position.altitudeM)} m`,
            direction && directionWords(direction),
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
      )}
    </section>
  );
}

/** The nearest named place; `null` while it is asked for, or where the server does not answer. */
function useNearest(position: Position | null): NearestPlace | null {
  const [found, setFound] = useState<{ key: string; place: NearestPlace | null } | null>(null);
  const key = position ? `${position.lat.toFixed(4)} ${position.lon.toFixed(4)}` : '';
  useEffect(() => {
    if (key === '') return;
    let current = true;
    const [lat = 0, lon = 0] = key.split(' ').map(Number);
    const timer = setTimeout(
      () =>
        nearestPlaces([{ lat, lon }]).then(
          ([place]) => current && setFound({ key, place: place ?? null }),
          () => current && setFound(null),
        ),
      120,
    );
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [key]);
  return found?.key === key ? found.place : null;
}
