// What a person judges by: the meanings of the rungs, and markers. Both are theirs for the whole catalog.

import type { Versioned } from '../fields/version';

export interface LadderView extends Versioned {
  /** There is one. */
  id: string;
  name: string;
  /** By rung, "-1" to "5"; absent where nothing was written. */
  meanings: Record<string, string>;
}

export const RUNGS = [5, 4, 3, 2, 1, 0, -1] as const;

/** Shown in grey where nothing was written: they say what the number is, and nothing about what it is for. */
export const RUNG_NAMES: Record<string, string> = {
  '5': 'five',
  '4': 'four',
  '3': 'three',
  '2': 'two',
  '1': 'one',
  '0': 'unrated',
  '-1': 'rejected',
};

export const NO_LADDER: LadderView = { id: 'ladder', name: 'Ladder', meanings: {}, updatedAt: 0, deleted: false };

export const MARKER_SHAPES = ['disc', 'ring', 'square', 'diamond', 'wedge', 'cross', 'wave', 'gate'] as const;
export type MarkerShape = (typeof MARKER_SHAPES)[number];

export interface Marker extends Versioned {
  id: string;
  /** Stands in the photo's label. */
  name: string;
  /** `#rrggbb` */
  color: string;
  shape: MarkerShape;
  /** Where it stands in the person's order; its place in it, from 1, is its key after M. */
  order: number;
}

/**
 * A photo that a person took out of the catalog; its files stay where they are. Deleted: it is in the catalog again.
 */
export interface LeftOut extends Versioned {
  id: string;
  name: string;
}
