'use client';

import { useMemo } from 'react';
import { NO_PHOTOS } from '@/core/search/photo-order';
import { useResult } from './use-result';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';

/**
 * The records of these photos. Of one alone those beside it are read as well: going on to the next, its words are there
 * in the same moment, and what is typed then goes to no other photo and is no key.
 * @param limit none are read of more photos than this
 */
export function useRecordsAhead(ids: ReadonlySet<string>, limit = Infinity): PhotoRecord[] {
  const order = useResult((state) => state.result?.order ?? NO_PHOTOS);
  const wanted = useMemo(() => {
    if (ids.size > limit) return [];
    const [only] = ids;
    const at = ids.size === 1 && only !== undefined ? order.indexOf(only) : -1;
    const beside = at < 0 ? [] : [order.at(at + 1), order.at(at - 1)];
    return [...ids, ...beside.flatMap((id) => id ?? [])];
  }, [ids, limit, order]);
  const found = useLive(() => session.db.photos.bulkGet(wanted), [wanted]);
  return (found ?? []).flatMap((photo) => (photo && ids.has(photo.id) ? [photo] : []));
}
