'use client';

// Over the wall: what is counted, in which order it stands, how large, and which marks it bears.

import { Button, Checkbox, Popover, Segmented, Select, Slider, Tooltip } from 'antd';
import { countOf } from '@/core/search/search-record';
import { SORTS, type Sort, type SortBy } from '@/core/query/query';
import { withTerm } from '@/core/query/write-scope';
import { count } from '@/ui/format';
import type { SearchAnswer } from '@/workers/search-client';
import { JudgingTo } from '@/features/parts/judging/marker-choice';
import { useJudging } from '@/features/parts/judging/rate';
import { type Viewing, searchAnew, setViewing, useViewing } from '@/features/parts/search/use-result';
import { useScope } from '@/features/parts/search/use-scope';
import { useSelection } from '@/features/parts/selection/selection';
import { COLUMNS, type Column, MARKS, type Mark, type WallChoices, useWallChoices } from './wall-choices';
import styles from './wall.module.css';

const SORT_WORDS: Record<SortBy, string> = {
  taken: 'time taken',
  name: 'name',
  rating: 'rating',
  marker: 'marker',
  type: 'file type',
  added: 'when added',
  accession: 'accession number',
  place: 'place',
  hand: 'order by hand',
};
const SIZES = { min: 70, max: 420 };

interface Props {
  result: SearchAnswer;
  sort: Sort;
  folded: boolean;
  onFold: () => void;
}

export function WallBar({ result, sort, folded, onFold }: Props) {
  const { view, rowHeight } = useWallChoices();
  return (
    <div className={styles.bar}>
      <Counts result={result} />
      <SortChoice sort={sort} />
      <ViewMenu />
      <Segmented<WallChoices['view']>
        size="small"
        value={view}
        onChange={(next) => useWallChoices.setState({ view: next })}
        options={[
          { value: 'wall', label: 'Wall' },
          { value: 'list', label: 'List' },
          { value: 'alike', label: 'Look-alikes' },
        ]}
        aria-label="View"
      />
      {view === 'wall' && (
        <Slider
          className={styles.size}
          {...SIZES}
          value={rowHeight}
          onChange={(next) => useWallChoices.setState({ rowHeight: next })}
          tooltip={{ open: false }}
          ariaLabelForHandle="Size of the photos"
        />
      )}
      <Button size="small" type="text" onClick={onFold} aria-pressed={folded}>
        {folded ? 'Unfold' : 'Fold'} panels
      </Button>
    </div>
  );
}

/** Counts in sight beside what is shown; the others are told at the pointer. */
const COUNTS_SHOWN = 2;

/** Shown and hidden make all, each time: hidden by the scope, behind closed sets; and what only stays. */
function Counts({ result }: { result: SearchAnswer }) {
  const { order, fitting, staying, behind, all, ladder } = result;
  const selected = useSelection((state) => state.ids.size);
  const unrated = countOf(ladder, 0);
  const hidden = all - fitting - staying;
  const parts = [
    selected > 0 && `${count(selected)} selected`,
    behind > 0 && `${count(behind)} in closed sets`,
    unrated > 0 && unrated < order.length && `${count(unrated)} still unrated`,
    hidden > 0 && `${count(hidden)} not in this search`,
  ].filter((part) => part !== false);
  return (
    <span className={styles.counts}>
      <Tooltip title={parts.join(', ')}>
        <span>
          <strong>{count(order.length)}</strong> shown
          {order.length !== all && <span className="quiet"> of {count(all)}</span>}
          {parts.slice(0, COUNTS_SHOWN).map((part) => (
            <span key={part} className="quiet">
              {' '}
              · {part}
            </span>
          ))}
        </span>
      </Tooltip>
      {staying > 0 && (
        <Tooltip title="They no longer fit the search since you changed them">
          <Button size="small" type="link" onClick={searchAnew}>
            {count(staying)} stay; look anew
          </Button>
        </Tooltip>
      )}
    </span>
  );
}

function SortChoice({ sort }: { sort: Sort }) {
  const { setScope } = useScope();
  const set = (by: SortBy, reversed: boolean) =>
    setScope((now) => withTerm(now, 'sort', by === 'taken' && !reversed ? null : `${reversed ? '-' : ''}${by}`));
  return (
    <span className={styles.sort}>
      <Select
        size="small"
        variant="borderless"
        aria-label="Sorted by"
        value={sort.by}
        onChange={(by) => set(by, false)}
        options={SORTS.map((by) => ({ value: by, label: SORT_WORDS[by] }))}
        popupMatchSelectWidth={false}
      />
      <Button
        size="small"
        type="text"
        aria-label={sort.reversed ? 'The other way round: on' : 'The other way round'}
        aria-pressed={sort.reversed}
        onClick={() => set(sort.by, !sort.reversed)}
      >
        {sort.reversed ? '↑' : '↓'}
      </Button>
    </span>
  );
}

/** What the tiles bear, what the list shows, and how sets and edited photos are treated. */
function ViewMenu() {
  const { view, marks, columns } = useWallChoices();
  const { setsClosed, leaving } = useViewing();
  const to = useJudging((state) => state.to);
  const content = (
    <div className={styles.viewMenu}>
      <Checkbox checked={setsClosed} onChange={(event) => setViewing({ setsClosed: event.target.checked, opened: [] })}>
        One tile for each set
      </Checkbox>
      <fieldset>
        <legend>A judgement goes to</legend>
        <JudgingTo value={to} onChange={(next) => useJudging.setState({ to: next })} setSize={0} />
      </fieldset>
      <fieldset>
        <legend>A photo that no longer fits the search after you changed it</legend>
        <Segmented<Viewing['leaving']>
          size="small"
          value={leaving}
          onChange={(next) => setViewing({ leaving: next })}
          options={[
            { value: 'later', label: 'stays until I look anew' },
            { value: 'at-once', label: 'is hidden at once' },
          ]}
          aria-label="When it leaves"
        />
      </fieldset>
      {view === 'wall' ? (
        <fieldset>
          <legend>Marks on the tiles</legend>
          <Checkbox.Group<Mark>
            value={marks}
            onChange={(next) => useWallChoices.setState({ marks: next })}
            options={Object.entries(MARKS).map(([value, label]) => ({ value: value as Mark, label }))}
          />
        </fieldset>
      ) : (
        <fieldset>
          <legend>Columns</legend>
          <Checkbox.Group<Column>
            value={columns}
            onChange={(next) =>
              useWallChoices.setState({
                columns: (Object.keys(COLUMNS) as Column[]).filter((column) => next.includes(column)),
              })
            }
            options={Object.entries(COLUMNS).map(([value, label]) => ({ value: value as Column, label }))}
          />
        </fieldset>
      )}
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomLeft" content={content}>
      <Button size="small" type="text">
        View options{setsClosed ? ': sets closed' : ''}…
      </Button>
    </Popover>
  );
}
