// Habits in words: the labels of ranges, and what a picture of them says.

import type { HabitBin, Habits } from '@/core/search/habits';

export const HABITS = {
  focal: 'Focal lengths',
  apertures: 'Apertures',
  iso: 'ISO',
  hours: 'Hours',
  kept: 'Kept of each shoot',
} as const;
export type HabitName = keyof typeof HABITS;

export interface HabitRow {
  label: string;
  value: number;
  unit: 'photos' | '% kept';
}

const photosOf = (bins: readonly HabitBin[], label: (bin: HabitBin) => string): HabitRow[] =>
  bins.map((bin) => ({ label: label(bin), value: bin.photos, unit: 'photos' }));

/** `24–34 mm`; the last one is open. */
const focalLabel = ({ from, to }: HabitBin): string =>
  to === Infinity ? `${from} mm and longer` : from === 0 ? `to ${to - 1} mm` : `${from}–${to - 1} mm`;
/** The full stop in the middle of a bin, as lenses name it. */
const STOPS = ['1', '1.4', '2', '2.8', '4', '5.6', '8', '11', '16', '22', '32', '45', '64'];
const stopLabel = ({ from }: HabitBin): string => `f/${STOPS[Math.round(2 * Math.log2(from) + 0.5)] ?? '64'}`;
const isoLabel = ({ from }: HabitBin): string => String(Math.round((from * Math.SQRT2) / 50) * 50);
const hourLabel = (hour: number): string => `${String(hour).padStart(2, '0')}`;

export function habitRows(habits: Habits, name: HabitName): HabitRow[] {
  switch (name) {
    case 'focal':
      return photosOf(habits.focal, focalLabel);
    case 'apertures':
      return photosOf(habits.apertures, stopLabel);
    case 'iso':
      return photosOf(habits.iso, isoLabel);
    case 'hours':
      return habits.hours.some((photos) => photos > 0)
        ? habits.hours.map((photos, hour) => ({ label: hourLabel(hour), value: photos, unit: 'photos' }))
        : [];
    case 'kept':
      return habits.shoots
        .filter(({ photos, unrated }) => unrated < photos)
        .map(({ accession, photos, kept }) => ({
          label: accession,
          value: Math.round((100 * kept) / photos),
          unit: '% kept',
        }));
  }
}

/** What the picture says, for whoever does not see it. */
export function habitSentence(rows: readonly HabitRow[], name: HabitName): string {
  const most = rows.reduce((best, row) => (row.value > best.value ? row : best), rows[0] as HabitRow);
  return `${HABITS[name]}: ${rows.map(({ label, value, unit }) => `${label} ${value} ${unit}`).join(', ')}; the most at ${most.label}`;
}
