'use client';

// Two to six frames beside each other, at one scale and on one spot. Decided in place; one can be kept and the rest
// rejected.

import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { RUNGS } from '@/core/sift/judging';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { isLarge } from '@/storage/file-tasks/file-tasks';
import { useKeys } from '@/ui/keys';
import { RatingBars } from '@/ui/rating-bars';
import { useSize } from '@/ui/use-size';
import { keepOne, setRung, toggleRejected } from '@/features/parts/judging/rate';
import { useJudgingKeys } from '@/features/parts/judging/use-judging-keys';
import { session } from '@/engine/session';
import { HistogramView } from './histogram';
import { PictureBar, pictureKeys } from './picture-bar';
import styles from './picture.module.css';
import { PictureStage, moveView } from './picture-stage';
import type { PicturePart, WantedPicture } from './picture-store';
import { pictureInSight, useAtHand, usePictureView, useRoom, useShown } from './pictures';
import { altOf, captureLine, shownWords } from './picture-words';
import { bestColumns } from './view';
import { type FrameSharpness, useSharpness } from './sharpness';

export const SIDE_BY_SIDE_MOST = 6;
/** What stands below each picture, and around it. */
const BENEATH = 110;

interface Props {
  ids: string[];
  onClose: () => void;
  /** Where in the place the frames were: the one that is looked at when this closes. */
  onPresent: (id: string) => void;
}

/** Real pixels of one that is too large to be held whole only in part. */
const sizesOf = (
  photo: PhotoRecord | undefined,
  zoomed: boolean,
  part: PicturePart | undefined,
): Pick<WantedPicture, 'sizes' | 'part'> => ({
  sizes: zoomed && photo && (part || !isLarge(photo)) ? ['preview', 'screen', 'full'] : ['preview', 'screen'],
  part,
});

export function SideBySide({ ids, onClose, onPresent }: Props) {
  const [at, setAt] = useState(0);
  const zoomed = usePictureView((state) => state.view.scale !== 'fit');
  const surround = useRoom((state) => state.surround);
  const photos = useLive(() => session.db.photos.bulkGet(ids), [ids.join()]) ?? [];
  const sharpness = useSharpness(ids);
  const room = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(room);
  const view = usePictureView((state) => state.view);
  useAtHand(
    ids.map((id, index) => ({
      id,
      ...sizesOf(photos[index], zoomed, pictureInSight(photos[index], view, { width, height })),
    })),
  );
  const aspects = photos.flatMap((photo) => (photo?.width && photo.height ? [photo.width / photo.height] : []));
  const columns = bestColumns(
    ids.length,
    { width, height },
    aspects.length > 0 ? aspects.reduce((sum, aspect) => sum + aspect, 0) / aspects.length : 1.5,
    BENEATH,
  );
  const present = ids[Math.min(at, ids.length - 1)] ?? '';
  useEffect(() => onPresent(present), [present, onPresent]);
  const step = (by: number) => setAt((now) => Math.min(ids.length - 1, Math.max(0, now + by)));
  useJudgingKeys(() => [present], {
    a: () => step(-1),
    ArrowLeft: () => step(-1),
    d: () => step(1),
    ArrowRight: () => step(1),
  });
  useKeys({ ...pictureKeys(moveView), b: onClose, Enter: () => void keepOne(present, ids), Escape: onClose });
  return (
    <section className={styles.view} aria-label="Side by side" data-surround={surround}>
      <div
        ref={room}
        className={styles.besides}
        style={{ gridTemplateColumns: `repeat(${2 * columns}, minmax(0, 1fr))` }}
      >
        {ids.map((id, index) => {
          const photo = photos.find((one) => one?.id === id);
          return (
            <Beside
              key={id}
              id={id}
              photo={photo}
              here={id === present}
              column={columnOf(index, ids.length, columns)}
              sharpness={sharpness.get(id)}
              onHere={() => setAt(index)}
              onKeep={() => void keepOne(id, ids)}
              rest={ids.length - 1}
            />
          );
        })}
      </div>
      <footer className={styles.foot}>
        <span>{ids.length} frames</span>
        <span className="quiet">
          <kbd>A</kbd> <kbd>D</kbd> from one to the next · <kbd>Enter</kbd> keep this one, reject the rest
        </span>
        <span className={styles.controls}>
          <PictureBar />
        </span>
        <Button type="text" size="small" onClick={onClose}>
          One alone <kbd>B</kbd>
        </Button>
      </footer>
    </section>
  );
}

/** Each is two columns wide, so that a last row of fewer stands in the middle. */
const columnOf = (index: number, all: number, columns: number): string => {
  const inLast = all % columns;
  return inLast > 0 && index === all - inLast ? `${columns - inLast + 1} / span 2` : 'span 2';
};

interface BesideProps {
  id: string;
  photo: PhotoRecord | undefined;
  here: boolean;
  column: string;
  sharpness: FrameSharpness | undefined;
  onHere: () => void;
  onKeep: () => void;
  rest: number;
}

function Beside({ id, photo, here, column, sharpness, onHere, onKeep, rest }: BesideProps) {
  const zoomed = usePictureView((state) => state.view.scale !== 'fit');
  const histogram = usePictureView((state) => state.histogram);
  const said = shownWords(useShown(id), zoomed);
  const rating = typeof photo?.fields.rating === 'number' ? photo.fields.rating : 0;
  return (
    <article
      className={styles.beside}
      style={{ gridColumn: column }}
      data-here={here}
      data-rejected={rating === -1}
      aria-label={altOf(photo)}
      aria-current={here}
      onPointerDownCapture={onHere}
    >
      <div className={styles.room}>
        <PictureStage photoId={id} photo={photo} words={altOf(photo)} />
        {histogram && <HistogramView photoId={id} />}
        {said && (
          <p className={styles.said} role="status">
            {said}
          </p>
        )}
      </div>
      <div className={styles.besideFoot}>
        <RatingBars rating={rating} size="large" />
        {sharpness && sharpness.percent !== null && (
          <span
            className={styles.sharp}
            title={`Sharpness beside the sharpest of these frames${sharpness.ofPreview ? ', by the preview' : ''}`}
          >
            sharpness {sharpness.percent} %
          </span>
        )}
        <span className={styles.rungs}>
          {RUNGS.filter((rung) => rung >= 0)
            .toReversed()
            .map((rung) => (
              <Button
                key={rung}
                size="small"
                type={rating === rung ? 'primary' : 'text'}
                onClick={() => void setRung([id], rung)}
                aria-label={rung === 0 ? '– unrated' : `Rung ${rung}`}
              >
                {rung === 0 ? '–' : rung}
              </Button>
            ))}
          <Button
            size="small"
            type={rating === -1 ? 'primary' : 'text'}
            onClick={() => void toggleRejected([id])}
            aria-label="× rejected"
          >
            ×
          </Button>
        </span>
        <Button size="small" onClick={onKeep}>
          Keep, reject {rest === 1 ? 'the other' : `the other ${rest}`}
        </Button>
      </div>
      <p className={styles.besideCapture}>
        <span className="mono">{captureLine(photo)}</span>
      </p>
    </article>
  );
}
