'use client';

// The almanac: years across, months down, shaded by how many photos. A cell, a year, a month of every year or a drawn
// range narrows the scope; the same once more widens it. A year opens to its days.

import { Button, Popover } from 'antd';
import { type CSSProperties, type KeyboardEvent, type PointerEvent, type ReactNode, useMemo, useState } from 'react';
import { parseScope } from '@/core/query/parse-scope';
import { termOf, withTerm } from '@/core/query/write-scope';
import { count } from '@/ui/format';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './almanac.module.css';
import { type MonthSpan, type YearGap, spanOf, rangeText, yearsOf } from './almanac-years';
import { useResult } from '@/features/parts/search/use-result';
import { useScope } from '@/features/parts/search/use-scope';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
/** With more columns than this, years are named by their last two digits. */
const SHORT_NAMES_FROM = 24;
const shortYear = (year: number) => `’${String(year).slice(2)}`;
const NONE: ReadonlyMap<number, number> = new Map();
const two = (part: number) => String(part).padStart(2, '0');
const depth = (photos: number, most: number) =>
  ({ '--depth': photos === 0 ? 0 : 0.18 + 0.82 * Math.sqrt(photos / most) }) as CSSProperties;

export function Almanac() {
  const months = useResult((state) => state.result?.months) ?? NONE;
  const { scope, setScope } = useScope();
  const dated = useMemo(() => [...months].filter(([month]) => month > 0), [months]);
  const years = useMemo(() => yearsOf(dated.map(([month]) => Math.floor(month / 100))), [dated]);
  const taken = takenOf(scope);
  const year =
    taken && Math.floor(taken.from / 10_000) === Math.floor(Math.min(taken.to, 99_999_999) / 10_000)
      ? Math.floor(taken.from / 10_000)
      : null;
  const [daysOf, setDaysOf] = useState<number | null>(null);
  const narrow = (text: string) =>
    setScope((now) => withTerm(now, 'taken', termOf(now, 'taken') === text ? null : text));
  const drawing = useDrawnMonths(narrow);
  if (years.length === 0) return null;
  const most = Math.max(...dated.map(([, photos]) => photos));
  const within = (from: number, to: number) =>
    drawing.drawn
      ? from <= drawing.drawn.to && to >= drawing.drawn.from
      : taken !== null && to >= taken.from && from <= taken.to;
  return (
    <section className={styles.almanac} aria-label="Almanac">
      <div
        className={styles.sheet}
        style={{
          gridTemplateColumns: `34px ${years.map((one) => (typeof one === 'number' ? 'minmax(14px, 1fr)' : '14px')).join(' ')}`,
        }}
        onPointerDown={drawing.onPointerDown}
        onKeyDown={stepCells}
      >
        <EveryYear months={dated}>
          {year !== null && (
            <Button
              size="small"
              aria-expanded={daysOf === year}
              onClick={() => setDaysOf(daysOf === year ? null : year)}
            >
              {daysOf === year ? 'Close the days' : 'Days'} of {year}
            </Button>
          )}
        </EveryYear>
        {years.map((one) =>
          typeof one !== 'number' ? (
            <Gap key={one.from} gap={one} />
          ) : (
            <div key={one} className={styles.year}>
              <div className={styles.months}>
                {MONTHS.map((name, index) => {
                  const photos = months.get(one * 100 + index + 1) ?? 0;
                  const number = (one * 100 + index + 1) * 100;
                  return (
                    <button
                      key={name}
                      type="button"
                      tabIndex={-1}
                      className={styles.cell}
                      data-within={within(number, number + 99)}
                      data-month={number}
                      disabled={photos === 0}
                      style={depth(photos, most)}
                      aria-label={`${name} ${one}: ${photos} photos`}
                      title={`${name} ${one}: ${count(photos)}`}
                      onClick={() => !drawing.wasDrawn() && narrow(`${one}-${two(index + 1)}`)}
                    />
                  );
                })}
              </div>
              <button
                type="button"
                className={styles.yearName}
                data-within={within(one * 10_000, one * 10_000 + 9999)}
                onClick={() => narrow(String(one))}
                aria-label={years.length > SHORT_NAMES_FROM ? `Year ${one}, ${shortYear(one)}` : `Year ${one}`}
              >
                {years.length > SHORT_NAMES_FROM ? shortYear(one) : one}
              </button>
            </div>
          ),
        )}
      </div>
      {year !== null && daysOf === year && (
        <Days year={year} scope={withTerm(scope, 'taken', null)} taken={taken} onDay={narrow} />
      )}
    </section>
  );
}

