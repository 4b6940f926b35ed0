// The placed photos of a scope on a map: what lies together at a zoom is one cluster, shown by the best rung in it.
// Gathering is the work of a library; it takes a fraction of a second for 100,000 photos, and a map's view then a
// millisecond or two.

import Supercluster from 'supercluster';
import type { Box } from '../geo/sphere';
import type { Columns } from './columns';

/** One photo, or several that lie together. */
export interface Cluster {
  lat: number;
  lon: number;
  count: number;
  /** The photo that stands for it: of the highest rung, the first of several. */
  photoId: string;
}

interface Best {
  slot: number;
  rating: number;
}

/** Pixels of a map within which photos lie together; a thumbnail and its margin. */
const RADIUS_PIXELS = 56;
export const HEAPS_MAX_ZOOM = 18;

export class MapPhotos {
  private readonly clusters = new Supercluster<Best, Best>({
    radius: RADIUS_PIXELS,
    extent: 256,
    maxZoom: HEAPS_MAX_ZOOM,
    minPoints: 2,
    map: ({ slot, rating }) => ({ slot, rating }),
    reduce: (best, other) => {
      if (other.rating > best.rating || (other.rating === best.rating && other.slot < best.slot))
        Object.assign(best, other);
    },
  });
  readonly placed: number;
  /** Around all of them; `null` without any. Not the shortest way over the antimeridian. */
  readonly bounds: Box | null;

  constructor(
    slots: Uint32Array,
    private readonly columns: Columns,
  ) {
    const [lat, lon, rating] = [columns.column('lat'), columns.column('lon'), columns.column('rating')];
    const there = slots.filter((slot) => !Number.isNaN(lat[slot] ?? NaN));
    this.placed = there.length;
    this.clusters.load(
      Array.from(there, (slot) => ({
        type: 'Feature',
        geometry: { type: 'Point', coordinates: [lon[slot] ?? 0, lat[slot] ?? 0] },
        properties: { slot, rating: rating[slot] ?? 0 },
      })),
    );
    const box = { south: Infinity, west: Infinity, north: -Infinity, east: -Infinity };
    for (const slot of there) {
      const [y, x] = [lat[slot] ?? 0, lon[slot] ?? 0];
      Object.assign(box, {
        south: Math.min(box.south, y),
        north: Math.max(box.north, y),
        west: Math.min(box.west, x),
        east: Math.max(box.east, x),
      });
    }
    this.bounds = there.length > 0 ? box : null;
  }

  /** @param zoom of tiles of 256 pixels, fractions are cut off */
  in({ south, west, north, east }: Box, zoom: number): Cluster[] {
    return this.clusters
      .getClusters([west, south, east, north], Math.max(0, Math.min(HEAPS_MAX_ZOOM + 1, Math.floor(zoom))))
      .map(({ geometry, properties }) => ({
        lon: geometry.coordinates[0] ?? 0,
        lat: geometry.coordinates[1] ?? 0,
        count: 'point_count' in properties ? properties.point_count : 1,
        photoId: this.columns.ids.text(properties.slot),
      }));
  }
}
