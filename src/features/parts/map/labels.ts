// Names on the map, from the gazetteer: asked for the part in view whenever it has come to rest. A name stands above its
// place, or where no photo covers it.

import Feature from 'ol/Feature';
import type OlMap from 'ol/Map';
import type { Coordinate } from 'ol/coordinate';
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

const FONT = "12px 'IBM Plex Sans'";
const LINE_PX = 14;
/** Half the side of a cluster's picture, with a little air. */
const COVER_PX = 26;
/** Where a name may stand from its place, the best first. */
const STANDS = [
  { x: 0, y: -9, align: 'center' },
  { x: 7, y: 1, align: 'left' },
  { x: 0, y: 11, align: 'center' },
  { x: -7, y: 1, align: 'right' },
] as const;
type Stand = (typeof STANDS)[number];
const COVERED = 'covered';

/** Says which places of the map are covered by pictures: names keep clear of them. */
export const cover = (map: OlMap, coordinates: readonly Coordinate[]): void => map.set(COVERED, coordinates);

let measuring: CanvasRenderingContext2D | null = null;
function widthOf(name: string): number {
  measuring ??= document.createElement('canvas').getContext('2d');
  if (!measuring) return name.length * 7;
  measuring.font = FONT;
  return measuring.measureText(name).width;
}

/** The first stand at which the name touches nothing that is covered; pixels from the place, y downwards. */
function standOf(name: string, covered: readonly Coordinate[]): Stand | null {
  const width = widthOf(name);
  const isClear = ({ x, y, align }: Stand) => {
    const left = align === 'center' ? x - width / 2 : align === 'left' ? x : x - width;
    return covered.every(
      ([cx = 0, cy = 0]) =>
        cx + COVER_PX < left ||
        cx - COVER_PX > left + width ||
        cy + COVER_PX < y - LINE_PX / 2 ||
        cy - COVER_PX > y + LINE_PX / 2,
    );
  };
  return STANDS.find(isClear) ?? null;
}

export function labelLayer(map: OlMap, colours: MapColours): VectorLayer {
  const source = new VectorSource();
  const layer = new VectorLayer({
    source,
    declutter: true,
    zIndex: 5,
    style: (feature, resolution) => {
      const name = String(feature.get('name'));
      const [px = 0, py = 0] = (feature.getGeometry() as Point).getCoordinates();
      const covered = ((map.get(COVERED) as readonly Coordinate[] | undefined) ?? []).map(
        ([x = 0, y = 0]): Coordinate => [(x - px) / resolution, (py - y) / resolution],
      );
      const stand = standOf(name, covered);
      if (!stand) return;
      return new Style({
        image: new Circle({ radius: 1.8, fill: new Fill({ color: colours.label }) }),
        text: new Text({
          text: name,
          font: FONT,
          offsetX: stand.x,
          offsetY: stand.y,
          textAlign: stand.align,
          fill: new Fill({ color: colours.label }),
          stroke: new Stroke({ color: colours.halo, width: 3 }),
        }),
      });
    },
  });
  map.on(`change:${COVERED}` as 'change', () => layer.changed());
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
