'use client';

import { z } from 'zod';
import { keptChoice } from '@/ui/kept-choice';

/** The quiet marks a tile can bear. */
export const MARKS = {
  rating: 'Rating',
  marker: 'Marker',
  set: 'Set',
  blank: 'Blanks open',
  place: 'Place missing',
  away: 'Drive away',
  unsafe: 'Fewer than two verified copies',
  ready: 'Ready at full size',
} as const;

export type Mark = keyof typeof MARKS;

export const COLUMNS = {
  name: 'Name',
  taken: 'Taken',
  rating: 'Rating',
  marker: 'Marker',
  type: 'Type',
  camera: 'Camera',
  exposure: 'Exposure',
  headline: 'Headline',
  caption: 'Caption',
  keywords: 'Keywords',
  place: 'Place',
  accession: 'Accession',
  drives: 'Drives',
  copies: 'Copies',
  added: 'Added',
} as const;

export type Column = keyof typeof COLUMNS;

export interface WallChoices {
  /** `alike`: groups of photos that look alike. */
  view: 'wall' | 'list' | 'alike';
  rowHeight: number;
  marks: Mark[];
  columns: Column[];
}

const choices: z.ZodType<WallChoices> = z.object({
  view: z.enum(['wall', 'list', 'alike']),
  rowHeight: z.number().min(60).max(500),
  marks: z.array(z.enum(Object.keys(MARKS) as [Mark, ...Mark[]])),
  columns: z.array(z.enum(Object.keys(COLUMNS) as [Column, ...Column[]])),
});

export const useWallChoices = keptChoice<WallChoices>('wembo-wall', choices, {
  view: 'wall',
  rowHeight: 150,
  marks: ['rating', 'marker', 'set', 'blank', 'away'],
  columns: ['name', 'taken', 'headline', 'place', 'rating', 'marker', 'camera', 'exposure'],
});
