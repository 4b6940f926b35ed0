'use client';

// What to take: the frames by day and gap, each with its thumbnail and its tick. Only the rows near the window are in
// the page.

import { Button, Checkbox } from 'antd';
import { type KeyboardEvent, type MouseEvent, memo, useMemo, useRef, useState } from 'react';
import { headsOf, layWall, rowsWithin, wallHeight } from '@/core/wall/rows';
import { runsOf } from '@/core/take-in/runs';
import { nameIn } from '@/core/names/file-names';
import type { SurveyedFrame, SourceStatus } from '@/storage/jobs/source-survey';
import { problemSentence } from '@/messages/problems';
import { count, dayHeading, plural } from '@/ui/format';
import { useSize } from '@/ui/use-size';
import { runOf } from './run-of';
import { useThumb } from './source-thumbs';
import { isVideo, isKnown, isTicked, markRun, setSheet, tick, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';
import type { Chosen } from './use-plan';

/** As in the style sheet. */
const PADDING = 8;
const TILE = { height: 92, gap: 6, heading: 28 };
const ASPECT = 1.35;
const AHEAD = 300;

export function FramesSection({ all, ticked }: Chosen) {
  const { mark, sheet } = useTakeIn();
  const videos = all.filter(isVideo).length;
  const fresh = all.filter((item) => !isKnown(item));
  const only = () => {
    const run = runOf(all, mark);
    tick(all, false);
    tick(
      run.filter((item) => !isKnown(item)),
      true,
    );
  };
  return (
    <section className={styles.section} aria-labelledby="take-in-frames">
      <h2 id="take-in-frames">
        What to take{' '}
        <span className={styles.counts}>
          {count(ticked.length)} of {count(all.length)} ticked
        </span>
      </h2>
      <div className={styles.line}>
        <Button size="small" onClick={() => tick(fresh, true)}>
          All that are new
        </Button>
        <Button size="small" onClick={() => tick(all, false)}>
          None
        </Button>
        <Button size="small" disabled={!mark} onClick={only}>
          Only the marked run{mark && ` (${count(runOf(all, mark).length)})`}
        </Button>
        {videos > 0 && (
          <Checkbox checked={sheet.withVideos} onChange={({ target }) => setSheet({ withVideos: target.checked })}>
            videos too ({count(videos)})
          </Checkbox>
        )}
        <span className="quiet">Click marks a frame, Shift and click a run.</span>
      </div>
      <Frames all={all} />
    </section>
  );
}

function Frames({ all }: { all: SurveyedFrame[] }) {
  const box = useRef<HTMLDivElement>(null);
  const width = Math.max(0, useSize(box).width - 2 * PADDING);
  const [top, setTop] = useState(0);
  const [focus, setFocus] = useState(0);
  const mark = useTakeIn((state) => state.mark);
  const inRun = useMemo(() => new Set(runOf(all, mark).map(({ frame }) => frame.key)), [all, mark]);
  const runs = useMemo(
    () => runsOf(all.map((item) => ({ item, path: '', captured: item.reading?.captured ?? null }))),
    [all],
  );
  const rows = useMemo(() => {
    // the wall parts at days; here it parts at runs, numbered from 1
    const numbers = runs.flatMap(({ items }, index) => items.map(() => index + 1));
    return width > 0
      ? layWall(
          headsOf(numbers),
          numbers.map(() => ASPECT),
          { width, rowHeight: TILE.height, gap: TILE.gap, headingHeight: TILE.heading },
        )
      : [];
  }, [runs, width]);
  const { first, end } = rowsWithin(rows, top - AHEAD, top + 400 + AHEAD);

  const go = (to: number) => {
    const next = Math.max(0, Math.min(all.length - 1, to));
    setFocus(next);
    const row = rows.find((one) => one.kind === 'photos' && next >= one.start && next < one.end);
    if (
      row &&
      box.current &&
      (row.top < box.current.scrollTop || row.top + row.height > box.current.scrollTop + box.current.clientHeight)
    )
      box.current.scrollTop = row.top - TILE.heading;
    requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`[data-frame="${next}"]`)?.focus());
  };
  const onKey = (event: KeyboardEvent) => {
    const step = {
      ArrowRight: 1,
      ArrowLeft: -1,
      ArrowDown: Math.floor(width / (TILE.height * ASPECT)),
      ArrowUp: -Math.floor(width / (TILE.height * ASPECT)),
      Home: -all.length,
      End: all.length,
    }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    go(focus + step);
  };
  return (
    <div
      ref={box}
      className={styles.frames}
      onScroll={(event) => setTop(event.currentTarget.scrollTop)}
      onKeyDown={onKey}
      role="group"
      aria-label="Frames"
    >
      <div style={{ height: wallHeight(rows), position: 'relative' }}>
        {rows.slice(first, end).map((row) =>
          row.kind === 'heading' ? (
            <RunHeading
              key={`h${row.start}`}
              top={row.top}
              day={runs[Number(row.value) - 1]?.day ?? 0}
              items={all.slice(row.start, row.start + row.count)}
            />
          ) : (
            <div key={`p${row.start}`} className={styles.row} style={{ top: row.top, height: row.height }}>
              {all.slice(row.start, row.end).map((item, index) => (
                <FrameTile
                  key={item.frame.key}
                  item={item}
                  at={row.start + index}
                  width={row.height * ASPECT}
                  height={row.height}
                  left={index * (row.height * ASPECT + TILE.gap)}
                  marked={inRun.has(item.frame.key)}
                  tabbable={focus === row.start + index}
                  status={item.status?.state ?? null}
                  read={item.reading !== null}
                />
              ))}
            </div>
          ),
        )}
      </div>
    </div>
  );
}

