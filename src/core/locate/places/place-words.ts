// The words for a position: those of the person's own spot where there is one, else those of the nearest named place.

import { type Described, type FieldEdit, planSet } from '../../fields/edits';
import type { Structure } from '../../fields/shape';
import { structuresIn } from '../../fields/values';
import type { Position } from '../../geo/position';
import { SPOT_FIELDS, type Spot, spotAt } from '../kept';
import { coordinateText } from '../../metadata/xmp/gps';
import type { NearPlace } from './gazetteer';

export interface PlaceWords {
  edits: FieldEdit[];
  /** To the named place; `null` where the words are those of a spot, or there is no place. */
  distanceM: number | null;
}

/**
 * `fill` writes only where nothing stands. Of a spot, what it does not say is taken from the gazetteer. The place of
 * the camera (`locationCreated`) gets the same words and the position, where there is none yet or, with `replace`, in
 * its stead.
 */
export function planPlaceWords(
  photo: Described,
  position: Position,
  place: Pick<NearPlace, 'city' | 'province' | 'country' | 'countryCode' | 'distanceM'> | null,
  spots: readonly Spot[],
  mode: 'fill' | 'replace',
): PlaceWords {
  const spot = spotAt(position, spots);
  const said: Record<string, string> = {};
  for (const key of SPOT_FIELDS) {
    const own = spot?.words[key];
    const word = typeof own === 'string' && own !== '' ? own : key === 'sublocation' ? '' : (place?.[key] ?? '');
    if (word !== '') said[key] = word;
  }
  const edits = SPOT_FIELDS.flatMap((key) =>
    said[key] === undefined || (mode === 'fill' && photo.fields[key] !== undefined)
      ? []
      : planSet([photo], key, said[key]),
  );
  if (mode === 'replace' || structuresIn(photo.fields.locationCreated).length === 0)
    edits.push(...planSet([photo], 'locationCreated', [createdAt(position, said)]));
  return { edits, distanceM: spot ? null : (place?.distanceM ?? null) };
}

function createdAt({ lat, lon, altitudeM }: Position, words: Record<string, string>): Structure {
  return {
    ...words,
    lat: coordinateText(lat, 'N', 'S'),
    lon: coordinateText(lon, 'E', 'W'),
    ...(altitudeM !== null && {
      altitude: String(Math.round(Math.abs(altitudeM) * 10) / 10),
      altitudeRef: altitudeM < 0 ? '1' : '0',
    }),
  };
}
