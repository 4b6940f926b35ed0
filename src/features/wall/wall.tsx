'use client';

// The wall: photos in justified rows under day headings. Only the rows near the window are in the page.

import { type MouseEvent, type RefObject, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { type WallRow, layWall, rowsWithin, wallAspect, wallHeight } from '@/core/wall/rows';
import type { SearchResult } from '@/core/search/search-index';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { dayHeading, photos } from '@/ui/format';
import { selectOnly, selectStretch, toggleSelected, useSelection } from '../session/selection';
import { session } from '../session/session';
import { Tile } from './tile';
import styles from './wall.module.css';

const GAP = 4;
const HEADING = 36;
const PADDING = 12;
/** Rows are made so many pixels before they come into the window. */
const AHEAD = 600;

interface Props {
  result: SearchResult;
  rowHeight: number;
  onOpen: (photoId: string) => void;
}

export function Wall({ result, rowHeight, onOpen }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const [top, setTop] = useState(0);
  const rows = useMemo(
    () => (width > 0 ? layWall(result.days, result.aspects, { width: width - 2 * PADDING, rowHeight, gap: GAP, headingHeight: HEADING }) : []),
    [result, rowHeight, width],
  );
  const { first, end } = rowsWithin(rows, top - AHEAD, top + height + AHEAD);
  const shown = rows.slice(first, end);
  const records = useShownPhotos(result, shown);
  useFocusInView(box, rows, result);

  const choose = (id: string, event: MouseEvent) => {
    if (event.shiftKey) selectStretch(result.ids, id);
    else if (event.ctrlKey || event.metaKey) toggleSelected(id);
    else selectOnly(id);
  };
  return (
    <div ref={box} className={styles.wall} onScroll={(event) => setTop(event.currentTarget.scrollTop)} role="group" aria-label="Wall" tabIndex={-1}>
      <div style={{ height: wallHeight(rows) + 2 * PADDING, position: 'relative' }}>
        {shown.map((row) =>
          row.kind === 'heading' ? (
            <Heading key={`h${row.start}`} row={row} place={placeOf(records.get(result.ids[row.start] ?? ''))} />
          ) : (
            <Row key={`p${row.start}`} row={row} result={result} records={records} width={width - 2 * PADDING} onChoose={choose} onOpen={onOpen} />
          ),
        )}
      </div>
    </div>
  );
}

function Heading({ row, place }: { row: WallRow & { kind: 'heading' }; place: string }) {
  return (
    <div className={styles.heading} style={{ top: row.top + PADDING, height: row.height }}>
      <h2>{dayHeading(row.day)}</h2>
      <span className={styles.place}>{place}</span>
      <span className={styles.dayCount}>{photos(row.count)}</span>
    </div>
  );
}

const placeOf = (photo: PhotoRecord | undefined) => [photo?.fields.city, photo?.fields.province].filter((part) => typeof part === 'string').join(', ');

interface RowProps {
  row: WallRow & { kind: 'photos' };
  result: SearchResult;
  records: Map<string, PhotoRecord>;
  width: number;
  onChoose: (id: string, event: MouseEvent) => void;
  onOpen: (id: string) => void;
}

function Row({ row, result, records, width, onChoose, onOpen }: RowProps) {
  let left = 0;
  const tiles = result.ids.slice(row.start, row.end).map((id, index) => {
    const tileWidth = Math.min(wallAspect(result.aspects[row.start + index] ?? 0) * row.height, width - left);
    const tile = <Tile key={id} id={id} photo={records.get(id)} left={left} width={tileWidth} height={row.height} onChoose={onChoose} onOpen={onOpen} />;
    left += tileWidth + GAP;
    return tile;
  });
  return (
    <div className={styles.row} style={{ top: row.top + PADDING, height: row.height }}>
      {tiles}
    </div>
  );
}

function useSize(box: RefObject<HTMLDivElement | null>) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [box]);
  return size;
}

/** The records of the photos in the shown rows, live. Those of before stay until the new ones are there. */
function useShownPhotos(result: SearchResult, shown: WallRow[]): Map<string, PhotoRecord> {
  const start = shown[0]?.start ?? 0;
  const last = shown.at(-1);
  const end = last ? (last.kind === 'heading' ? last.start + 1 : last.end) : 0;
  const ids = useMemo(() => result.ids.slice(start, end), [result, start, end]);
  const found = useLive(() => session.db.photos.bulkGet(ids), [ids]);
  return useMemo(() => new Map((found ?? []).flatMap((photo) => (photo ? [[photo.id, photo]] : []))), [found]);
}

/** Scrolls the focused photo into the window when the keys move it out, and takes the keyboard's focus along. */
function useFocusInView(box: RefObject<HTMLDivElement | null>, rows: WallRow[], result: SearchResult): void {
  const focus = useSelection((state) => state.focus);
  const latest = useRef({ rows, result });
  useEffect(() => {
    latest.current = { rows, result };
  });
  useEffect(() => {
    const element = box.current;
    const at = focus === null ? -1 : latest.current.result.ids.indexOf(focus);
    const row = at < 0 ? undefined : latest.current.rows.find((candidate) => candidate.kind === 'photos' && at >= candidate.start && at < candidate.end);
    if (!element || !row) return;
    const from = row.top + PADDING;
    const to = from + row.height;
    if (from - HEADING < element.scrollTop) element.scrollTop = from - HEADING;
    else if (to > element.scrollTop + element.clientHeight) element.scrollTop = to - element.clientHeight + GAP;
    if (element.contains(document.activeElement)) element.querySelector<HTMLElement>(`[data-photo="${focus}"]`)?.focus({ preventScroll: true });
  }, [box, focus]);
}
