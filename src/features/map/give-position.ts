import type { LatLon, Position } from '@/core/geo/position';
import { planPosition } from '@/core/locate/place-edits';
import { photosOf } from '@/storage/catalog/describing';
import { session } from '../session/session';

/** Puts photos where the person says, as one change; `null` takes their position away. */
export async function givePosition(photoIds: readonly string[], position: LatLon | null): Promise<void> {
  const found: Position | null = position && { altitudeM: null, ...position };
  const edits = (await photosOf(session.db, photoIds)).flatMap((photo) => planPosition(photo, { position: found, method: 'MANUAL', utcSeconds: null }));
  await session.change({ kind: 'fields', origin: 'person', edits });
}
