// The tracks that lie on a drive beside its photos, read when the drive is scanned.

import { isTrackName } from '@/core/locate/tracks/read-track';
import type { ItemProblem } from '../catalog/records';
import { TRACKS_FOLDER, trackRecordOf } from '../catalog/tracks';
import { type Drive, type DriveEntry, splitPath } from '../drives/drive';
import { type JobTools, forEachItem, itemProblemOf } from './job-tools';

/** Reads the tracks of a drive that are not as recorded; those that are gone from it lose their place there. */
export async function scanTracks(
  tools: JobTools,
  driveId: string,
  drive: Drive,
  entries: readonly DriveEntry[],
  problems: ItemProblem[],
): Promise<void> {
  const { db, control, fileTasks, now } = tools;
  const found = entries.filter(({ path }) => isTrackName(path));
  for await (const entry of drive.list({ below: TRACKS_FOLDER, shallow: true })) found.push(entry);
  const known = await db.tracks.toArray();
  const placeOf = new Map(
    known.flatMap((record) =>
      record.places
        .filter((place) => place.driveId === driveId)
        .map((place) => [place.path, { record, place }] as const),
    ),
  );
  const there = new Set(found.map(({ path }) => path));
  for (const { record, place } of placeOf.values())
    if (!there.has(place.path))
      await db.tracks.update(record.id, { places: record.places.filter((one) => one !== place) });
  const waiting = found.filter(({ path, sizeBytes, modifiedMs }) => {
    const at = placeOf.get(path)?.place;
    return !at || at.sizeBytes !== sizeBytes || at.modifiedMs !== modifiedMs;
  });
  const read = async ({ path, sizeBytes, modifiedMs }: DriveEntry) => {
    const record = trackRecordOf(
      await fileTasks.readTrack(await drive.open(path), control.signal),
      splitPath(path).name,
      now(),
    );
    if (record.problem) problems.push({ path, problem: { code: 'track/problem', reason: record.problem } });
    if (!record.track) return;
    await db.transaction('rw', db.tracks, async () => {
      const before = await db.tracks.get(record.id);
      const places = (before?.places ?? []).filter((place) => place.driveId !== driveId || place.path !== path);
      await db.tracks.put({ ...(before ?? record), places: [...places, { driveId, path, sizeBytes, modifiedMs }] });
    });
  };
  await forEachItem(waiting, control, read, (entry, error) => problems.push(itemProblemOf(entry.path, error)));
}
