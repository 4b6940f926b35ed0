'use client';

// The wall: photos in justified rows under headings. Only the rows near the window are in the page.

import { type MouseEvent, type PointerEvent, useDeferredValue, useMemo, useRef, useState } from 'react';
import { type WallRow, layWall, monthHeads, photosWithin, rowsWithin, wallAspect, wallHeight } from '@/core/wall/rows';
import type { SortBy } from '@/core/query/query';
import type { PhotoOrder } from '@/core/search/photo-order';
import type { Marker } from '@/core/sift/judging';
import type { PhotoRecord } from '@/storage/catalog/records';
import { count, headingWords } from '@/ui/format';
import { useSize } from '@/ui/use-size';
import { useStable } from '@/ui/use-stable';
import type { SearchAnswer } from '@/workers/search-client';
import { useMarkersByName } from '@/features/parts/judging/markers';
import { useViewing } from '@/features/parts/search/use-result';
import { selectOnly, selectRange, toggleSelected } from '@/features/parts/selection/selection';
import { askPreviews } from '@/features/parts/picture/previews';
import { useReachableDrives } from '@/features/parts/session/reachable-drives';
import { Tile } from './tile';
import { type Area, useRectangle } from './use-rectangle';
import { useFocusInView, useRecords } from './use-window';
import { useWallChoices } from './wall-choices';
import styles from './wall.module.css';

const GAP = 4;
const HEADING = 36;
const PADDING = 12;
/** Rows are made so many pixels before they come into the window. */
const AHEAD = 500;
/** Rows lower than this stand under months instead of days. */
const MONTHS_BELOW = 96;
/** A finger that rests so long adds the photo to the selection. */
const HOLD_MS = 450;

interface Props {
  result: SearchAnswer;
  sort: SortBy;
  onOpen: (photoId: string) => void;
}

export function Wall({ result, sort, onOpen }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const [top, setTop] = useState(0);
  const rowHeight = useWallChoices((state) => state.rowHeight);
  const { order } = result;
  const inner = width - 2 * PADDING;
  const rows = useRows(result, sort, rowHeight, inner);
  // after a jump the rows in sight come first, those around them a moment later
  const before = useDeferredValue(top);
  const ahead = Math.abs(top - before) > height ? 0 : AHEAD;
  const { first, end } = rowsWithin(rows, top - ahead, top + height + ahead);
  const shown = rows.slice(first, end);
  const last = shown.at(-1);
  const records = useRecords(
    order,
    shown[0]?.start ?? 0,
    last ? (last.kind === 'heading' ? last.start + 1 : last.end) : 0,
  );
  useFocusInView(box, order, (position) => extentOf(rows, position), HEADING);
  const facts = useTileFacts(result);
  const rectangle = useRectangle(box, (area) =>
    photosWithin(rows, result.aspects, GAP, inPage(area), inner).map((position) => order.at(position) ?? ''),
  );
  const { choose, hold } = useChoosing(order, rectangle.wasDrawn);
  const open = useStable(onOpen);
  /** The pictures are asked for before the rows are drawn: both take their time, and need not wait for each other. */
  const scrollTo = (next: number) => {
    const within = rowsWithin(rows, next, next + height);
    const [from, to] = [rows[within.first], rows[within.end - 1]];
    if (from && to) askPreviews(order.slice(from.start, to.kind === 'photos' ? to.end : to.start));
    setTop(next);
  };
  return (
    <div
      ref={box}
      className={styles.wall}
      onScroll={(event) => scrollTo(event.currentTarget.scrollTop)}
      onPointerDown={rectangle.onPointerDown}
      role="group"
      aria-label="Wall"
      tabIndex={-1}
    >
      <div style={{ height: wallHeight(rows) + 2 * PADDING, position: 'relative' }}>
        {shown.map((row) =>
          row.kind === 'heading' ? (
            <Heading
              key={`h${row.start}`}
              row={row}
              sort={sort}
              small={rowHeight < MONTHS_BELOW}
              photo={records.get(order.at(row.start) ?? '')}
            />
          ) : (
            <div key={`p${row.start}`} className={styles.row} style={{ top: row.top + PADDING, height: row.height }}>
              {tilesOf(row, result, inner).map(({ id, position, left, width: tileWidth }) => (
                <Tile
                  key={id}
                  id={id}
                  photo={records.get(id)}
                  left={left}
                  width={tileWidth}
                  height={row.height}
                  inSight={row.top + row.height + PADDING > top && row.top < top + height}
                  {...facts(position)}
                  onChoose={choose}
                  onOpen={open}
                  onHold={hold}
                />
              ))}
            </div>
          ),
        )}
        {rectangle.area && <Rectangle area={rectangle.area} />}
      </div>
    </div>
  );
}

