'use client';

import { useRef } from 'react';
import { type Placing, placedAt } from '@/core/search/placing';
import { count } from '@/ui/format';
import { dragPhotos } from '@/features/parts/selection/dragged-photos';
import { usePreview } from '@/features/parts/picture/previews';
import { selectOnly, selectThese, toggleSelected, useSelection } from '@/features/parts/selection/selection';
import styles from './locate.module.css';

/** More are counted, not drawn: who has thousands narrows the scope first. */
const SHOWN = 400;

export function UnplacedList({ placing }: { placing: Placing | null }) {
  const anchor = useRef<number | null>(null);
  if (!placing) return <p className={styles.note}>Looking…</p>;
  const unplaced = placing.ids.flatMap((id, at) =>
    placedAt(placing, at) === null ? [{ id, name: placing.names[at] ?? '', captured: placing.captured[at] ?? '' }] : [],
  );
  if (unplaced.length === 0)
    return (
      <p className={styles.note}>
        {placing.ids.length === 0 ? 'No photo in the search.' : 'Every photo of the search has a position.'}
      </p>
    );
  const click = (id: string, at: number, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    if (event.shiftKey && anchor.current !== null)
      selectThese(unplaced.slice(Math.min(anchor.current, at), Math.max(anchor.current, at) + 1).map((one) => one.id));
    else if (event.ctrlKey || event.metaKey) toggleSelected(id);
    else selectOnly(id);
    if (!event.shiftKey) anchor.current = at;
  };
  return (
    <section className={styles.unplaced} aria-label="Without a position">
      <h2>{count(unplaced.length)} without a position</h2>
      <p className="quiet">Drag them onto the map, or select and say where.</p>
      <ul>
        {unplaced.slice(0, SHOWN).map(({ id, name, captured }, at) => (
          <Unplaced key={id} id={id} name={name} captured={captured} onClick={(event) => click(id, at, event)} />
        ))}
      </ul>
      {unplaced.length > SHOWN && <p className="quiet">and {count(unplaced.length - SHOWN)} more</p>}
    </section>
  );
}

function Unplaced({
  id,
  name,
  captured,
  onClick,
}: {
  id: string;
  name: string;
  captured: string;
  onClick: (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
}) {
  const preview = usePreview(id);
  const selected = useSelection((state) => state.ids.has(id));
  const drag = (data: DataTransfer) => dragPhotos(data, selected ? [...useSelection.getState().ids] : [id]);
  return (
    <li>
      <button
        type="button"
        draggable
        aria-pressed={selected}
        onClick={onClick}
        onDragStart={({ dataTransfer }) => drag(dataTransfer)}
      >
        {preview ? <img src={preview} alt="" draggable={false} /> : <span className={styles.noPicture} />}
        <span>
          <span className="mono">{name}</span>
          <span className="quiet">{captured.slice(0, 19).replace('T', ' ') || 'no time'}</span>
        </span>
      </button>
    </li>
  );
}
