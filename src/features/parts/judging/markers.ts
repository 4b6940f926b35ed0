'use client';

// The person's markers, in their order. Which sign belongs to a label is known from its text alone: a label from
// elsewhere has none.

import { useMemo } from 'react';
import type { Marker } from '@/core/sift/judging';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';

export const markersInOrder = async (): Promise<Marker[]> =>
  (await session.db.markers.toArray())
    .filter(({ deleted }) => !deleted)
    .sort((a, b) => a.order - b.order || (a.name < b.name ? -1 : 1));

export const useMarkers = (): Marker[] => useLive(markersInOrder) ?? [];

export function useMarkersByName(): Map<string, Marker> {
  const markers = useLive(markersInOrder);
  return useMemo(() => new Map((markers ?? []).map((marker) => [marker.name, marker])), [markers]);
}
