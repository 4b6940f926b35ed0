'use client';

// Tracks matched to the photos of the scope: which tracks, which clocks, what would be placed where; and then placed,
// as one change.

import { App, Button, Checkbox, InputNumber, Segmented } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { DEFAULT_GAP_SECONDS } from '@/core/locate/match';
import { planPosition } from '@/core/locate/place-edits';
import type { MatchOutcome } from '@/core/locate/plan-matches';
import { photoBatches } from '@/storage/catalog/describing';
import { count, photos } from '@/ui/format';
import { MapView } from '@/features/parts/map/map-view';
import { useScope } from '@/features/parts/search/use-scope';
import { selectOnly, useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { Clocks } from './clocks';
import { FoundList } from './found-list';
import styles from './locate.module.css';
import { TimeChart } from './time-chart';
import { boxOfTracks, matchesLayer, tracksLayer } from './track-layers';
import { TrackList } from './track-list';
import { useMatching } from './use-matching';
import { usePlacing } from './use-placing';
import { useSession } from '@/features/parts/session/use-session';

const KINDS = { matched: 'found', keeps: 'kept', unmatched: 'not found' } as const;

export function TracksDesk() {
  const { scope } = useScope();
  const version = useSession((state) => state.indexVersion);
  const placing = usePlacing(scope);
  const [gapMinutes, setGapMinutes] = useState(DEFAULT_GAP_SECONDS / 60);
  const [replace, setReplace] = useState(false);
  const [moved, setMoved] = useState<MovedClock | null>(null);
  const options = useMemo(() => ({ gapSeconds: gapMinutes * 60, replace }), [gapMinutes, replace]);
  const matching = useMatching(placing, options, moved);
  const { layers, show } = useTrackLayers(matching);
  const kept = moved && matching?.clocks[moved.group]?.kept;
  useEffect(() => {
    if (moved && kept?.differenceSeconds === moved.differenceSeconds) setMoved(null);
  }, [moved, kept]);
  return (
    <div className={styles.tracksDesk}>
      <aside className={styles.tracks} aria-label="Tracks and clocks">
        <TrackList tracks={matching?.tracks ?? null} gapSeconds={options.gapSeconds} />
        {placing && matching && <Clocks placing={placing} matching={matching} />}
      </aside>
      <div className={styles.middle}>
        <MapView scope={scope} version={version} layers={layers} show={show} onOpen={selectOnly} />
        {placing && matching && <TimeChart placing={placing} matching={matching} onMove={setMoved} />}
      </div>
      <aside className={styles.found} aria-label="What was found">
        <div className={styles.choices}>
          <label>
            Accepted gap{' '}
            <InputNumber
              size="small"
              min={0}
              max={1440}
              value={gapMinutes}
              onChange={(value) => value !== null && setGapMinutes(value)}
              aria-label="Accepted gap in minutes"
            />{' '}
            min
          </label>
          <Checkbox checked={replace} onChange={({ target }) => setReplace(target.checked)}>
            also those that have a position
          </Checkbox>
          <PlaceButton placing={placing} matching={matching} />
        </div>
        <Outcomes placing={placing} matching={matching} />
        <SelectedNote />
      </aside>
    </div>
  );
}

/** A clock that is being drawn along the chart. */
interface MovedClock {
  group: number;
  differenceSeconds: number;
}

type MatchingNow = ReturnType<typeof useMatching>;
type PlacingNow = ReturnType<typeof usePlacing>;

/** The tracks in use and where each photo falls, for the map; and the part of the world they lie in. */
function useTrackLayers(matching: MatchingNow) {
  const dots = useRef<ReturnType<typeof matchesLayer> | null>(null);
  dots.current ??= matchesLayer();
  const used = matching?.used;
  const layers = useMemo(
    () => (dots.current && used ? [tracksLayer(used.map(({ track }) => track)), dots.current.layer] : []),
    [used],
  );
  const show = useMemo(() => (used && used.length > 0 ? boxOfTracks(used.map(({ track }) => track)) : null), [used]);
  useEffect(() => {
    dots.current?.show(
      (matching?.outcomes ?? []).flatMap((outcome) =>
        outcome.state === 'matched' ? [{ ...outcome.position, how: outcome.how }] : [],
      ),
    );
  }, [matching]);
  return { layers, show };
}

/** Gives the photos that were found their positions, as one change; cancelled, nothing is written. */
function PlaceButton({ placing, matching }: { placing: PlacingNow; matching: MatchingNow }) {
  const { message } = App.useApp();
  const [doing, setDoing] = useState<number | null>(null);
  const cancelled = useRef(false);
  const { matched } = countsOf(matching?.outcomes ?? []);
  const place = async () => {
    if (!placing || !matching) return;
    const wanted = new Map(
      matching.outcomes.flatMap((outcome, at) =>
        outcome.state === 'matched' ? [[placing.ids[at] ?? '', outcome] as const] : [],
      ),
    );
    setDoing(0);
    cancelled.current = false;
    try {
      const edits = [];
      for await (const { photos: batch, done } of photoBatches(session.db, [...wanted.keys()])) {
        for (const photo of batch) {
          const outcome = wanted.get(photo.id);
          if (outcome)
            edits.push(
              ...planPosition(photo, { position: outcome.position, method: 'GPS', utcSeconds: outcome.utcSeconds }),
            );
        }
        setDoing(done);
        if (cancelled.current) return; // nothing was written yet
      }
      await session.change({ kind: 'fields', origin: 'person', edits });
      message.success(`${photos(wanted.size)} placed`);
    } finally {
      setDoing(null);
    }
  };
  return (
    <>
      <Button
        type="primary"
        disabled={matched === 0 || doing !== null}
        loading={doing !== null}
        onClick={() => void place()}
      >
        {doing === null ? `Place ${photos(matched)}` : `${count(doing)} of ${count(matched)}`}
      </Button>
      {doing !== null && <Button onClick={() => (cancelled.current = true)}>Cancel</Button>}
    </>
  );
}

/** The photos by what was found of them. */
function Outcomes({ placing, matching }: { placing: PlacingNow; matching: MatchingNow }) {
  const [kind, setKind] = useState<MatchOutcome['state']>('matched');
  const counts = countsOf(matching?.outcomes ?? []);
  return (
    <>
      <Segmented
        block
        size="small"
        value={kind}
        onChange={(value) => setKind(value as MatchOutcome['state'])}
        options={(Object.keys(KINDS) as MatchOutcome['state'][]).map((one) => ({
          value: one,
          label: `${count(counts[one])} ${KINDS[one]}`,
        }))}
        aria-label="Which photos are listed"
      />
      {placing && matching ? (
        <FoundList placing={placing} matching={matching} kind={kind} />
      ) : (
        <p className={styles.note}>Looking…</p>
      )}
    </>
  );
}

function countsOf(outcomes: readonly MatchOutcome[]): Record<MatchOutcome['state'], number> {
  const counts = { matched: 0, keeps: 0, unmatched: 0 };
  for (const { state } of outcomes) counts[state] += 1;
  return counts;
}

/** Which photo of the list is looked at. */
function SelectedNote() {
  const selected = useSelection((state) => state.ids.size);
  return selected > 1 ? <p className={styles.note}>{photos(selected)} selected</p> : null;
}
