'use client';

import type OlMap from 'ol/Map';
import { fromLonLat, transformExtent } from 'ol/proj';
import { useEffect, useRef, useState } from 'react';
import type { Cluster } from '@/core/search/map-photos';
import { count, photos } from '@/ui/format';
import { usePreview } from '@/features/parts/picture/previews';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { cover } from './labels';
import styles from './map.module.css';
import { useSession } from '@/features/parts/session/use-session';

/** The photos in view, asked for anew whenever the map has come to rest; between, they move with it. */
export function Clusters({
  map,
  scope,
  version,
  onOpen,
}: {
  map: OlMap;
  scope: string;
  version: number;
  onOpen: (photoId: string) => void;
}) {
  const [clusters, setClusters] = useState<Cluster[]>([]);
  const stage = useSession((state) => state.stage.state);
  const latest = useRef(0);
  const layer = useRef<HTMLDivElement>(null);
  const shownScope = useRef<string | null>(null);

  useEffect(() => {
    if (stage !== 'ready') return;
    const ask = async () => {
      const mine = ++latest.current;
      const view = map.getView();
      const [west = 0, south = 0, east = 0, north = 0] = transformExtent(
        view.calculateExtent(),
        'EPSG:3857',
        'EPSG:4326',
      );
      const found = await session.search.clusters(
        scope,
        {
          south: Math.max(-90, south),
          west: Math.max(-180, west),
          north: Math.min(90, north),
          east: Math.min(180, east),
        },
        view.getZoom() ?? 0,
      );
      if (mine !== latest.current) return;
      setClusters(found.clusters);
      // another scope is looked at as a whole, once
      if (shownScope.current !== scope && found.bounds) {
        const { south: s, west: w, north: n, east: e } = found.bounds;
        if (shownScope.current !== null || !sawBefore)
          view.fit(transformExtent([w, s, e, n], 'EPSG:4326', 'EPSG:3857'), { padding: [80, 80, 50, 80], maxZoom: 14 });
        sawBefore = true;
      }
      shownScope.current = scope;
    };
    void ask().catch((error: unknown) => console.error(error));
    const rest = () => void ask().catch((error: unknown) => console.error(error));
    map.on('moveend', rest);
    return () => map.un('moveend', rest);
  }, [map, scope, version, stage]);

  useEffect(() => {
    const elements = layer.current?.children ?? [];
    const coordinates = clusters.map(({ lat, lon }) => fromLonLat([lon, lat]));
    cover(map, coordinates);
    /** Where the map was when each was set in its place: while it is only pulled along, all move as one. */
    let set: { resolution: number; anchor: number[] } | null = null;
    const place = () => {
      const box = layer.current;
      const resolution = map.getView().getResolution() ?? 1;
      if (!box) return;
      if (set?.resolution === resolution) {
        const [x = 0, y = 0] = map.getPixelFromCoordinate(set.anchor) ?? [];
        box.style.transform = `translate(${x}px, ${y}px)`;
        return;
      }
      const anchor = map.getCoordinateFromPixel([0, 0]);
      if (!anchor) return; // nothing is drawn yet
      set = { resolution, anchor };
      box.style.transform = 'translate(0, 0)';
      coordinates.forEach((coordinate, index) => {
        const [x = 0, y = 0] = map.getPixelFromCoordinate(coordinate) ?? [];
        const element = elements[index] as HTMLElement | undefined;
        if (element) element.style.transform = `translate(${x}px, ${y}px)`;
      });
    };
    place();
    map.on('postrender', place);
    return () => map.un('postrender', place);
  }, [map, clusters]);

  const open = (cluster: Cluster) => {
    if (cluster.count === 1) onOpen(cluster.photoId);
    else
      map.getView().animate({
        center: fromLonLat([cluster.lon, cluster.lat]),
        zoom: Math.min(19, (map.getView().getZoom() ?? 0) + 2),
        duration: 200,
      });
  };
  return (
    <div className={styles.clusters}>
      <div ref={layer} className={styles.moved} role="group" aria-label="Photos on the map">
        {clusters.map((cluster) => (
          <ClusterButton key={`${cluster.photoId} ${cluster.count}`} cluster={cluster} onOpen={open} onPhoto={onOpen} />
        ))}
      </div>
    </div>
  );
}

/** Whether the map has shown photos since the page was opened: then it stays where the person left it. */
let sawBefore = false;

function ClusterButton({
  cluster,
  onOpen,
  onPhoto,
}: {
  cluster: Cluster;
  onOpen: (cluster: Cluster) => void;
  onPhoto: (photoId: string) => void;
}) {
  const preview = usePreview(cluster.photoId);
  const selected = useSelection((state) => state.ids.has(cluster.photoId));
  return (
    <button
      type="button"
      className={styles.cluster}
      data-selected={selected}
      aria-label={cluster.count === 1 ? 'A photo' : `${photos(cluster.count)}: come nearer`}
      onClick={() => onOpen(cluster)}
      onDoubleClick={() => onPhoto(cluster.photoId)}
    >
      {preview && <img src={preview} alt="" draggable={false} />}
      {cluster.count > 1 && <span className="mono">{count(cluster.count)}</span>}
    </button>
  );
}
