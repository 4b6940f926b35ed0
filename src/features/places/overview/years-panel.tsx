'use client';

// The years on their true axis, empty ones too; divided by camera, accession or kind on request. A part opens its
// photos.

import { Select } from 'antd';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { z } from 'zod';
import { FACETS, type FacetName } from '@/core/search/facets';
import type { YearTallies } from '@/core/search/year-tallies';
import { quoted } from '@/core/query/write-scope';
import { session } from '@/engine/session';
import { keptChoice } from '@/ui/kept-choice';
import { photos } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import { useAsked } from '@/features/parts/session/use-asked';
import { AT_POINTER, AXIS, COUNT_AXIS, MARGIN } from './chart-axes';
import styles from './overview.module.css';

const DIVISIONS = ['none', 'camera', 'accession', 'kind', 'creator'] as const;
type Division = (typeof DIVISIONS)[number];
const useDivision = keptChoice<{ by: Division }>('wembo-years', z.object({ by: z.enum(DIVISIONS) }), { by: 'none' });
const LABELS: Record<Division, string> = {
  none: 'all together',
  camera: 'by camera',
  accession: 'by accession',
  kind: 'by kind',
  creator: 'by creator',
};
const SERIES = 6;
/** One hue from dark to light: which part is which is told by its place, and by name at the pointer. */
const SHADES = [
  'var(--shade-1)',
  'var(--shade-2)',
  'var(--shade-3)',
  'var(--shade-4)',
  'var(--shade-5)',
  'var(--shade-6)',
];
const REST = 'var(--rule)';

export function YearsPanel() {
  const { by } = useDivision();
  const facet: FacetName | null = by === 'none' ? null : by;
  const tallies = useAsked(`years ${by}`, () => session.search.years('', facet, SERIES))?.answer ?? null;
  const all = tallies ? tallies.years.reduce((sum, year) => sum + year.photos, tallies.undated) : 0;
  return (
    <section className={styles.panel} aria-label="Years">
      <header>
        <h2>Years</h2>
        <span className={styles.headActs}>
          <Select
            size="small"
            variant="borderless"
            aria-label="Divide the years"
            value={by}
            onChange={(next) => useDivision.setState({ by: next })}
            options={DIVISIONS.map((value) => ({ value, label: LABELS[value] }))}
            popupMatchSelectWidth={false}
          />
          <Link href={findAddress('')}>{photos(all)} in all</Link>
        </span>
      </header>
      {tallies && <YearsChart tallies={tallies} facet={facet} />}
      {tallies && tallies.undated > 0 && (
        <p className="quiet">
          <Link href={findAddress('missing:date')}>{photos(tallies.undated)} without a date</Link>
        </p>
      )}
    </section>
  );
}

interface Row {
  year: number;
  [series: string]: number;
}

function YearsChart({ tallies: { series, years }, facet }: { tallies: YearTallies; facet: FacetName | null }) {
  const router = useRouter();
  if (years.length === 0) return <p className="quiet">No dated photos yet.</p>;
  const open = (year: number, value: string | null) =>
    router.push(
      findAddress(
        facet && value !== null
          ? `taken:${year} ${FACETS[facet].key}${FACETS[facet].operator}${quoted(value)}`
          : `taken:${year}`,
      ),
    );
  const data: Row[] = years.map(({ year, photos: all, parts, rest }) => ({
    year,
    ...(facet ? Object.fromEntries(parts.map((part, at) => [`part${at}`, part])) : { all }),
    ...(facet && { rest }),
  }));
  const bars = facet
    ? [
        ...series.map((value, at) => ({ key: `part${at}`, name: value, fill: SHADES[at] ?? REST, value })),
        { key: 'rest', name: 'others', fill: REST, value: null },
      ]
    : [{ key: 'all', name: 'photos', fill: 'var(--accent)', value: null }];
  return (
    <div className={styles.chart} role="figure" aria-label={sentenceOf(years)}>
      <ResponsiveContainer width="100%" height="100%">
        <BarChart data={data} margin={MARGIN} barCategoryGap={1}>
          <XAxis dataKey="year" ticks={roundYears(years)} interval={0} {...AXIS} />
          <YAxis {...COUNT_AXIS} />
          <Tooltip {...AT_POINTER} />
          {bars.map(({ key, name, fill, value }) => (
            <Bar
              key={key}
              dataKey={key}
              name={name}
              stackId="years"
              maxBarSize={44}
              fill={fill}
              isAnimationActive={false}
              cursor="pointer"
              onClick={(bar) => {
                const row = (bar as { payload?: Row }).payload;
                if (row) open(row.year, value);
              }}
            />
          ))}
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}

/** Every year, every fifth, every tenth …: as many as stand beside each other. */
const TICKS = 16;
function roundYears(years: YearTallies['years']): number[] {
  const all = years.map(({ year }) => year);
  const step = [1, 2, 5, 10, 20, 50, 100].find((one) => all.length / one <= TICKS) ?? 500;
  return all.filter((year) => year % step === 0);
}

const sentenceOf = (years: YearTallies['years']): string => {
  const most = years.reduce((best, year) => (year.photos > best.photos ? year : best));
  return `Photos from ${years[0]?.year} to ${years.at(-1)?.year}; the most, ${most.photos}, in ${most.year}`;
};
