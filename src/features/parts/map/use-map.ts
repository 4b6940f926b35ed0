'use client';

// The map of OpenLayers as a page holds it: made once, its ground by the style that was chosen, over it what a desk
// lays there, and where it looks.

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
import { type RefObject, useEffect, useRef, useState } from 'react';
import type { LatLon } from '@/core/geo/position';
import type { Box } from '@/core/geo/sphere';
import { labelLayer } from './labels';
import { MAP_COLOURS, type MapColours, landLayers } from './land';
import styles from './map.module.css';

export type MapStyle = 'plain' | 'dark' | 'graticule';

export const mapColoursOf = (style: MapStyle): MapColours => (style === 'dark' ? MAP_COLOURS.dark : MAP_COLOURS.light);

/** Nearer than this the coast is wrong by what one sees. */
const ROUGH_ZOOM = 11.5;

const ARROWS: Readonly<Record<string, readonly [x: number, y: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};
/** An arrow key moves the map by so much. */
const STEP_PX = 120;

/** The view as it was left, so that a change of desk or place does not move the map. */
let lastView: { centre: [number, number]; zoom: number } | null = null;

export interface MapEvents {
  /** A place on the ground was clicked. */
  onGround?: ((position: LatLon) => void) | undefined;
  onArea?: ((box: Box) => void) | undefined;
  /** Told whenever the view has come to rest. */
  onView?: ((centre: LatLon) => void) | undefined;
}

/** The map in `box`, `null` until it is made, and whether it is so near that the land is rough. */
export function useMap(
  box: RefObject<HTMLDivElement | null>,
  events: MapEvents,
): { map: OlMap | null; isNear: boolean } {
  const [map, setMap] = useState<OlMap | null>(null);
  const [isNear, setIsNear] = useState(false);
  const told = useRef(events);
  useEffect(() => {
    told.current = events;
  });
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
    area.on('boxend', () => told.current.onArea?.(boxOf(area.getGeometry().getExtent())));
    made.addInteraction(area);
    made.on('singleclick', ({ coordinate }) => told.current.onGround?.(placeOf(coordinate)));
    made.on('moveend', () => {
      lastView = { centre: (view.getCenter() ?? [0, 0]) as [number, number], zoom: view.getZoom() ?? 3 };
      setIsNear((view.getZoom() ?? 0) > ROUGH_ZOOM);
      told.current.onView?.(placeOf(view.getCenter() ?? [0, 0]));
    });
    setMap(made);
    return () => made.setTarget(undefined);
  }, [box]);
  return { map, isNear };
}

/** Land, names and, where asked for, lines, under all else; and the person's own map file over the land. */
export function useGround(
  map: OlMap | null,
  style: MapStyle,
  own: Layer | null,
  onProblem: (why: string) => void,
): void {
  useEffect(() => {
    if (!map) return;
    const colours = mapColoursOf(style);
    const ground = [...landLayers(colours, onProblem), labelLayer(map, colours), ...(own ? [own] : [])];
    if (style === 'graticule') ground.push(graticule());
    for (const layer of ground) map.addLayer(layer);
    map.getTargetElement()?.style.setProperty('background', colours.sea);
    return () => ground.forEach((layer) => map.removeLayer(layer));
  }, [map, style, own, onProblem]);
}

const graticule = () =>
  new Graticule({
    strokeStyle: new Stroke({ color: '#7d8689', width: 0.7, lineDash: [3, 3] }),
    showLabels: true,
    wrapX: true,
    zIndex: 1,
  });

export function useLayers(map: OlMap | null, layers: readonly Layer[]): void {
  useEffect(() => {
    if (!map) return;
    for (const layer of layers) map.addLayer(layer);
    return () => layers.forEach((layer) => map.removeLayer(layer));
  }, [map, layers]);
}

/** Goes there whenever it changes; `null` leaves the view. */
export function useShownBox(map: OlMap | null, show: Box | null): void {
  useEffect(() => {
    if (!map || !show) return;
    const extent = transformExtent([show.west, show.south, show.east, show.north], 'EPSG:4326', 'EPSG:3857');
    map.getView().fit(extent, { padding: [70, 60, 40, 60], maxZoom: 15 });
  }, [map, show]);
}

export function zoomBy(map: OlMap, by: number): void {
  map.getView().animate({ zoom: (map.getView().getZoom() ?? 3) + by, duration: 150 });
}

/** Arrow keys move the map, plus and minus zoom. Whether the key was one of them. */
export function moveByKey(map: OlMap, key: string): boolean {
  if (key === '+' || key === '-') zoomBy(map, key === '+' ? 1 : -1);
  const step = ARROWS[key];
  if (!step) return false;
  const view = map.getView();
  const [x = 0, y = 0] = view.getCenter() ?? [];
  const by = STEP_PX * (view.getResolution() ?? 1);
  view.animate({ center: [x + step[0] * by, y + step[1] * by], duration: 120 });
  return true;
}

/** What is in view, on this world. */
export function boxInView(map: OlMap): Box {
  const { south, west, north, east } = boxOf(map.getView().calculateExtent());
  const held = (degrees: number, limit: number) => Math.max(-limit, Math.min(limit, degrees));
  return { south: held(south, 90), west: held(west, 180), north: held(north, 90), east: held(east, 180) };
}

function boxOf(extent: number[]): Box {
  const [west = 0, south = 0, east = 0, north = 0] = transformExtent(extent, 'EPSG:3857', 'EPSG:4326');
  return { south, west, north, east };
}

/** With a longitude of this world, however often the map was pulled around it. */
export function placeOf(coordinate: number[]): LatLon {
  const [lon = 0, lat = 0] = toLonLat(coordinate);
  return {
    lat: Number(Math.max(-90, Math.min(90, lat)).toFixed(6)),
    lon: Number((((lon + 540) % 360) - 180).toFixed(6)),
  };
}
