// Tracks in the catalog: those that lie on the drives beside the photos, and those a person hands over, which are kept
// in the archive folder of every drive.

import { sameBytes } from '@/core/bytes/join';
import { ARCHIVE_FOLDER, type Drive } from '../drives/drive';
import { bytesOf, readIfThere, replaceFile } from '../drives/safe-write';
import type { ReadTrack } from '../file-tasks/file-tasks';
import { queueArchives } from './changes';
import type { CatalogDatabase } from './database';
import type { TrackRecord } from './records';

export const TRACKS_FOLDER = `${ARCHIVE_FOLDER}/tracks`;

/** The record of a track as it was read, which lies nowhere yet. */
export const trackRecordOf = ({ sha256, file, zone, facts }: ReadTrack, name: string, addedAt: number): TrackRecord =>
  file.state === 'read'
    ? {
        id: sha256,
        name,
        kind: file.kind,
        title: file.reading.name,
        track: file.reading.track,
        facts,
        dropped: file.reading.dropped,
        problem: file.problem,
        zone,
        places: [],
        kept: null,
        used: true,
        addedAt,
      }
    : {
        id: sha256,
        name,
        kind: null,
        title: null,
        track: null,
        facts: null,
        dropped: null,
        problem: file.problem,
        zone: null,
        places: [],
        kept: null,
        used: false,
        addedAt,
      };

/** A track that a person hands over. The same bytes again are the same track. */
export async function addTrack(
  db: CatalogDatabase,
  read: ReadTrack,
  file: File,
  at: number,
): Promise<{ record: TrackRecord; isNew: boolean }> {
  const record = trackRecordOf(read, file.name, at);
  if (record.track === null) return { record, isNew: false };
  const kept = new Blob([await file.arrayBuffer()]);
  return db.transaction('rw', db.tracks, db.drives, db.outbox, async () => {
    const known = await db.tracks.get(record.id);
    if (known) return { record: known, isNew: false };
    await db.tracks.put({ ...record, kept });
    await queueArchives(db, at);
    return { record, isNew: true };
  });
}

/** Puts the tracks that were handed over, and are not there yet, into the drive's archive folder. */
export async function writeTracks(db: CatalogDatabase, driveId: string, drive: Drive): Promise<void> {
  const waiting = await db.tracks
    .filter(({ kept, places }) => kept !== null && !places.some((place) => place.driveId === driveId))
    .toArray();
  for (const { id, name, kept } of waiting) {
    if (!kept) continue;
    const path = await placeTrack(drive, id, name, await bytesOf(kept));
    if (path === null) continue;
    const { size: sizeBytes, lastModified: modifiedMs } = await drive.open(path);
    await db.tracks
      .where('id')
      .equals(id)
      .modify((record) => void record.places.push({ driveId, path, sizeBytes, modifiedMs }));
  }
}

/**
 * Two of one name are told apart by the beginning of their digest. Nothing is written over; `null` where both names are
 * taken by others.
 */
async function placeTrack(
  drive: Drive,
  id: string,
  name: string,
  bytes: Uint8Array<ArrayBuffer>,
): Promise<string | null> {
  const dot = name.lastIndexOf('.');
  const [base, ending] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
  for (const path of [`${TRACKS_FOLDER}/${name}`, `${TRACKS_FOLDER}/${base} ${id.slice(0, 8)}${ending}`]) {
    const there = await readIfThere(drive, path);
    if (there && !sameBytes(there, bytes)) continue;
    if (!there) await replaceFile(drive, path, bytes, null);
    return path;
  }
  return null;
}
