'use client';

import { type MouseEvent, memo } from 'react';
import { capturedIn } from '@/core/fields/values';
import type { PhotoRecord } from '@/storage/catalog/records';
import { RatingBars } from '@/ui/rating-bars';
import { usePreview } from '../session/previews';
import { useSelection } from '../session/selection';
import { useSession } from '../session/session';
import styles from './wall.module.css';

interface Props {
  id: string;
  photo: PhotoRecord | undefined;
  left: number;
  width: number;
  height: number;
  onChoose: (id: string, event: MouseEvent) => void;
  onOpen: (id: string) => void;
}

export const Tile = memo(function Tile({ id, photo, left, width, height, onChoose, onOpen }: Props) {
  const version = useSession((state) => state.indexVersion);
  const preview = usePreview(id, version);
  const selected = useSelection((state) => state.ids.has(id));
  const rating = typeof photo?.fields.rating === 'number' ? photo.fields.rating : 0;
  const marker = typeof photo?.fields.label === 'string' ? photo.fields.label : '';
  return (
    <button
      type="button" data-keys="through" data-photo={id} className={styles.tile} style={{ left, width, height }} aria-pressed={selected} data-rejected={rating === -1}
      aria-label={[nameOf(photo), marker, preview === null && 'no preview'].filter(Boolean).join(', ')} onClick={(event) => onChoose(id, event)} onDoubleClick={() => onOpen(id)}
    >
      {preview ? <img src={preview} alt="" draggable={false} /> : <span className={styles.blank}>{preview === null ? 'no preview' : ''}</span>}
      {(rating !== 0 || marker) && (
        <span className={styles.marks}>
          {rating !== 0 && <RatingBars rating={rating} />}
          {marker && <span className={styles.marker}>{marker}</span>}
        </span>
      )}
    </button>
  );
});

function nameOf(photo: PhotoRecord | undefined): string {
  const said = photo?.fields.headline ?? photo?.fields.title ?? photo?.fields.caption;
  return typeof said === 'string' ? said : `Photo of ${(photo && capturedIn(photo.fields)?.written.slice(0, 10)) ?? 'unknown date'}`;
}
