// Names on the map, from the gazetteer: asked for the part in view whenever it has come to rest.

import Feature from 'ol/Feature';
import type OlMap from 'ol/Map';
import Point from 'ol/geom/Point';
import VectorLayer from 'ol/layer/Vector';
import { fromLonLat, transformExtent } from 'ol/proj';
import VectorSource from 'ol/source/Vector';
import { Circle, Fill, Stroke, Style, Text } from 'ol/style';
import { z } from 'zod';
import type { MapColours } from './land';

const answer = z.object({ places: z.array(z.object({ name: z.string(), lat: z.number(), lon: z.number() })) });

/** More would only be hidden by each other. */
const LABELS = 120;
/** Farther out than this names of towns say nothing. */
const MIN_ZOOM = 4;

export function labelLayer(map: OlMap, colours: MapColours): VectorLayer {
  const source = new VectorSource();
  const layer = new VectorLayer({
    source,
    declutter: true,
    zIndex: 5,
    style: (feature) =>
      new Style({
        image: new Circle({ radius: 1.8, fill: new Fill({ color: colours.label }) }),
        text: new Text({
          text: String(feature.get('name')),
          font: "12px 'IBM Plex Sans'",
          offsetY: -9,
          fill: new Fill({ color: colours.label }),
          stroke: new Stroke({ color: colours.halo, width: 3 }),
        }),
      }),
  });
  let latest = 0;
  const ask = async () => {
    const mine = ++latest;
    const view = map.getView();
    if ((view.getZoom() ?? 0) < MIN_ZOOM) {
      source.clear();
      return;
    }
    const [west = 0, south = 0, east = 0, north = 0] = transformExtent(
      view.calculateExtent(),
      'EPSG:3857',
      'EPSG:4326',
    );
    const inside = (degrees: number, limit: number) => String(Math.max(-limit, Math.min(limit, degrees)));
    const query = new URLSearchParams({
      south: inside(south, 90),
      west: inside(west, 180),
      north: inside(north, 90),
      east: inside(east, 180),
      limit: String(LABELS),
    });
    const response = await fetch(`/api/places/within?${query}`);
    const places = answer.safeParse(await response.json());
    if (mine !== latest || !places.success) return;
    source.clear();
    source.addFeatures(
      places.data.places.map(
        ({ name, lat, lon }) => new Feature({ geometry: new Point(fromLonLat([lon, lat])), name }),
      ),
    );
  };
  map.on('moveend', () => void ask().catch(() => undefined)); // a map without names is still a map
  return layer;
}
