'use client';

// The map of the scope, with the photos that have no position beside it, to be put where they belong: dragged, by
// coordinates, by a name, or from another photo.

import { App, Button, Segmented } from 'antd';
import { useMemo, useState } from 'react';
import type { LatLon } from '@/core/geo/position';
import { type Box, destination } from '@/core/geo/sphere';
import { placedAt } from '@/core/search/placing';
import { areaText } from '@/core/query/terms';
import { withTerm } from '@/core/query/write-scope';
import { photos, positionWords } from '@/ui/format';
import { givePlaceShown, givePosition } from '@/features/parts/map/give-position';
import { MapView } from '@/features/parts/map/map-view';
import { PlaceSearch, type GoneTo } from '@/features/parts/map/place-search';
import { useScope } from '@/features/parts/search/use-scope';
import { clearSelection, selectOnly, useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { nearestInTime } from './nearest-in-time';
import styles from './locate.module.css';
import { RecordCard } from '@/features/parts/record-card/record-card';
import { SavePlaces } from './save-places';
import { UnplacedList } from './unplaced-list';
import { usePlacing } from './use-placing';
import { useSession } from '@/features/parts/session/use-session';

export function MapDesk() {
  const { scope, setScope } = useScope();
  const { message } = App.useApp();
  const version = useSession((state) => state.indexVersion);
  const selected = useSelection((state) => state.ids);
  const placing = usePlacing(scope);
  const [show, setShow] = useState<Box | null>(null);
  const [centre, setCentre] = useState<LatLon | null>(null);
  const [which, setWhich] = useState<'camera' | 'shown'>('camera');
  const ids = useMemo(() => [...selected], [selected]);
  const place = async (photoIds: readonly string[], to: GoneTo) => {
    if (which === 'camera') await givePosition(photoIds, to);
    else await givePlaceShown(photoIds, to);
    message.success(
      which === 'camera'
        ? `${photos(photoIds.length)} put at ${positionWords(to)}`
        : `${photos(photoIds.length)}: ${to.city ?? positionWords(to)} is among the places shown`,
    );
  };
  /** All of them get the place of the first of them that has one. */
  const sameForAll = async (all: readonly string[]) => {
    const wanted = new Set(all);
    const first = placing?.ids.findIndex((id, at) => wanted.has(id) && placedAt(placing, at)) ?? -1;
    const to = placing && placedAt(placing, first);
    if (to) await place(all, to);
    else message.warning('None of them has a position yet.');
  };
  const wholeSet = async () => sameForAll([...new Set((await session.search.setsOf(ids)).flatMap((set) => set.ids))]);
  const goTo = (to: GoneTo) => setShow(around(to, 1500));
  const copyNeighbour = async () => {
    const from = placing && nearestInTime(placing, ids);
    if (!from) message.warning('No photo of the search near them in time has a position.');
    else await place(ids, from);
  };
  return (
    <div className={styles.mapDesk}>
      <MapView
        scope={scope}
        version={version}
        show={show}
        onOpen={selectOnly}
        onDrop={(photoIds, position) => void place(photoIds, position)}
        onArea={(box) => setScope((now) => withTerm(now, 'area', areaText(box)))}
        onView={setCentre}
      >
        {placing && <SavePlaces ids={placing.ids} names={placing.names} />}
        <div className={styles.goTo}>
          <PlaceSearch label="Go to" near={centre} onGo={goTo} />
        </div>
      </MapView>
      <aside className={styles.beside} aria-label="Photos to place">
        {ids.length > 0 && (
          <section className={styles.hand} aria-label="By hand">
            <h2>{photos(ids.length)} selected</h2>
            <Segmented
              size="small"
              className={styles.which}
              value={which}
              onChange={(value) => setWhich(value as 'camera' | 'shown')}
              options={[
                { value: 'camera', label: 'Where the camera stood' },
                { value: 'shown', label: 'Place shown' },
              ]}
              aria-label="Which place"
            />
            <PlaceSearch label="Put them at" near={centre} onGo={(to) => void place(ids, to)} />
            <div className={styles.row}>
              <Button size="small" disabled={!centre} onClick={() => centre && void place(ids, centre)}>
                At the middle of the map
              </Button>
              <Button size="small" onClick={() => void copyNeighbour()}>
                Where the nearest in time is
              </Button>
              {ids.length > 1 && (
                <Button size="small" onClick={() => void sameForAll(ids)}>
                  All where the first is
                </Button>
              )}
              <Button size="small" onClick={() => void wholeSet()}>
                Its whole set the same
              </Button>
              <Button size="small" onClick={() => void givePosition(ids, null)}>
                Without a position
              </Button>
              <Button size="small" type="text" onClick={clearSelection}>
                Select none
              </Button>
            </div>
          </section>
        )}
        {ids.length > 0 ? (
          <div className={styles.record}>
            <RecordCard total={placing?.ids.length ?? 0} />
          </div>
        ) : (
          <UnplacedList placing={placing} />
        )}
      </aside>
    </div>
  );
}

function around({ lat, lon }: LatLon, metres: number): Box {
  const [north, east, south, west] = [0, 90, 180, 270].map((bearing) => destination({ lat, lon }, bearing, metres));
  return { south: south?.lat ?? lat, west: west?.lon ?? lon, north: north?.lat ?? lat, east: east?.lon ?? lon };
}