function RunHeading({ top, day, items }: { top: number; day: number; items: SurveyedFrame[] }) {
  const state = useTakeIn();
  const ticked = items.filter((item) => isTicked(item, state)).length;
  const fresh = items.filter((item) => !isKnown(item) && !item.problem);
  const [from, to] = [items[0], items.at(-1)].map((item) => item?.reading?.captured?.written.slice(11, 16) ?? '');
  const words = `${dayHeading(day)}${from ? `, ${from === to ? from : `${from} to ${to}`}` : ''}`;
  return (
    <div className={styles.run} style={{ top, height: TILE.heading }}>
      <Checkbox
        checked={ticked > 0 && ticked >= fresh.length}
        indeterminate={ticked > 0 && ticked < fresh.length}
        disabled={fresh.length === 0}
        onChange={({ target }) => tick(target.checked ? fresh : items, target.checked)}
      >
        <strong>{words}</strong>{' '}
        <span className="quiet">
          {plural(items.length, 'frame')}
          {ticked < items.length && `, ${count(ticked)} ticked`}
        </span>
      </Checkbox>
    </div>
  );
}

interface TileProps {
  item: SurveyedFrame;
  at: number;
  left: number;
  width: number;
  height: number;
  marked: boolean;
  tabbable: boolean;
  status: SourceStatus['state'] | null;
  /** The item grows while the source is looked at: what changed is handed in, so that the tile is drawn anew. */
  read: boolean;
}

const FrameTile = memo(function FrameTile({ item, at, left, width, height, marked, tabbable, status }: TileProps) {
  const ticked = useTakeIn((state) => isTicked(item, state));
  const given = useTakeIn((state) => state.given.has(item.frame.key));
  const url = useThumb(item);
  const name = nameIn(item.frame.photos[0]?.path ?? item.frame.key);
  const more = item.frame.photos.length + item.frame.beside.length - 1;
  const remark = item.problem
    ? 'cannot be read'
    : isKnown(item)
      ? 'known'
      : given
        ? 'going in'
        : status === 'doubtful'
          ? 'in doubt'
          : isVideo(item)
            ? 'video'
            : '';
  const why = item.problem
    ? problemSentence(item.problem)
    : item.status?.state === 'doubtful'
      ? item.status.why === 'same-name'
        ? 'The catalog has a photo of this name and time with other content.'
        : 'The catalog has a photo that begins and ends like this one, with other bytes between: one of the two is damaged.'
      : status === 'likely'
        ? 'The catalog has it by its beginning and end; its checksum was not read there yet.'
        : undefined;
  const click = (event: MouseEvent) => markRun(item.frame.key, event.shiftKey);
  return (
    <div className={styles.frame} style={{ left, width, height }} data-ticked={ticked} data-marked={marked} title={why}>
      <button
        type="button"
        data-keys="through"
        data-frame={at}
        tabIndex={tabbable ? 0 : -1}
        className={styles.picture}
        onClick={click}
        onDoubleClick={() => tick([item], !ticked)}
        aria-label={['Mark', name, more > 0 && `+${more}`, remark].filter(Boolean).join(' ')}
        aria-pressed={marked}
        onKeyDown={(event) => {
          if (event.key === ' ') {
            event.preventDefault();
            tick([item], !ticked);
          }
        }}
      >
        {url ? (
          <img src={url} alt="" draggable={false} />
        ) : (
          <span className={styles.none}>{url === null ? 'no preview' : ''}</span>
        )}
        <span className={styles.caption}>
          <span className="mono">{name}</span>
          {more > 0 && <em> +{more}</em>}
          {remark && <em> {remark}</em>}
        </span>
      </button>
      <Checkbox
        className={styles.tick}
        checked={ticked}
        disabled={item.problem !== null || given}
        tabIndex={-1}
        onChange={({ target }) => tick([item], target.checked)}
        aria-label={`Take ${name}`}
      />
    </div>
  );
});
