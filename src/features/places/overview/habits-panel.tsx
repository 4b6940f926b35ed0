'use client';

// How one photographs, for those who like to know: lenses, light, hours, and how much of each shoot is kept. Read by
// anyone as a table, as CSV, and as a drawing.

import { Button, Segmented } from 'antd';
import { useRef, useState } from 'react';
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { writeTable } from '@/core/text/delimited';
import { type HabitRow, HABITS, type HabitName, habitRows, habitSentence } from '@/messages/habits';
import { session } from '@/engine/session';
import { saveText } from '@/ui/save-file';
import { useAsked } from '@/features/parts/session/use-asked';
import { AT_POINTER, AXIS, COUNT_AXIS, MARGIN } from './chart-axes';
import styles from './overview.module.css';

export function HabitsPanel() {
  const [shown, setShown] = useState<HabitName>('focal');
  const habits = useAsked('habits', () => session.search.habits(''), 600)?.answer ?? null;
  const drawing = useRef<HTMLDivElement>(null);
  const rows = habits ? habitRows(habits, shown) : [];
  const saveDrawing = () => {
    const svg = drawing.current?.querySelector('svg');
    if (svg) saveText(`${shown}.svg`, standalone(svg), 'image/svg+xml');
  };
  return (
    <section className={styles.panel} aria-label="Habits">
      <header>
        <h2>Habits</h2>
        <span className={styles.headActs}>
          <Button size="small" type="text" onClick={() => saveText(`${shown}.csv`, tableOf(rows), 'text/csv')}>
            CSV
          </Button>
          <Button size="small" type="text" onClick={saveDrawing}>
            SVG
          </Button>
        </span>
      </header>
      <Segmented
        size="small"
        aria-label="Habit"
        value={shown}
        onChange={setShown}
        options={Object.entries(HABITS).map(([value, label]) => ({ value: value as HabitName, label }))}
      />
      {rows.length === 0 ? (
        <p className="quiet">{habits ? 'Nothing is known of it yet.' : ''}</p>
      ) : (
        <div ref={drawing} className={styles.chart} role="figure" aria-label={habitSentence(rows, shown)}>
          <HabitChart rows={rows} />
        </div>
      )}
    </section>
  );
}

const HabitChart = ({ rows }: { rows: readonly HabitRow[] }) => (
  <ResponsiveContainer width="100%" height="100%">
    <BarChart data={[...rows]} margin={MARGIN} barCategoryGap={1}>
      <XAxis dataKey="label" interval="preserveStartEnd" {...AXIS} />
      <YAxis {...COUNT_AXIS} />
      <Tooltip {...AT_POINTER} />
      <Bar
        dataKey="value"
        name={rows[0]?.unit ?? 'photos'}
        maxBarSize={44}
        fill="var(--accent)"
        isAnimationActive={false}
      />
    </BarChart>
  </ResponsiveContainer>
);

const tableOf = (rows: readonly HabitRow[]): string =>
  writeTable([['range', rows[0]?.unit ?? ''], ...rows.map(({ label, value }) => [label, String(value)])], ',');

/** A drawing that stands without this page's colours. */
function standalone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  const style = getComputedStyle(document.documentElement);
  return copy.outerHTML.replace(/var\((--[\w-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim());
}
