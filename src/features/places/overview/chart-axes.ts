// How the axes and the remark at the pointer look, of every chart here.

import { count } from '@/ui/format';

export const AXIS = {
  tick: { fontSize: 10, fontFamily: 'var(--mono)', fill: 'var(--ink-2)' },
  stroke: 'var(--rule)',
} as const;

/** Of photos: as wide as its numbers. */
export const COUNT_AXIS = {
  ...AXIS,
  allowDecimals: false,
  width: 'auto',
  tickFormatter: (value: number) => count(value),
} as const;

export const AT_POINTER = {
  cursor: { fill: 'var(--accent-soft)' },
  contentStyle: { background: 'var(--paper)', border: '1px solid var(--rule)', color: 'var(--ink)' },
} as const;

export const MARGIN = { top: 8, right: 0, bottom: 0, left: 0 } as const;
