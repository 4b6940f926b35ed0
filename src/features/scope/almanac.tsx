'use client';

import type { CSSProperties, KeyboardEvent } from 'react';
import { parseScope, withTerm } from '@/core/scope/scope';
import { count } from '@/ui/format';
import styles from './scope.module.css';
import { useResult } from './use-result';
import { useScope } from './use-scope';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
/** With more columns than this, years are named by their last two digits. */
const SHORT_NAMES_FROM = 24;
const shortYear = (year: number) => `’${String(year).slice(2)}`;
const two = (month: number) => String(month).padStart(2, '0');

/** Years across, months down, shaded by how many photos. A cell or a year narrows the scope; once more widens it again. */
export function Almanac() {
  const months = useResult((state) => state.months);
  const { scope, setScope } = useScope();
  const dated = [...months].filter(([month]) => month > 0);
  const years = yearsOf(dated.map(([month]) => Math.floor(month / 100)));
  if (years.length === 0) return null;
  const most = Math.max(...dated.map(([, photos]) => photos));
  const taken = takenOf(scope);
  const narrow = (text: string) => setScope(withTerm(scope, 'taken', scope.includes(`taken:${text}`) && !scope.includes(`taken:${text}-`) ? null : text));
  return (
    <section className={styles.almanac} aria-label="Almanac" style={{ gridTemplateColumns: `30px ${years.map((year) => (typeof year === 'number' ? 'minmax(14px, 1fr)' : '14px')).join(' ')}` }}>
      <div className={styles.monthNames} aria-hidden>
        {['Jan', 'Apr', 'Jul', 'Oct'].map((name) => <span key={name}>{name}</span>)}
      </div>
      {years.map((year) => typeof year !== 'number' ? <Gap key={year.from} gap={year} /> : (
        <div key={year} className={styles.year}>
          <div className={styles.months} onKeyDown={stepMonths}>
            {MONTHS.map((name, index) => {
              const photos = months.get(year * 100 + index + 1) ?? 0;
              const within = taken !== null && (year * 100 + index + 1) * 100 + 99 >= taken.from && (year * 100 + index + 1) * 100 <= taken.to;
              return (
                <button
                  key={name} type="button" tabIndex={-1} className={styles.cell} data-within={within} disabled={photos === 0}
                  style={{ '--depth': photos === 0 ? 0 : 0.18 + 0.82 * Math.sqrt(photos / most) } as CSSProperties}
                  aria-label={`${name} ${year}: ${photos} photos`} title={`${name} ${year}: ${count(photos)}`}
                  onClick={() => narrow(`${year}-${two(index + 1)}`)}
                />
              );
            })}
          </div>
          <button type="button" className={styles.yearName} data-within={taken !== null && year * 10_000 + 9999 >= taken.from && year * 10_000 <= taken.to} onClick={() => narrow(String(year))} aria-label={years.length > SHORT_NAMES_FROM ? `Year ${year}, ${shortYear(year)}` : `Year ${year}`} onKeyDown={enterMonths}>
            {years.length > SHORT_NAMES_FROM ? shortYear(year) : year}
          </button>
        </div>
      ))}
    </section>
  );
}

interface YearGap {
  from: number;
  to: number;
}

/** A stretch of this many years without a photo is folded into one narrow column, which says so. */
const FOLDED_YEARS = 4;

function yearsOf(found: number[]): (number | YearGap)[] {
  const years = [...new Set(found)].sort((a, b) => a - b);
  return years.flatMap((year, index) => {
    const before = years[index - 1] ?? year - 1;
    const between = year - before - 1;
    if (between >= FOLDED_YEARS) return [{ from: before + 1, to: year - 1 }, year];
    return [...Array.from({ length: between }, (_, step) => before + 1 + step), year];
  });
}

function Gap({ gap: { from, to } }: { gap: YearGap }) {
  return <div className={styles.gap} role="img" aria-label={`${from} to ${to}: no photos`} title={`${from}–${to}: no photos`} />;
}

function takenOf(scope: string): { from: number; to: number } | null {
  const test = parseScope(scope).clauses.flat().find(({ test }) => test.kind === 'range' && test.of === 'taken')?.test;
  return test?.kind === 'range' ? test : null;
}

/** From the year up into its months, and among them, by the arrow keys. */
function enterMonths(event: KeyboardEvent<HTMLButtonElement>): void {
  if (event.key !== 'ArrowUp') return;
  const cells = event.currentTarget.previousElementSibling?.querySelectorAll<HTMLButtonElement>('button:not(:disabled)');
  cells?.[cells.length - 1]?.focus();
  event.preventDefault();
  event.stopPropagation();
}

function stepMonths(event: KeyboardEvent<HTMLDivElement>): void {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
  if (step === undefined) return;
  const cells = [...event.currentTarget.querySelectorAll<HTMLButtonElement>('button:not(:disabled)')];
  cells[cells.indexOf(document.activeElement as HTMLButtonElement) + step]?.focus();
  event.preventDefault();
  event.stopPropagation();
}
