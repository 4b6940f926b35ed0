'use client';

import { LeftList } from '@/features/parts/shelves/left-list';

const LINES = [
  { term: 'missing:position', words: 'no position' },
  { term: 'missing:city', words: 'no city' },
  { term: 'missing:country', words: 'no country' },
  { term: 'missing:place', words: 'no place at all' },
] as const;

export const LeftToPlace = () => <LeftList lines={LINES} label="Left to place" />;
