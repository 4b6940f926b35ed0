import type { LatLon, Position } from '@/core/geo/position';
import { type PlaceShown, planPosition, planShown } from '@/core/locate/place-edits';
import { photosOf } from '@/storage/catalog/describing';
import { session } from '@/engine/session';

/** Says that photos were taken where the person says, as one change; `null` takes their position away. */
export async function givePosition(photoIds: readonly string[], position: LatLon | null): Promise<void> {
  const found: Position | null = position && { lat: position.lat, lon: position.lon, altitudeM: null };
  const edits = (await photosOf(session.db, photoIds)).flatMap((photo) =>
    planPosition(photo, { position: found, method: 'MANUAL', utcSeconds: null }),
  );
  await session.change({ kind: 'fields', origin: 'person', edits });
}

/** Says what place photos show, which need not be where the camera stood. */
export async function givePlaceShown(photoIds: readonly string[], place: PlaceShown): Promise<void> {
  const edits = (await photosOf(session.db, photoIds)).flatMap((photo) => planShown(photo, place));
  await session.change({ kind: 'fields', origin: 'person', edits });
}
