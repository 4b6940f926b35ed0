// The ground of the map: land and borders from Natural Earth, as polygons one by one, so that only those in view are
// drawn.

import GeoJSON from 'ol/format/GeoJSON';
import VectorLayer from 'ol/layer/Vector';
import VectorSource from 'ol/source/Vector';
import { Fill, Stroke, Style } from 'ol/style';
import type { MultiPolygon, Polygon, Position } from 'geojson';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';

export interface MapColours {
  sea: string;
  land: string;
  line: string;
  label: string;
  halo: string;
}

/** Greys, so that the photos stay the only colour on the screen. */
export const MAP_COLOURS: Record<'light' | 'dark', MapColours> = {
  light: { sea: '#dde1e2', land: '#f4f4f1', line: '#b3b6b4', label: '#3f494e', halo: '#f4f4f1' },
  dark: { sea: '#15191b', land: '#2a3033', line: '#505a5e', label: '#c6cdd0', halo: '#1b1f21' },
};

type Countries = Topology<{ countries: GeometryCollection<{ name: string }> }>;

const loaded = new Map<string, Promise<VectorSource>>();

/** Read once for all maps of the page; a failed reading is tried again. */
function countriesSource(name: string): Promise<VectorSource> {
  const known = loaded.get(name);
  if (known) return known;
  const loading = readCountries(name);
  loaded.set(name, loading);
  loading.catch(() => loaded.delete(name));
  return loading;
}

async function readCountries(name: string): Promise<VectorSource> {
  const response = await fetch(`/api/map/${name}`);
  if (!response.ok) throw new Error(`the map could not be read (${response.status})`);
  const topology = (await response.json()) as Countries;
  const collection = feature(topology, topology.objects.countries);
  const single = collection.features
    .flatMap(({ geometry }) => polygonsOf(geometry as Polygon | MultiPolygon))
    .flatMap(acrossTheDateLine)
    .map((geometry) => ({ type: 'Feature' as const, properties: {}, geometry }));
  return new VectorSource({
    features: new GeoJSON().readFeatures(
      { type: 'FeatureCollection', features: single },
      { featureProjection: 'EPSG:3857' },
    ),
  });
}

const polygonsOf = (geometry: Polygon | MultiPolygon): Polygon[] =>
  geometry.type === 'Polygon'
    ? [geometry]
    : geometry.coordinates.map((coordinates) => ({ type: 'Polygon', coordinates }));

/**
 * The package joins what lies on both sides of the antimeridian: a ring goes on past 180°, and is drawn once more from
 * the other side.
 */
function acrossTheDateLine({ coordinates }: Polygon): Polygon[] {
  const rings = coordinates.map(unrolled);
  const longitudes = rings.flat().map(([lon = 0]) => lon);
  const shifted = (by: number): Polygon => ({
    type: 'Polygon',
    coordinates: rings.map((ring) => ring.map(([lon = 0, lat = 0]) => [lon + by, lat])),
  });
  if (longitudes.some((lon) => lon > 180)) return [shifted(0), shifted(-360)];
  if (longitudes.some((lon) => lon < -180)) return [shifted(0), shifted(360)];
  return [shifted(0)];
}

/**
 * Without jumps from one edge of the map to the other; a ring around a pole, which does not come back to where it
 * began, stays as it is.
 */
function unrolled(ring: Position[]): Position[] {
  let turns = 0;
  const rolled = ring.map(([lon = 0, lat = 0], at) => {
    const before = ring[at - 1]?.[0];
    if (before !== undefined && lon - before > 180) turns -= 360;
    if (before !== undefined && lon - before < -180) turns += 360;
    return [lon + turns, lat];
  });
  return turns === 0 ? rolled : ring;
}

/** From this resolution on (metres a pixel at the equator) the finer land is drawn. */
const FINE_RESOLUTION = 2500;

export function landLayers(colours: MapColours, onProblem: (reason: string) => void): VectorLayer[] {
  const style = new Style({
    fill: new Fill({ color: colours.land }),
    stroke: new Stroke({ color: colours.line, width: 1 }),
  });
  const layer = (name: string, resolutions: { minResolution?: number; maxResolution?: number }) => {
    const made = new VectorLayer({ style, ...resolutions, zIndex: 0 });
    countriesSource(name).then(
      (source) => made.setSource(source),
      (error: unknown) => onProblem(error instanceof Error ? error.message : String(error)),
    );
    return made;
  };
  return [
    layer('countries-50m.json', { minResolution: FINE_RESOLUTION }),
    layer('countries-10m.json', { maxResolution: FINE_RESOLUTION }),
  ];
}
