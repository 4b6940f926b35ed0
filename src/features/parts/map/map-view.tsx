'use client';

// The map: land, names and lines, the photos of the search gathered in clusters with a picture on each, and what a desk
// lays over it. Clusters are buttons of the page over the canvas, so that they have names and can be reached by
// keyboard.

import { App, Button, Segmented } from 'antd';
import type Layer from 'ol/layer/Layer';
import { type DragEvent, type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { z } from 'zod';
import type { LatLon } from '@/core/geo/position';
import type { Box } from '@/core/geo/sphere';
import { PHOTOS_DRAGGED, draggedPhotos } from '@/features/parts/selection/dragged-photos';
import { useDark } from '@/ui/dark';
import { keptChoice } from '@/ui/kept-choice';
import { Clusters } from './clusters';
import styles from './map.module.css';
import { allowOwnMap, forgetOwnMap, recallOwnMap, takeOwnMap, useOwnMap } from './own-map';
import { ownTiles } from './own-tiles';
import {
  type MapEvents,
  type MapStyle,
  boxInView,
  mapColoursOf,
  moveByKey,
  placeOf,
  useGround,
  useLayers,
  useMap,
  useShownBox,
  zoomBy,
} from './use-map';

const STYLES: Record<MapStyle, string> = { plain: 'Plain', dark: 'Dark', graticule: 'Graticule' };

/** `null` until one is chosen: then dark by night. */
const useMapChoice = keptChoice<{ style: MapStyle | null }>(
  'wembo-map',
  z.object({ style: z.enum(['plain', 'dark', 'graticule']).nullable() }),
  { style: null },
);

function useMapStyle(): MapStyle {
  const { style } = useMapChoice();
  const { dark } = useDark();
  return style ?? (dark ? 'dark' : 'plain');
}

interface Props extends MapEvents {
  scope: string;
  /** Counted up when the photos may lie elsewhere. */
  version: number;
  layers?: Layer[];
  /** Goes there whenever it changes; `null` leaves the view. */
  show?: Box | null;
  onOpen: (photoId: string) => void;
  /** Photos were put down somewhere. */
  onDrop?: (photoIds: string[], position: LatLon) => void;
  /** What stands in the bar above the map. */
  children?: ReactNode;
}

/** The tiles of the person's own file, in the colours of the ground. */
function useOwnLayer(style: MapStyle): Layer | null {
  const file = useOwnMap((state) => state.file);
  const [layer, setLayer] = useState<Layer | null>(null);
  useEffect(() => void recallOwnMap().catch(() => undefined), []); // it waits, and says so by its name
  useEffect(() => {
    let current = true;
    setLayer(null);
    if (file)
      void ownTiles(file, mapColoursOf(style)).then(
        (made) => current && setLayer(made),
        () => undefined, // the file is gone: the land is there all the same
      );
    return () => {
      current = false;
    };
  }, [file, style]);
  return layer;
}

export function MapView({
  scope,
  version,
  layers = NO_LAYERS,
  show = null,
  onOpen,
  onDrop,
  children,
  ...events
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const style = useMapStyle();
  const own = useOwnLayer(style);
  const [problem, setProblem] = useState<string | null>(null);
  const { map, isNear } = useMap(box, events);
  const { onArea } = events;
  useGround(map, style, own, setProblem);
  useLayers(map, layers);
  useShownBox(map, show);
  const drop = (event: DragEvent) => {
    const photoIds = draggedPhotos(event.dataTransfer);
    if (!map || photoIds.length === 0 || !onDrop) return;
    event.preventDefault();
    event.stopPropagation();
    onDrop(photoIds, placeOf(map.getEventCoordinate(event.nativeEvent)));
  };
  const byKey = (event: KeyboardEvent) => {
    if (!map || !moveByKey(map, event.key)) return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={styles.map}>
      <div className={styles.bar}>
        <StyleChoice />
        {onArea && (
          <Button size="small" onClick={() => map && onArea(boxInView(map))} title="Or draw one: hold Ctrl and drag">
            Only what is in view
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
        onKeyDown={byKey}
      />
      {map && <Clusters map={map} scope={scope} version={version} onOpen={onOpen} />}
      <div className={styles.zoom}>
        <button type="button" aria-label="Nearer" onClick={() => map && zoomBy(map, 1)}>
          +
        </button>
        <button type="button" aria-label="Farther" onClick={() => map && zoomBy(map, -1)}>
          −
        </button>
      </div>
      {problem && (
        <p className={styles.problem} role="alert">
          The land could not be drawn ({problem}). Photos and tracks are where they are all the same.
        </p>
      )}
      <p className={styles.credit}>
        {isNear && !own ? 'The land, at 1:10 million, is rough here. ' : ''}Land: Natural Earth. Names: GeoNames, CC BY
        4.0
      </p>
    </div>
  );
}

/** The style of the ground, and a map file of one's own over it. */
function StyleChoice() {
  const style = useMapStyle();
  const { file, waiting } = useOwnMap();
  const { message } = App.useApp();
  const saying = (act: Promise<void>) =>
    void act.catch((error: unknown) => message.error(error instanceof Error ? error.message : String(error), 8));
  return (
    <>
      <Segmented
        size="small"
        value={style}
        options={Object.entries(STYLES).map(([value, label]) => ({ value, label }))}
        onChange={(value) => useMapChoice.setState({ style: value as MapStyle })}
        aria-label="Style of the map"
      />
      {waiting && !file && (
        <Button size="small" onClick={() => saying(allowOwnMap(waiting))}>
          Use {waiting.name} again
        </Button>
      )}
      <Button size="small" onClick={() => saying(pickMapFile())}>
        {file ? `Tiles: ${file.name}` : 'Add a map file…'}
      </Button>
      {(file ?? waiting) && (
        <Button size="small" type="text" onClick={() => saying(forgetOwnMap())}>
          Without it
        </Button>
      )}
    </>
  );
}

const NO_LAYERS: Layer[] = [];

/** By the browser's own choice of files, where that can be remembered. */
async function pickMapFile(): Promise<void> {
  if ('showOpenFilePicker' in window) {
    const types: FilePickerAcceptType[] = [{ accept: { 'application/vnd.pmtiles': ['.pmtiles'] } }];
    const [handle] = await window.showOpenFilePicker({ types }).catch((error: unknown) => {
      if (error instanceof DOMException && error.name === 'AbortError') return []; // the person thought better of it
      throw error;
    });
    if (handle) await takeOwnMap(handle);
    return;
  }
  const file = await new Promise<File | undefined>((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = '.pmtiles';
    input.onchange = () => resolve(input.files?.[0]);
    input.oncancel = () => resolve(undefined);
    input.click();
  });
  if (file) await takeOwnMap(file);
}
