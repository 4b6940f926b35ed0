// The edits that give photos a position, with how and when it was found; and those that say which place they show.

import { type Described, type FieldEdit, planFields } from '../fields/edits';
import type { FieldValues } from '../fields/registry';
import type { Structure } from '../fields/shape';
import { sameValue, structuresIn } from '../fields/values';
import { type LatLon, type Position, positionText } from '../geo/position';
import { isoOfSeconds } from '../time/civil';
import { coordinateText } from '../metadata/xmp/gps';

export interface PositionFound {
  position: Position | null;
  method: 'GPS' | 'MANUAL';
  /** When the receiver was there; `null` for a position by hand. */
  utcSeconds: number | null;
}

/** `null` takes the position away, and what was said about it. */
export function planPosition(photo: Described, { position, method, utcSeconds }: PositionFound): FieldEdit[] {
  const wanted: FieldValues =
    position === null
      ? {}
      : {
          position: positionText(position),
          positionMethod: method,
          ...(utcSeconds !== null && { positionTime: `${isoOfSeconds(Math.round(utcSeconds))}Z` }),
        };
  return planFields(photo, wanted, ['position', 'positionTime', 'positionMethod']);
}

/** A place that a picture shows: where it is and, as far as they are known, its words. */
export interface PlaceShown extends LatLon {
  city?: string;
  province?: string;
  country?: string;
  countryCode?: string;
}

/** Adds a place to those the photo shows; one that stands there already is not added again. */
export function planShown(photo: Described, { lat, lon, ...words }: PlaceShown): FieldEdit[] {
  const said = Object.entries(words).filter(([, word]) => word !== '');
  const place: Structure = {
    ...Object.fromEntries(said),
    lat: coordinateText(lat, 'N', 'S'),
    lon: coordinateText(lon, 'E', 'W'),
  };
  const before = structuresIn(photo.fields.locationShown);
  return before.some((one) => sameValue(one, place))
    ? []
    : planFields(photo, { locationShown: [...before, place] }, ['locationShown']);
}