/** The rows of the result at this width; low ones stand under months instead of days. */
function useRows(result: SearchAnswer, sort: SortBy, rowHeight: number, width: number): WallRow[] {
  return useMemo(() => {
    const isByDay = sort === 'taken' || sort === 'added';
    const heads = isByDay && rowHeight < MONTHS_BELOW ? monthHeads(result.heads) : result.heads;
    return width > 0 ? layWall(heads, result.aspects, { width, rowHeight, gap: GAP, headingHeight: HEADING }) : [];
  }, [result, rowHeight, width, sort]);
}

/** Clicks with their modifiers, and a finger that rests; not what ends a drawn rectangle. */
function useChoosing(order: PhotoOrder, wasDrawn: () => boolean) {
  const held = useRef(false);
  const choose = useStable((id: string, event: MouseEvent) => {
    if (wasDrawn() || held.current) return;
    if (event.shiftKey) selectRange(order, id, event.ctrlKey || event.metaKey);
    else if (event.ctrlKey || event.metaKey) toggleSelected(id);
    else selectOnly(id);
  });
  const hold = useStable((id: string, event: PointerEvent) => {
    held.current = false;
    if (event.pointerType !== 'touch') return;
    const timer = setTimeout(() => {
      held.current = true;
      toggleSelected(id);
    }, HOLD_MS);
    const stop = () => clearTimeout(timer);
    for (const name of ['pointerup', 'pointercancel', 'pointermove'] as const)
      event.currentTarget.addEventListener(name, stop, { once: true });
  });
  return { choose, hold };
}

/** An area of the box, as the rows count. */
const inPage = (area: Area): Area => ({
  left: area.left - PADDING,
  right: area.right - PADDING,
  top: area.top - PADDING,
  bottom: area.bottom - PADDING,
});

const Rectangle = ({ area }: { area: Area }) => (
  <div
    className={styles.rectangle}
    style={{
      left: area.left - PADDING,
      top: area.top,
      width: area.right - area.left,
      height: area.bottom - area.top,
    }}
  />
);

function extentOf(rows: WallRow[], position: number): { from: number; to: number } | null {
  const row = rows.find(
    (candidate) => candidate.kind === 'photos' && position >= candidate.start && position < candidate.end,
  );
  return row ? { from: row.top + PADDING, to: row.top + PADDING + row.height + GAP } : null;
}

function tilesOf(row: WallRow & { kind: 'photos' }, { order, aspects }: SearchAnswer, width: number) {
  let left = 0;
  return order.slice(row.start, row.end).map((id, index) => {
    const position = row.start + index;
    const tile = { id, position, left, width: Math.min(wallAspect(aspects[position] ?? 0) * row.height, width - left) };
    left += tile.width + GAP;
    return tile;
  });
}

/** What each tile bears, from the columns of the answer: nothing is read for it. */
function useTileFacts(result: SearchAnswer) {
  const markers = useMarkersByName();
  const there = useReachableDrives();
  const setsClosed = useViewing((state) => state.setsClosed);
  const away = useMemo(
    () => result.driveSets.map((drives) => !drives.some((name) => there.has(name))),
    [result, there],
  );
  return (position: number) => {
    const label = result.labels[result.onMarkers[position] ?? 0] ?? '';
    return {
      rating: result.ratings[position] ?? 0,
      label,
      marker: markers.get(label) as Marker | undefined,
      flags: result.flags[position] ?? 0,
      setCode: result.setKinds[position] ?? 0,
      setSize: result.setSizes[position] ?? 0,
      closed: setsClosed && (result.setSizes[position] ?? 0) > 0 && !sharesSet(result, position),
      copies: result.copies[position] ?? 0,
      away: away[result.onDrives[position] ?? 0] ?? false,
    };
  };
}

/** Whether a neighbour is of the same set: then the set is open. */
const sharesSet = ({ sets }: SearchAnswer, position: number): boolean =>
  sets[position - 1] === sets[position] || sets[position + 1] === sets[position];

interface HeadingProps {
  row: WallRow & { kind: 'heading' };
  sort: SortBy;
  small: boolean;
  photo: PhotoRecord | undefined;
}

function Heading({ row, sort, small, photo }: HeadingProps) {
  return (
    <div className={styles.heading} style={{ top: row.top + PADDING, height: row.height }}>
      <h2>{headingWords(sort, row.value)}</h2>
      {sort === 'taken' && !small && <span className={styles.place}>{placeOf(photo)}</span>}
      <span className={styles.dayCount}>{count(row.count)}</span>
    </div>
  );
}

const placeOf = (photo: PhotoRecord | undefined) =>
  [photo?.fields.city, photo?.fields.province].filter((part) => typeof part === 'string').join(', ');
