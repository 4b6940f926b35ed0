'use client';

import { type MouseEvent, type PointerEvent, memo } from 'react';
import { capturedIn } from '@/core/fields/values';
import type { PhotoRecord } from '@/storage/catalog/records';
import { dragPhotos } from '@/features/parts/selection/dragged-photos';
import { usePreview, whyNoPreview } from '@/features/parts/picture/previews';
import type { Problem } from '@/core/problems/problem';
import { shortProblem } from '@/messages/problems';
import { useSelection } from '@/features/parts/selection/selection';
import { type TileFacts, TileMarks, signsOf } from './tile-marks';
import { useWallChoices } from './wall-choices';
import styles from './wall.module.css';

interface Props extends TileFacts {
  id: string;
  photo: PhotoRecord | undefined;
  left: number;
  width: number;
  height: number;
  inSight: boolean;
  onChoose: (id: string, event: MouseEvent) => void;
  onOpen: (id: string) => void;
  onHold: (id: string, event: PointerEvent) => void;
}

export const Tile = memo(function Tile({
  id,
  photo,
  left,
  width,
  height,
  onChoose,
  onOpen,
  onHold,
  inSight,
  ...facts
}: Props) {
  const preview = usePreview(id, inSight);
  const selected = useSelection((state) => state.ids.has(id));
  const focused = useSelection((state) => state.focus === id);
  const shown = useWallChoices((state) => state.marks);
  const signs = signsOf(facts, shown);
  const without = preview === null && noPreviewWords(whyNoPreview(id));
  return (
    <button
      type="button"
      data-keys="through"
      data-photo={id}
      data-focus={focused}
      className={styles.tile}
      style={{ left, width, height }}
      aria-pressed={selected}
      data-rejected={facts.rating === -1}
      data-stacked={facts.closed}
      aria-label={[tileName(photo), ...signs.filter(({ mark }) => mark !== 'ready').map(({ words }) => words), without]
        .filter(Boolean)
        .join(', ')}
      draggable={selected}
      onDragStart={(event) => dragPhotos(event.dataTransfer, [...useSelection.getState().ids])}
      title={signs.map(({ words }) => words).join(' · ')}
      onClick={(event) => onChoose(id, event)}
      onDoubleClick={() => onOpen(id)}
      onPointerDown={(event) => onHold(id, event)}
    >
      {preview ? <img src={preview} alt="" draggable={false} /> : <span className={styles.blank}>{without}</span>}
      <TileMarks signs={signs} />
    </button>
  );
});

/** Why there is no picture, shortly. */
const noPreviewWords = (why: Problem | null | undefined): string =>
  why === undefined ? 'no preview yet' : why === null ? 'no preview' : shortProblem(why);

export function tileName(photo: PhotoRecord | undefined): string {
  const said = photo?.fields.headline ?? photo?.fields.title ?? photo?.fields.caption;
  return typeof said === 'string'
    ? said
    : `Photo of ${(photo && capturedIn(photo.fields)?.written.slice(0, 10)) ?? 'unknown date'}`;
}
