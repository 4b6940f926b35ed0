'use client';

// The map: land, names and lines, the photos of the search gathered in clusters with a picture on each, and what a desk
// lays over it. Clusters are buttons of the page over the canvas, so that they have names and can be reached by
// keyboard.

import { App, Button, Segmented } from 'antd';
import type Layer from 'ol/layer/Layer';
import { type DragEvent, type KeyboardEvent, type ReactNode, useRef, useState } from 'react';
import { z } from 'zod';
import type { LatLon } from '@/core/geo/position';
import type { Box } from '@/core/geo/sphere';
import { PHOTOS_DRAGGED, draggedPhotos } from '@/features/parts/selection/dragged-photos';
import { keptChoice } from '@/ui/kept-choice';
import { Clusters } from './clusters';
import styles from './map.module.css';
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

const useMapChoice = keptChoice<{ style: MapStyle }>(
  'wembo-map',
  z.object({ style: z.enum(['plain', 'dark', 'graticule']) }),
  { style: 'plain' },
);

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

/** A map file of the person's own. */
interface OwnMap {
  layer: Layer;
  name: string;
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
  const { style } = useMapChoice();
  const [own, setOwn] = useState<OwnMap | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { map, isNear } = useMap(box, events);
  const { onArea } = events;
  useGround(map, style, own?.layer ?? null, setProblem);
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
        <StyleChoice own={own} onOwn={setOwn} />
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
function StyleChoice({ own, onOwn }: { own: OwnMap | null; onOwn: (own: OwnMap | null) => void }) {
  const { style } = useMapChoice();
  const { message } = App.useApp();
  const open = async (file: File) => {
    try {
      onOwn({ layer: await ownTiles(file, mapColoursOf(style)), name: file.name });
    } catch (error) {
      message.error(error instanceof Error ? error.message : String(error), 8);
    }
  };
  return (
    <>
      <Segmented
        size="small"
        value={style}
        options={Object.entries(STYLES).map(([value, label]) => ({ value, label }))}
        onChange={(value) => useMapChoice.setState({ style: value as MapStyle })}
        aria-label="Style of the map"
      />
      <Button size="small" onClick={() => pickMapFile((file) => void open(file))}>
        {own ? `Tiles: ${own.name}` : 'Add a map file…'}
      </Button>
      {own && (
        <Button size="small" type="text" onClick={() => onOwn(null)}>
          Without it
        </Button>
      )}
    </>
  );
}

const NO_LAYERS: Layer[] = [];

function pickMapFile(take: (file: File) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.accept = '.pmtiles';
  input.onchange = () => input.files?.[0] && take(input.files[0]);
  input.click();
}
