'use client';

// The map: land, names and lines, the photos of the scope gathered in clusters with a picture on each, and what a desk
// lays over it. Clusters are buttons of the page over the canvas, so that they have names and can be reached by keyboard.

import { App, Button, Segmented } from 'antd';
import Graticule from 'ol/layer/Graticule';
import type Layer from 'ol/layer/Layer';
import OlMap from 'ol/Map';
import View from 'ol/View';
import { defaults as defaultControls } from 'ol/control/defaults';
import ScaleLine from 'ol/control/ScaleLine';
import { platformModifierKeyOnly } from 'ol/events/condition';
import DragBox from 'ol/interaction/DragBox';
import { fromLonLat, toLonLat, transformExtent } from 'ol/proj';
import { Stroke } from 'ol/style';
import 'ol/ol.css';
import { type DragEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { z } from 'zod';
import type { LatLon } from '@/core/geo/position';
import type { Box } from '@/core/geo/sphere';
import { keptChoice } from '@/ui/kept-choice';
import { PHOTOS_DRAGGED, draggedPhotos } from '@/features/parts/selection/dragged-photos';
import { Clusters } from './clusters';
import { labelLayer } from './labels';
import { MAP_COLOURS, landLayers } from './land';
import styles from './map.module.css';
import { ownTiles } from './own-tiles';

/** Nearer than this the coast is wrong by what one sees. */
const ROUGH_ZOOM = 11.5;

const STYLES = { plain: 'Plain', dark: 'Dark', graticule: 'Graticule' } as const;
type MapStyle = keyof typeof STYLES;

const useMapChoice = keptChoice<{ style: MapStyle }>(
  'wembo-map',
  z.object({ style: z.enum(['plain', 'dark', 'graticule']) }),
  { style: 'plain' },
);

/** The view as it was left, so that a change of desk or place does not move the map. */
let lastView: { centre: [number, number]; zoom: number } | null = null;

interface Props {
  scope: string;
  /** Counted up when the photos may lie elsewhere. */
  version: number;
  layers?: Layer[];
  /** Goes there whenever it changes; `null` leaves the view. */
  show?: Box | null;
  onOpen: (photoId: string) => void;
  /** Photos were put down somewhere. */
  onDrop?: (photoIds: string[], position: LatLon) => void;
  /** A place on the ground was clicked. */
  onGround?: (position: LatLon) => void;
  onArea?: (box: Box) => void;
  /** What stands in the bar above the map. */
  children?: ReactNode;
  /** Told whenever the view has come to rest. */
  onView?: (centre: LatLon) => void;
}

export function MapView({
  scope,
  version,
  layers = NO_LAYERS,
  show = null,
  onOpen,
  onDrop,
  onGround,
  onArea,
  onView,
  children,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [map, setMap] = useState<OlMap | null>(null);
  const { style } = useMapChoice();
  const { message } = App.useApp();
  const [own, setOwn] = useState<{ layer: Layer; name: string } | null>(null);
  const [isNear, setIsNear] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const told = useRef({ onGround, onArea, onView });
  told.current = { onGround, onArea, onView };

  useEffect(() => {
    if (!box.current) return;
    const view = new View({
      center: lastView?.centre ?? fromLonLat([-6.9, 62.05]),
      zoom: lastView?.zoom ?? 3,
      minZoom: 1,
      maxZoom: 19,
      constrainResolution: false,
    });
    const made = new OlMap({
      target: box.current,
      view,
      controls: defaultControls({ attribution: false, rotate: false, zoom: false }).extend([new ScaleLine()]),
    });
    const area = new DragBox({ condition: platformModifierKeyOnly, className: styles.dragBox });
    area.on('boxend', () => {
      const [west = 0, south = 0, east = 0, north = 0] = transformExtent(
        area.getGeometry().getExtent(),
        'EPSG:3857',
        'EPSG:4326',
      );
      told.current.onArea?.({ south, west, north, east });
    });
    made.addInteraction(area);
    made.on('singleclick', ({ coordinate }) => told.current.onGround?.(placeOf(coordinate)));
    made.on('moveend', () => {
      lastView = { centre: (view.getCenter() ?? [0, 0]) as [number, number], zoom: view.getZoom() ?? 3 };
      setIsNear((view.getZoom() ?? 0) > ROUGH_ZOOM);
      told.current.onView?.(placeOf(view.getCenter() ?? [0, 0]));
    });
    setMap(made);
    return () => made.setTarget(undefined);
  }, []);

  useEffect(() => {
    if (!map) return;
    const colours = style === 'dark' ? MAP_COLOURS.dark : MAP_COLOURS.light;
    const ground = [...landLayers(colours, setTrouble), labelLayer(map, colours), ...(own ? [own.layer] : [])];
    if (style === 'graticule')
      ground.push(
        new Graticule({
          strokeStyle: new Stroke({ color: '#7d8689', width: 0.7, lineDash: [3, 3] }),
          showLabels: true,
          wrapX: true,
          zIndex: 1,
        }),
      );
    for (const layer of ground) map.addLayer(layer);
    if (box.current) box.current.style.background = colours.sea;
    return () => ground.forEach((layer) => map.removeLayer(layer));
  }, [map, style, own]);

  useEffect(() => {
    if (!map) return;
    for (const layer of layers) map.addLayer(layer);
    return () => layers.forEach((layer) => map.removeLayer(layer));
  }, [map, layers]);

  useEffect(() => {
    if (!map || !show) return;
    const extent = transformExtent([show.west, show.south, show.east, show.north], 'EPSG:4326', 'EPSG:3857');
    map.getView().fit(extent, { padding: [70, 60, 40, 60], maxZoom: 15 });
  }, [map, show]);

  const drop = (event: DragEvent) => {
    const photoIds = draggedPhotos(event.dataTransfer);
    if (!map || photoIds.length === 0 || !onDrop) return;
    event.preventDefault();
    event.stopPropagation();
    onDrop(photoIds, placeOf(map.getEventCoordinate(event.nativeEvent)));
  };
  const openTiles = async (file: File) => {
    try {
      setOwn({ layer: await ownTiles(file, style === 'dark' ? MAP_COLOURS.dark : MAP_COLOURS.light), name: file.name });
    } catch (error) {
      message.error(error instanceof Error ? error.message : String(error), 8);
    }
  };
  const areaOfView = () => {
    if (!map) return;
    const [west = 0, south = 0, east = 0, north = 0] = transformExtent(
      map.getView().calculateExtent(),
      'EPSG:3857',
      'EPSG:4326',
    );
    const held = (degrees: number, limit: number) => Math.max(-limit, Math.min(limit, degrees));
    onArea?.({ south: held(south, 90), west: held(west, 180), north: held(north, 90), east: held(east, 180) });
  };
  const zoomBy = (by: number) => map?.getView().animate({ zoom: (map.getView().getZoom() ?? 3) + by, duration: 150 });
  return (
    <div className={styles.map}>
      <div className={styles.bar}>
        <Segmented
          size="small"
          value={style}
          options={Object.entries(STYLES).map(([value, label]) => ({ value, label }))}
          onChange={(value) => useMapChoice.setState({ style: value as MapStyle })}
          aria-label="Style of the map"
        />
        {onArea && (
          <Button size="small" onClick={areaOfView} title="Or draw one: hold Ctrl and drag">
            Only what is in view
          </Button>
        )}
        <Button size="small" onClick={() => pickTiles((file) => void openTiles(file))}>
          {own ? `Tiles: ${own.name}` : 'Add a map file…'}
        </Button>
        {own && (
          <Button size="small" type="text" onClick={() => setOwn(null)}>
            Without them
          </Button>
        )}
        {children}
      </div>
      <div
        ref={box}
        className={styles.canvas}
        tabIndex={0}
        role="application"
        aria-label="Map: arrow keys move it, plus and minus zoom"
        onDragOver={(event) => event.dataTransfer.types.includes(PHOTOS_DRAGGED) && event.preventDefault()}
        onDrop={drop}
        onKeyDown={(event) => {
          if (event.key === '+' || event.key === '-') zoomBy(event.key === '+' ? 1 : -1);
          const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
          if (step && map) {
            event.preventDefault();
            event.stopPropagation();
            const view = map.getView();
            const [x = 0, y = 0] = view.getCenter() ?? [];
            const by = 120 * (view.getResolution() ?? 1);
            view.animate({ center: [x + (step[0] ?? 0) * by, y + (step[1] ?? 0) * by], duration: 120 });
          }
        }}
      />
      {map && <Clusters map={map} scope={scope} version={version} onOpen={onOpen} />}
      <div className={styles.zoom}>
        <button type="button" aria-label="Nearer" onClick={() => zoomBy(1)}>
          +
        </button>
        <button type="button" aria-label="Farther" onClick={() => zoomBy(-1)}>
          −
        </button>
      </div>
      {trouble && (
        <p className={styles.trouble} role="alert">
          The land could not be drawn ({trouble}). Photos and tracks are where they are all the same.
        </p>
      )}
      <p className={styles.credit}>
        {isNear && !own ? 'The land, at 1:10 million, is rough here. ' : ''}Land: Natural Earth. Names: GeoNames, CC BY
        4.0
      </p>
    </div>
  );
}

const NO_LAYERS: Layer[] = [];

/** With a longitude of this world, however often the map was pulled around it. */
function placeOf(coordinate: number[]): LatLon {
  const [lon = 0, lat = 0] = toLonLat(coordinate);
  return {
    lat: Number(Math.max(-90, Math.min(90, lat)).toFixed(6)),
    lon: Number((((lon + 540) % 360) - 180).toFixed(6)),
  };
}

function pickTiles(take: (file: File) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.accept = '.pmtiles';
  input.onchange = () => input.files?.[0] && take(input.files[0]);
  input.click();
}
