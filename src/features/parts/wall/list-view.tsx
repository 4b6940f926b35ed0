'use client';

// The same photos as lines with chosen columns, for those who read. A click on a heading sorts; only lines near the
// window exist.

import { type KeyboardEvent, type MouseEvent, type ReactNode, useMemo, useRef, useState } from 'react';
import { capturedIn, wordsIn } from '@/core/fields/values';
import { nameIn } from '@/core/names/file-names';
import type { Marker } from '@/core/sift/judging';
import type { Sort, SortBy } from '@/core/query/query';
import { withTerm } from '@/core/query/write-scope';
import { numberAmong } from '@/core/take-in/accession';
import { pathToBe } from '@/storage/catalog/changes';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { cameraName } from '@/storage/catalog/search-feed';
import { capturedWords, dateTime, exposureWords } from '@/ui/format';
import { MarkerSign } from '@/ui/marker-sign';
import { RatingBars } from '@/ui/rating-bars';
import { useSize } from '@/ui/use-size';
import type { SearchAnswer } from '@/workers/search-client';
import { useMarkersByName } from '@/features/parts/judging/markers';
import { useScope } from '@/features/parts/search/use-scope';
import { usePreview } from '@/features/parts/picture/previews';
import { selectOnly, selectRange, toggleSelected, useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { useFocusInView, useRecords } from './use-window';
import { COLUMNS, type Column, useWallChoices } from './wall-choices';
import styles from './wall.module.css';

const LINE = 40;
const HEAD = 28;
const AHEAD = 600;

const WIDTHS: Record<Column, string> = {
  name: 'minmax(110px, 1.2fr)',
  taken: '156px',
  rating: '60px',
  marker: 'minmax(80px, .8fr)',
  type: '56px',
  camera: 'minmax(90px, 1fr)',
  exposure: '200px',
  headline: 'minmax(120px, 1.6fr)',
  caption: 'minmax(140px, 2fr)',
  keywords: 'minmax(120px, 1.4fr)',
  place: 'minmax(100px, 1.2fr)',
  accession: '120px',
  drives: 'minmax(90px, 1fr)',
  copies: '60px',
  added: '130px',
};

const SORTED_BY: Partial<Record<Column, SortBy>> = {
  name: 'name',
  taken: 'taken',
  rating: 'rating',
  marker: 'marker',
  type: 'type',
  place: 'place',
  accession: 'accession',
  added: 'added',
};

interface Props {
  result: SearchAnswer;
  sort: Sort;
  onOpen: (photoId: string) => void;
}

export function ListView({ result, sort, onOpen }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box);
  const [top, setTop] = useState(0);
  const columns = useWallChoices((state) => state.columns);
  const { order } = result;
  const first = Math.max(0, Math.floor((top - AHEAD) / LINE));
  const end = Math.min(order.length, Math.ceil((top + height + AHEAD) / LINE));
  const records = useRecords(order, first, end);
  const names = useFileNames(records);
  const markers = useMarkersByName();
  useFocusInView(box, order, (position) => ({ from: HEAD + position * LINE, to: HEAD + (position + 1) * LINE }), HEAD);
  const template = { gridTemplateColumns: `50px ${columns.map((column) => WIDTHS[column]).join(' ')}` };
  return (
    <div
      ref={box}
      className={styles.list}
      onScroll={(event) => setTop(event.currentTarget.scrollTop)}
      role="grid"
      aria-label="List"
      aria-rowcount={order.length + 1}
      aria-multiselectable
      tabIndex={-1}
    >
      <div className={styles.listHead} role="row" style={template}>
        <span role="columnheader">
          <span className="visually-hidden">Picture</span>
        </span>
        {columns.map((column) => (
          <Heading key={column} column={column} sort={sort} />
        ))}
      </div>
      <div className={styles.lines} style={{ height: order.length * LINE }} role="rowgroup">
        {order.slice(first, end).map((id, index) => (
          <Line
            key={id}
            id={id}
            position={first + index}
            photo={records.get(id)}
            name={names.get(id) ?? ''}
            marker={markers.get(result.labels[result.onMarkers[first + index] ?? 0] ?? '')}
            columns={columns}
            template={template}
            result={result}
            onOpen={onOpen}
          />
        ))}
      </div>
    </div>
  );
}