/** The names of the months; a click offers each month of every year. */
function EveryYear({ months, children }: { months: [number, number][]; children: ReactNode }) {
  const { scope, setScope } = useScope();
  const chosen = termOf(scope, 'month');
  const content = (
    <>
      <div className={styles.everyYear} role="group" aria-label="A month of every year">
        {MONTHS.map((name, index) => {
          const photos = months.reduce((sum, [month, number]) => sum + (month % 100 === index + 1 ? number : 0), 0);
          return (
            <Button
              key={name}
              size="small"
              disabled={photos === 0}
              type={chosen === String(index + 1) ? 'primary' : 'default'}
              onClick={() =>
                setScope((now) => withTerm(now, 'month', chosen === String(index + 1) ? null : String(index + 1)))
              }
            >
              {name} <span className={styles.shelfCount}>{count(photos)}</span>
            </Button>
          );
        })}
      </div>
      {children}
    </>
  );
  return (
    <Popover trigger="click" placement="bottomLeft" content={content} title="A month of every year">
      <button
        type="button"
        className={styles.monthNames}
        data-chosen={chosen !== null}
        aria-label="A month of every year"
      >
        {['Jan', 'Apr', 'Jul', 'Oct'].map((name) => (
          <span key={name} data-name={name} />
        ))}
      </button>
    </Popover>
  );
}

function Gap({ gap: { from, to } }: { gap: YearGap }) {
  return (
    <div
      className={styles.gap}
      role="img"
      aria-label={`${from} to ${to}: no photos`}
      title={`${from}–${to}: no photos`}
    />
  );
}

/** Months down, days across, of one year. */
function Days({
  year,
  scope,
  taken,
  onDay,
}: {
  year: number;
  scope: string;
  taken: MonthSpan | null;
  onDay: (text: string) => void;
}) {
  const days = useAsked(`${year} ${scope}`, () => session.search.days(scope, year))?.answer ?? NONE;
  const most = Math.max(1, ...days.values());
  return (
    <div className={styles.days} role="group" aria-label={`Days of ${year}`} onKeyDown={stepCells}>
      {MONTHS.map((name, index) => (
        <div key={name} className={styles.dayRow}>
          <span aria-hidden>{name}</span>
          {Array.from({ length: new Date(Date.UTC(year, index + 1, 0)).getUTCDate() }, (_, day) => {
            const number = year * 10_000 + (index + 1) * 100 + day + 1;
            const photos = days.get(number) ?? 0;
            return (
              <button
                key={number}
                type="button"
                tabIndex={photos > 0 ? 0 : -1}
                className={styles.cell}
                disabled={photos === 0}
                style={depth(photos, most)}
                data-within={taken !== null && number >= taken.from && number <= taken.to}
                aria-label={`${day + 1} ${name} ${year}: ${photos} photos`}
                title={`${day + 1} ${name}: ${count(photos)}`}
                onClick={() => onDay(`${year}-${two(index + 1)}-${two(day + 1)}`)}
              />
            );
          })}
        </div>
      ))}
    </div>
  );
}

function takenOf(scope: string): MonthSpan | null {
  for (const { query } of parseScope(scope).items)
    if (query.kind === 'term' && query.test.kind === 'taken') return query.test.span;
  return null;
}

/** A range is drawn from one month to another; what lies between is narrowed to. */
function useDrawnMonths(narrow: (text: string) => void) {
  const [drawn, setDrawn] = useState<MonthSpan | null>(null);
  const [ended, setEnded] = useState(false);
  const monthAt = (x: number, y: number) => {
    const month = document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-month]')?.dataset.month;
    return month === undefined ? null : Number(month);
  };
  const onPointerDown = (event: PointerEvent) => {
    const start = event.button === 0 ? monthAt(event.clientX, event.clientY) : null;
    setEnded(false);
    if (start === null) return;
    let span: MonthSpan | null = null;
    const onMove = (move: globalThis.PointerEvent) => {
      const now = monthAt(move.clientX, move.clientY);
      if (now === null || (span === null && now === start)) return;
      span = spanOf(start, now);
      setDrawn(span);
    };
    const onEnd = () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onEnd);
      setDrawn(null);
      if (span === null) return;
      setEnded(true);
      narrow(rangeText(span));
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onEnd);
  };
  return { drawn, onPointerDown, wasDrawn: () => ended };
}

/**
 * The arrow keys go from cell to cell, those without photos left out; up from a year into its months, down from them to
 * it.
 */
function stepCells(event: KeyboardEvent<HTMLElement>): void {
  const step = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
  const from = document.activeElement;
  if (!step || !(from instanceof HTMLElement)) return;
  event.preventDefault();
  event.stopPropagation();
  const here = from.getBoundingClientRect();
  const [x = 0, y = 0] = step;
  const middle = (box: DOMRect) => ({ x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 });
  const start = middle(here);
  let best: { button: HTMLElement; far: number } | null = null;
  for (const button of event.currentTarget.querySelectorAll<HTMLButtonElement>('button:not(:disabled)')) {
    const at = middle(button.getBoundingClientRect());
    const along = (at.x - start.x) * x + (at.y - start.y) * y;
    const across = Math.abs((at.x - start.x) * y) + Math.abs((at.y - start.y) * x);
    if (along <= 1) continue;
    const far = along + 3 * across;
    if (!best || far < best.far) best = { button, far };
  }
  best?.button.focus();
}
