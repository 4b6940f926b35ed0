// Photos of each year, and how they divide by camera, accession or another facet: the picture of the years. Empty years
// between the first and the last are years too.

import { foldText } from '../text/fold';
import type { SearchContext } from './search-context';
import { FACETS, type FacetName, countFacet } from './facets';

export interface YearTally {
  year: number;
  photos: number;
  /** In the order of the series. A photo with several values counts in each. */
  parts: number[];
  /** Photos with none of these values. */
  rest: number;
}

export interface YearTallies {
  /** The values most photos have, the most frequent first. */
  series: string[];
  /** Every year from the first to the last. */
  years: YearTally[];
  undated: number;
}

/** @param by `null` for the photos of each year alone. @param limit of the series */
export function yearTallies(
  slots: Uint32Array,
  by: FacetName | null,
  limit: number,
  context: SearchContext,
): YearTallies {
  const byYear = slotsByYear(slots, context);
  const undated = byYear.get(0)?.length ?? 0;
  byYear.delete(0);
  const series = by ? countFacet(by, slots, context, limit).map(({ value }) => value) : [];
  const known = [...byYear.keys()];
  const [first, last] = [Math.min(...known), Math.max(...known)];
  const years: YearTally[] = [];
  for (let year = first; year <= last; year++) {
    const of = byYear.get(year) ?? NONE;
    const parts = by ? partsOf(by, of, series, context) : [];
    const counted = parts.reduce((sum, photos) => sum + photos, 0);
    years.push({ year, photos: of.length, parts, rest: Math.max(0, of.length - counted) });
  }
  return { series, years, undated };
}

const NONE = new Uint32Array(0);

function partsOf(by: FacetName, slots: Uint32Array, series: readonly string[], context: SearchContext): number[] {
  if (slots.length === 0) return series.map(() => 0);
  // a year may have a value under another spelling than most years do
  const counts = new Map<string, number>();
  for (const [value, photos] of FACETS[by].count(slots, context, Infinity)) {
    const form = foldText(value.trim());
    counts.set(form, (counts.get(form) ?? 0) + photos);
  }
  return series.map((value) => counts.get(foldText(value.trim())) ?? 0);
}

/** 0 for photos without a date. */
function slotsByYear(slots: Uint32Array, { columns }: SearchContext): Map<number, Uint32Array> {
  const day = columns.column('day');
  const sizes = new Map<number, number>();
  const yearAt = (at: number) => Math.trunc((day[slots[at] as number] as number) / 10_000);
  for (let at = 0; at < slots.length; at++) sizes.set(yearAt(at), (sizes.get(yearAt(at)) ?? 0) + 1);
  const byYear = new Map([...sizes].map(([year, size]) => [year, new Uint32Array(size)]));
  const filled = new Map<number, number>();
  for (let at = 0; at < slots.length; at++) {
    const year = yearAt(at);
    const place = filled.get(year) ?? 0;
    const of = byYear.get(year);
    if (of) of[place] = slots[at] as number;
    filled.set(year, place + 1);
  }
  return byYear;
}
