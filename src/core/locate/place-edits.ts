// The edits that give photos a position, with how and when it was found.

import { type Described, type FieldEdit, planFields } from '../changes/edits';
import type { FieldValues } from '../fields/registry';
import { type Position, positionText } from '../geo/position';
import { isoOfSeconds } from '../time/civil';

export interface PositionFound {
  position: Position | null;
  method: 'GPS' | 'MANUAL';
  /** When the receiver was there; `null` for a position by hand. */
  utcSeconds: number | null;
}

/** `null` takes the position away, and what was said about it. */
export function planPosition(photo: Described, { position, method, utcSeconds }: PositionFound): FieldEdit[] {
  const wanted: FieldValues = position === null ? {} : { position: positionText(position), positionMethod: method, ...(utcSeconds !== null && { positionTime: `${isoOfSeconds(Math.round(utcSeconds))}Z` }) };
  return planFields(photo, wanted, ['position', 'positionTime', 'positionMethod']);
}