/** The name of a file of each photo. */
function useFileNames(records: Map<string, PhotoRecord>): Map<string, string> {
  const ids = useMemo(() => [...records.keys()], [records]);
  const files = useLive(() => session.db.files.where('photoId').anyOf(ids).toArray(), [ids]);
  return useMemo(
    () => new Map((files ?? []).toReversed().map((file) => [file.photoId ?? '', nameIn(pathToBe(file))])),
    [files],
  );
}

function Heading({ column, sort }: { column: Column; sort: Sort }) {
  const { setScope } = useScope();
  const by = SORTED_BY[column];
  const is = by === sort.by;
  if (!by) return <span role="columnheader">{COLUMNS[column]}</span>;
  const sortBy = () =>
    setScope((now) =>
      withTerm(
        now,
        'sort',
        by === 'taken' && (!is || sort.reversed) ? null : `${is && !sort.reversed ? '-' : ''}${by}`,
      ),
    );
  return (
    <div role="columnheader" aria-sort={!is ? 'none' : sort.reversed ? 'descending' : 'ascending'}>
      <button type="button" onClick={sortBy}>
        {COLUMNS[column]}
        {is ? (sort.reversed ? ' ↑' : ' ↓') : ''}
      </button>
    </div>
  );
}

interface LineProps {
  id: string;
  position: number;
  photo: PhotoRecord | undefined;
  name: string;
  marker: Marker | undefined;
  columns: Column[];
  template: { gridTemplateColumns: string };
  result: SearchAnswer;
  onOpen: (id: string) => void;
}

function Line({ id, position, photo, name, marker, columns, template, result, onOpen }: LineProps) {
  const preview = usePreview(id);
  const selected = useSelection((state) => state.ids.has(id));
  const focused = useSelection((state) => state.focus === id);
  const choose = (event: MouseEvent | KeyboardEvent) => {
    if (event.shiftKey) selectRange(result.order, id, event.ctrlKey || event.metaKey);
    else if (event.ctrlKey || event.metaKey) toggleSelected(id);
    else selectOnly(id);
  };
  const label = result.labels[result.onMarkers[position] ?? 0] ?? '';
  const text = (value: unknown) => (typeof value === 'string' ? value : '');
  const cells: Record<Column, () => ReactNode> = {
    name: () => <span className="mono">{name}</span>,
    taken: () => {
      const captured = photo ? capturedIn(photo.fields) : null;
      return (
        <span className="mono" title={capturedWords(captured)}>
          {captured ? capturedWords({ ...captured, offset: null }) : ''}
        </span>
      );
    },
    rating: () => <RatingBars rating={result.ratings[position] ?? 0} />,
    marker: () => (
      <>
        {marker && <MarkerSign {...marker} />} {label}
      </>
    ),
    type: () => photo?.format.toUpperCase() ?? '',
    camera: () => (photo ? cameraName(photo.camera) : ''),
    exposure: () => <span className="mono">{photo ? exposureWords(photo.exposure).join(' ') : ''}</span>,
    headline: () => text(photo?.fields.headline),
    caption: () => text(photo?.fields.caption),
    keywords: () => wordsIn(photo?.fields.keywords).join(', '),
    place: () =>
      [photo?.fields.sublocation, photo?.fields.city, photo?.fields.country].map(text).filter(Boolean).join(', '),
    accession: () => <span className="mono">{numberAmong(wordsIn(photo?.fields.identifier)) ?? ''}</span>,
    drives: () => (result.driveSets[result.onDrives[position] ?? 0] ?? []).join(', '),
    copies: () => result.copies[position],
    added: () => (photo ? dateTime(photo.addedAt) : ''),
  };
  return (
    <div
      className={styles.line}
      style={{ ...template, top: position * LINE }}
      role="row"
      aria-rowindex={position + 2}
      aria-selected={selected}
      data-focus={focused}
      data-photo={id}
      tabIndex={focused ? 0 : -1}
      onClick={choose}
      onDoubleClick={() => onOpen(id)}
    >
      <span role="gridcell">{preview && <img src={preview} alt="" />}</span>
      {columns.map((column) => (
        <span key={column} role="gridcell">
          {cells[column]()}
        </span>
      ))}
    </div>
  );
}
