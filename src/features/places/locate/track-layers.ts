// Tracks and what was matched, as lines and dots on the map.

import Feature from 'ol/Feature';
import LineString from 'ol/geom/LineString';
import Point from 'ol/geom/Point';
import type Layer from 'ol/layer/Layer';
import VectorLayer from 'ol/layer/Vector';
import { fromLonLat } from 'ol/proj';
import VectorSource from 'ol/source/Vector';
import { Circle, Fill, Stroke, Style } from 'ol/style';
import type { LatLon } from '@/core/geo/position';
import type { Box } from '@/core/geo/sphere';
import { type Track, segmentsOf } from '@/core/locate/tracks/track';

/** Petrol with a light rim, so that it stands out on light and dark ground. */
const WAY = [
  new Style({ stroke: new Stroke({ color: '#f7f7f5', width: 4 }) }),
  new Style({ stroke: new Stroke({ color: '#0e5a67', width: 2 }) }),
];

export function tracksLayer(tracks: readonly Track[]): Layer {
  const lines = tracks.flatMap((track) =>
    segmentsOf(track).map(([from, to]) => {
      const way = Array.from({ length: to - from }, (_, at) =>
        fromLonLat([track.lon[from + at] ?? 0, track.lat[from + at] ?? 0]),
      );
      return new Feature(new LineString(way.length > 1 ? way : [...way, ...way]));
    }),
  );
  return new VectorLayer({ source: new VectorSource({ features: lines }), style: WAY, zIndex: 6 });
}

const BETWEEN = new Style({
  image: new Circle({
    radius: 4.5,
    fill: new Fill({ color: '#c8501e' }),
    stroke: new Stroke({ color: '#f7f7f5', width: 1.5 }),
  }),
});
const NEAREST = new Style({
  image: new Circle({
    radius: 4.5,
    fill: new Fill({ color: '#f7f7f5' }),
    stroke: new Stroke({ color: '#c8501e', width: 2 }),
  }),
});

/** Where the photos would be put: full dots between two points of a track, rings at the nearest point. */
export function matchesLayer(): {
  layer: Layer;
  show: (matches: readonly (LatLon & { how: 'between' | 'nearest' })[]) => void;
} {
  const source = new VectorSource();
  const layer = new VectorLayer({
    source,
    zIndex: 7,
    style: (feature) => (feature.get('how') === 'between' ? BETWEEN : NEAREST),
  });
  return {
    layer,
    show: (matches) => {
      source.clear(true);
      source.addFeatures(
        matches.map(({ lat, lon, how }) => new Feature({ geometry: new Point(fromLonLat([lon, lat])), how })),
      );
    },
  };
}

export function boxOfTracks(tracks: readonly Track[]): Box | null {
  const box = { south: Infinity, west: Infinity, north: -Infinity, east: -Infinity };
  for (const { lat, lon } of tracks) {
    for (let at = 0; at < lat.length; at++) {
      const [y = 0, x = 0] = [lat[at], lon[at]];
      if (y < box.south) box.south = y;
      if (y > box.north) box.north = y;
      if (x < box.west) box.west = x;
      if (x > box.east) box.east = x;
    }
  }
  return box.south <= box.north ? box : null;
}
