'use client';

// Photos of the scope that look alike, in groups, to decide side by side. How near two must be is a slide; nothing is
// decided, moved or erased by itself.

import { Button, Progress, Slider } from 'antd';
import { useState } from 'react';
import { z } from 'zod';
import type { AlikeGroup, AlikeGroups } from '@/core/search/alike-groups';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { count, photos, plural } from '@/ui/format';
import { RatingBars } from '@/ui/rating-bars';
import { SIDE_BY_SIDE_MOST } from '@/features/parts/picture/side-by-side';
import { keptChoice } from '@/ui/kept-choice';
import { usePreview } from '@/features/parts/picture/previews';
import { selectOnly, selectThese, toggleSelected, useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import { tileName } from '@/features/parts/wall/tile';
import styles from './find.module.css';
import { useSession } from '@/features/parts/session/use-session';

/** Bits of 64; more is too many to be called alike, and slow. */
const MOST_BITS = 12;
const useNearness = keptChoice<{ bits: number }>(
  'wembo-alike',
  z.object({ bits: z.number().int().min(0).max(MOST_BITS) }),
  { bits: 6 },
);
/** Groups drawn before more are asked for. */
const SHOWN = 40;

const NEARNESS = ['the same to the eye', 'nearly the same', 'alike', 'of one moment', 'of one kind'];
const nearnessWords = (bits: number): string => NEARNESS[Math.min(NEARNESS.length - 1, Math.ceil(bits / 3))] ?? '';

export function AlikeView({
  scope,
  onOpen,
  onSideBySide,
}: {
  scope: string;
  onOpen: (id: string) => void;
  onSideBySide: (ids: string[]) => void;
}) {
  const bits = useNearness((state) => state.bits);
  const found = useAlike(scope, bits);
  const [shown, setShown] = useState(SHOWN);
  return (
    <div className={styles.alike}>
      <header>
        <span>How alike: {nearnessWords(bits)}</span>
        <Slider
          className={styles.nearness}
          min={0}
          max={MOST_BITS}
          value={bits}
          onChange={(next) => useNearness.setState({ bits: next })}
          tooltip={{ open: false }}
          ariaLabelForHandle="How far apart two pictures may be, in bits"
        />
        <span role="status">
          {found === null
            ? 'Comparing…'
            : `${plural(found.groups.length, 'group')}, ${photos(found.groups.reduce((sum, { ids }) => sum + ids.length, 0))}`}
        </span>
        {found !== null && found.unknown > 0 && (
          <span className="quiet">{photos(found.unknown)} not compared: not measured yet, or without a picture</span>
        )}
        <Measuring />
      </header>
      {found?.groups.length === 0 && (
        <p className="quiet">
          No two photos of this search are {nearnessWords(bits)}. Slide further to see those less alike.
        </p>
      )}
      {found?.groups.slice(0, shown).map((group) => (
        <Group key={group.ids.join()} group={group} onOpen={onOpen} onSideBySide={onSideBySide} />
      ))}
      {found !== null && found.groups.length > shown && (
        <Button onClick={() => setShown(shown + SHOWN)}>
          Show {count(Math.min(SHOWN, found.groups.length - shown))} more of {count(found.groups.length)}
        </Button>
      )}
    </div>
  );
}

/** Pictures are measured behind the screens; here, where they are wanted, one sees how far that is. */
function Measuring() {
  const measuring = useSession((state) => state.measuring);
  if (measuring === null) return null;
  const { done, all, state } = measuring;
  return (
    <div className={styles.measuring}>
      <Progress percent={Math.floor((100 * done) / Math.max(1, all))} size="small" aria-label="Pictures measured" />
      <span className="quiet">
        {state === 'measuring'
          ? 'measuring pictures'
          : state === 'paused'
            ? 'measuring rests'
            : 'measuring waits for the job that is running'}
        : {count(done)} of {photos(all)}
      </span>
      {state === 'paused' ? (
        <Button size="small" onClick={() => session.pictureMeasuring.goOn()}>
          Resume
        </Button>
      ) : (
        <Button size="small" onClick={() => session.pictureMeasuring.pause()}>
          Pause
        </Button>
      )}
    </div>
  );
}

function useAlike(scope: string, bits: number): AlikeGroups | null {
  return useAsked(`${bits} ${scope}`, () => session.search.alike(scope, bits), 120)?.answer ?? null;
}

function Group({
  group: { ids, bits },
  onOpen,
  onSideBySide,
}: {
  group: AlikeGroup;
  onOpen: (id: string) => void;
  onSideBySide: (ids: string[]) => void;
}) {
  const records = useLive(() => session.db.photos.bulkGet(ids), [ids.join()]) ?? [];
  const rungOf = (at: number) => Number(records[at]?.fields.rating ?? 0);
  const best = ids.reduce((one, _, at) => (rungOf(at) > rungOf(one) ? at : one), 0);
  return (
    <section className={styles.alikeGroup} aria-label={`${ids.length} alike`}>
      <div className={styles.alikePhotos}>
        {ids.map((id, at) => (
          <AlikePhoto key={id} id={id} name={tileName(records[at])} rating={rungOf(at)} onOpen={onOpen} />
        ))}
      </div>
      <footer>
        <span className="quiet">
          {samePicture(records)
            ? 'the same picture data; only what is written differs'
            : bits === 0
              ? 'no difference that was measured'
              : `at most ${bits} of 64 bits apart`}
        </span>
        <Button size="small" onClick={() => onSideBySide(ids.slice(0, SIDE_BY_SIDE_MOST))}>
          Side by side{ids.length > SIDE_BY_SIDE_MOST ? ` (the first ${SIDE_BY_SIDE_MOST})` : ''}
        </Button>
        <Button size="small" onClick={() => selectThese(ids)}>
          Select all {ids.length}
        </Button>
        <Button
          size="small"
          onClick={() => selectThese(ids.filter((_, at) => at !== best))}
          title="All but the one on the highest rung, the first of several"
        >
          Select all but the best
        </Button>
      </footer>
    </section>
  );
}

/** By the digest of the picture alone, which holds whatever is written into a file; known once its bytes were read. */
const samePicture = (records: readonly (PhotoRecord | undefined)[]): boolean => {
  const [first] = records;
  return (
    records.length > 1 &&
    (first?.imageSha256 ?? null) !== null &&
    records.every((record) => record?.imageSha256 === first?.imageSha256)
  );
};

function AlikePhoto({
  id,
  name,
  rating,
  onOpen,
}: {
  id: string;
  name: string;
  rating: number;
  onOpen: (id: string) => void;
}) {
  const preview = usePreview(id);
  const selected = useSelection((state) => state.ids.has(id));
  return (
    <button
      type="button"
      className={styles.alikePhoto}
      data-photo={id}
      data-keys="through"
      aria-pressed={selected}
      aria-label={rating === 0 ? name : `${name}, rated ${rating}`}
      onClick={(event) => (event.ctrlKey || event.metaKey ? toggleSelected(id) : selectOnly(id))}
      onDoubleClick={() => onOpen(id)}
    >
      {preview ? <img src={preview} alt="" draggable={false} /> : <span>{preview === null ? 'no preview' : ''}</span>}
      {rating !== 0 && <RatingBars rating={rating} />}
    </button>
  );
}
