'use client';

import { LeftList } from '../scope/left-list';

const LINES = [{ term: 'without:position', words: 'no position' }, { term: 'without:city', words: 'no city' }, { term: 'without:country', words: 'no country' }, { term: 'without:place', words: 'neither' }] as const;

export const LeftToPlace = () => <LeftList lines={LINES} label="Left to place" />;
