'use client';

import { LeftList } from '../scope/left-list';

const LINES = [
  { term: 'without:caption', words: 'no caption' }, { term: 'without:headline', words: 'no headline' }, { term: 'without:keyword', words: 'no keyword' }, { term: 'without:creator', words: 'no creator' },
  { term: 'without:copyright', words: 'no copyright notice' }, { term: 'without:place', words: 'no place' }, { term: 'without:date', words: 'no date' },
  { term: 'left:blanks', words: 'blanks open' }, { term: 'left:codes', words: 'a wrong code' }, { term: 'left:words', words: 'a word that is not in the vocabulary' },
] as const;

export const LeftToDo = () => <LeftList lines={LINES} label="Left to do" />;
