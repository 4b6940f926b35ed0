'use client';

// Place names: town, province and country from the gazetteer, or from a spot of the person's own, for every photo
// of the scope that has a position; shown as a list of changes first.

import { App, Button, Progress, Radio } from 'antd';
import { useRef, useState } from 'react';
import type { FieldEdit } from '@/core/fields/edits';
import { previewEdits } from '@/core/fields/edits-summary';
import { type PlaceWords, planPlaceWords } from '@/core/locate/places/place-words';
import { photoBatches } from '@/storage/catalog/describing';
import { useLive } from '@/storage/catalog/live';
import { count, photos } from '@/ui/format';
import { EditsTable } from '@/features/parts/describing/edits-preview';
import { nearestPlaces } from '@/features/parts/map/places-client';
import { useScope } from '@/features/parts/search/use-scope';
import { clearSelection, useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './locate.module.css';
import { usePlacing } from './use-placing';
import { positionIn } from '@/core/fields/values';

interface Planned {
  edits: FieldEdit[];
  placed: number;
  without: number;
  /** The farthest of the named places, in metres. */
  farthestM: number;
}

export function PlaceNamesDesk() {
  const { scope } = useScope();
  const placing = usePlacing(scope);
  const selected = useSelection((state) => state.ids);
  const [mode, setMode] = useState<Mode>('fill');
  // what is selected elsewhere is not meant
  const chosen = placing?.ids.filter((id) => selected.has(id)) ?? [];
  const ids = chosen.length > 0 ? chosen : (placing?.ids ?? []);
  const { planned, progress, plan, cancel, forget } = usePlan(ids, mode);
  return (
    <section className={styles.page} aria-label="Place names">
      <h2>Place names</h2>
      <p className={styles.lead}>
        Town, province, country and its code of the nearest named place, for{' '}
        {chosen.length > 0 ? `the ${photos(chosen.length)} selected` : `the ${photos(ids.length)} of the search`}. Spots
        of your own go before the gazetteer. Where a photo has no place of the camera yet, that is written too, with its
        position.
      </p>
      <div className={styles.row}>
        <Radio.Group
          value={mode}
          onChange={({ target }) => {
            setMode(target.value as Mode);
            forget();
          }}
          options={[
            { value: 'fill', label: 'only where nothing stands' },
            { value: 'replace', label: 'replace what stands there' },
          ]}
        />
        {progress ? (
          <Button onClick={cancel}>Cancel</Button>
        ) : (
          <Button type="primary" disabled={ids.length === 0} onClick={() => void plan()}>
            Look them up
          </Button>
        )}
        {chosen.length > 0 && !progress && (
          <Button
            onClick={() => {
              clearSelection();
              forget();
            }}
          >
            For the whole search instead
          </Button>
        )}
      </div>
      {progress && (
        <div>
          <Progress
            percent={Math.floor((100 * progress.done) / Math.max(1, progress.of))}
            size="small"
            aria-label="progress"
          />
          <p className="quiet">
            {count(progress.done)} of {photos(progress.of)}
          </p>
        </div>
      )}
      {planned && <Plan planned={planned} onDone={forget} />}
      <p className="quiet">
        Names: GeoNames, CC BY 4.0, of places with more than 1,000 people and of seats of divisions.
      </p>
    </section>
  );
}

type Mode = 'fill' | 'replace';

/** Looks the places of the photos up, a batch at a time; can be cancelled, and writes nothing. */
function usePlan(ids: readonly string[], mode: Mode) {
  const { message } = App.useApp();
  const spots = useLive(() => session.db.spots.toArray(), []);
  const [planned, setPlanned] = useState<Planned | null>(null);
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const stop = useRef<AbortController | null>(null);
  const plan = async () => {
    const abort = new AbortController();
    stop.current = abort;
    setPlanned(null);
    const found: Planned = { edits: [], placed: 0, without: 0, farthestM: 0 };
    try {
      setProgress({ done: 0, of: ids.length });
      for await (const { photos: batch, done } of photoBatches(session.db, ids)) {
        const placed = batch.flatMap((photo) => {
          const position = positionIn(photo.fields);
          return position ? [{ photo, position }] : [];
        });
        found.without += batch.length - placed.length;
        const places = await nearestPlaces(
          placed.map(({ position }) => position),
          abort.signal,
        );
        placed.forEach(({ photo, position }, index) =>
          take(found, planPlaceWords(photo, position, places[index] ?? null, spots ?? [], mode)),
        );
        abort.signal.throwIfAborted();
        setProgress({ done, of: ids.length });
      }
      setPlanned(found);
    } catch (error) {
      if (!abort.signal.aborted)
        message.error(`The names could not be looked up: ${error instanceof Error ? error.message : String(error)}`, 8);
    } finally {
      setProgress(null);
    }
  };
  return { planned, progress, plan, cancel: () => stop.current?.abort(), forget: () => setPlanned(null) };
}

/** What would be written, to be seen before it is. */
function Plan({ planned, onDone }: { planned: Planned; onDone: () => void }) {
  const { message } = App.useApp();
  const { edits, placed, without, farthestM } = planned;
  const farthest = farthestM < 10_000 ? `${Math.round(farthestM / 100) / 10}` : Math.round(farthestM / 1000);
  const write = async () => {
    await session.change({ kind: 'fields', origin: 'person', edits });
    message.success(`Place names of ${photos(new Set(edits.map(({ photoId }) => photoId)).size)}`);
    onDone();
  };
  return (
    <>
      <p>
        {photos(placed)} with a position
        {without > 0 && <>, {photos(without)} without one</>}.{' '}
        {placed > 0 && `The nearest named place is at most ${farthest} km away.`}
      </p>
      <EditsTable preview={previewEdits(edits)} label="What would change" />
      <div className={styles.row}>
        <Button type="primary" disabled={edits.length === 0} onClick={() => void write()}>
          Write them
        </Button>
        <Button type="text" onClick={onDone}>
          Leave them
        </Button>
      </div>
    </>
  );
}

function take(into: Planned, { edits, distanceM }: PlaceWords): void {
  into.edits.push(...edits);
  into.placed += 1;
  into.farthestM = Math.max(into.farthestM, distanceM ?? 0);
}
