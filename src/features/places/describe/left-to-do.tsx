'use client';

import { LeftList } from '@/features/parts/shelves/left-list';

const LINES = [
  { term: 'missing:caption', words: 'no caption' },
  { term: 'missing:headline', words: 'no headline' },
  { term: 'missing:keyword', words: 'no keyword' },
  { term: 'missing:creator', words: 'no creator' },
  { term: 'missing:copyright', words: 'no copyright notice' },
  { term: 'left:notices', words: 'a notice without year or owner' },
  { term: 'missing:place', words: 'no place' },
  { term: 'missing:date', words: 'no date' },
  { term: 'left:blanks', words: 'blanks open' },
  { term: 'left:codes', words: 'a wrong code' },
  { term: 'left:words', words: 'a word that is not in the vocabulary' },
  { term: 'left:names', words: 'the camera’s file name only' },
] as const;

export const LeftToDoList = () => <LeftList lines={LINES} label="Left to do" />;
