'use client';

import { useRouter } from 'next/navigation';
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { useResult } from '@/features/parts/search/use-result';
import { findAddress } from '@/features/parts/search/use-scope';
import styles from './overview.module.css';

/** Photos by year; a bar opens its year. */
export function YearsChart() {
  const months = useResult((state) => state.result?.months);
  const router = useRouter();
  const years = new Map<number, number>();
  for (const [month, photos] of months ?? [])
    if (month > 0) years.set(Math.floor(month / 100), (years.get(Math.floor(month / 100)) ?? 0) + photos);
  const data = [...years].sort(([a], [b]) => a - b).map(([year, photos]) => ({ year: String(year), photos }));
  if (data.length === 0) return <p className="quiet">No dated photos yet.</p>;
  return (
    <div className={styles.chart}>
      <ResponsiveContainer width="100%" height="100%">
        <BarChart data={data} margin={{ top: 8, right: 0, bottom: 0, left: -28 }}>
          <XAxis
            dataKey="year"
            interval={data.length <= 16 ? 0 : 'preserveStartEnd'}
            tick={{ fontSize: 9, fontFamily: 'var(--mono)', fill: 'var(--ink-2)' }}
            stroke="var(--rule)"
          />
          <YAxis
            allowDecimals={false}
            tick={{ fontSize: 10, fontFamily: 'var(--mono)', fill: 'var(--ink-2)' }}
            stroke="var(--rule)"
          />
          <Tooltip
            cursor={{ fill: 'var(--accent-soft)' }}
            contentStyle={{ background: 'var(--paper)', border: '1px solid var(--rule)', color: 'var(--ink)' }}
          />
          <Bar
            dataKey="photos"
            maxBarSize={44}
            fill="var(--accent)"
            isAnimationActive={false}
            cursor="pointer"
            onClick={(bar) =>
              router.push(findAddress(`taken:${String((bar as { payload?: { year: string } }).payload?.year)}`))
            }
          />
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}
