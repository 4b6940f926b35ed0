'use client';

// The strip under a picture: its neighbours in the order, with the frames of one set bracketed together.

import { memo } from 'react';
import { usePreview } from './previews';
import type { OrderedPhotos } from '@/workers/search-client';
import styles from './picture.module.css';

interface Props {
  result: OrderedPhotos;
  photoId: string;
  onOpen: (id: string) => void;
  /** What was decided, in a round; shown by a line over the frame. */
  decided?: (id: string) => string | undefined;
}

/** Frames to either side. */
const AROUND = 14;
/** From one frame to the next. */
const FRAME_PX = 78;

export const Strip = memo(function Strip({ result, photoId, onOpen, decided }: Props) {
  const { order, sets } = result;
  const at = order.indexOf(photoId);
  if (at < 0) return <div className={styles.strip} />;
  const first = Math.max(0, at - AROUND);
  const last = Math.min(order.length - 1, at + AROUND);
  const sideOf = (position: number) => {
    const set = sets[position] ?? -1;
    if (set < 0) return undefined;
    const [before, after] = [position > 0 && sets[position - 1] === set, sets[position + 1] === set];
    return before && after ? 'middle' : before ? 'end' : after ? 'start' : 'only';
  };
  return (
    <div className={styles.strip} role="group" aria-label="Strip">
      <div className={styles.stripRow} style={{ transform: `translateX(${-at * FRAME_PX}px)` }}>
        {Array.from({ length: last - first + 1 }, (_, index) => first + index).map((position) => {
          const id = order.at(position) ?? '';
          return (
            <Frame
              key={id}
              id={id}
              here={position === at}
              position={position}
              bracket={sideOf(position)}
              rating={result.ratings[position] ?? 0}
              decided={decided?.(id)}
              onOpen={onOpen}
            />
          );
        })}
      </div>
    </div>
  );
});

interface FrameProps {
  id: string;
  here: boolean;
  position: number;
  bracket: string | undefined;
  rating: number;
  decided: string | undefined;
  onOpen: (id: string) => void;
}

const Frame = memo(function Frame({ id, here, position, bracket, rating, decided, onOpen }: FrameProps) {
  const preview = usePreview(id);
  return (
    <button
      type="button"
      tabIndex={-1}
      className={styles.frame}
      style={{ left: position * FRAME_PX - FRAME_PX / 2 + 3 }}
      data-here={here}
      data-bracket={bracket}
      data-rejected={rating === -1}
      data-decided={decided}
      onClick={() => onOpen(id)}
      aria-label={`Frame ${position + 1}${rating === -1 ? ', rejected' : rating > 0 ? `, rating ${rating}` : ''}${decided ? `, ${decided}` : ''}`}
      aria-current={here}
    >
      {preview && <img src={preview} alt="" draggable={false} />}
    </button>
  );
});
