// A set put together, or a photo taken out of one, by hand: kept with each photo as a collection of the MWG guidelines,
// whose address says that it is one of our sets.

import type { FieldValues } from '../fields/registry';
import { type FieldEdit, planSet, type Described } from '../fields/edits';
import type { Structure } from '../fields/shape';
import { ALONE } from './sets';

const ADDRESS = 'urn:wembo:set:';

const collectionsIn = ({ memberOf }: FieldValues): Structure[] =>
  Array.isArray(memberOf) ? memberOf.filter((one): one is Structure => typeof one === 'object') : [];
const isOurs = ({ uri }: Structure): boolean => typeof uri === 'string' && uri.startsWith(ADDRESS);

/** The key of the set, `alone`, or `null` where nobody decided. */
export function givenSet(fields: FieldValues): string | null {
  const uri = collectionsIn(fields).find(isOurs)?.uri;
  return typeof uri === 'string' ? uri.slice(ADDRESS.length) : null;
}

/**
 * The edits that put these photos into the set `key`, take them out of any (`alone`), or leave it to the program
 * (`null`).
 */
export function planGivenSet(photos: Described[], key: string | null): FieldEdit[] {
  return photos.flatMap((photo) => {
    const others = collectionsIn(photo.fields).filter((one) => !isOurs(one));
    const ours: Structure[] =
      key === null ? [] : [{ name: key === ALONE ? 'Not in a set' : 'Set', uri: ADDRESS + key }];
    const after = [...others, ...ours];
    return planSet([photo], 'memberOf', after.length > 0 ? after : undefined);
  });
}
