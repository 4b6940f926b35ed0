// New names for photos that are in the catalog: planned once, from what each frame is, and the same on every drive that
// has a file of it. Sidecars and what lies beside follow when the files are moved; companions of the same base name
// come along.

import { type FileMove } from '@/core/catalog/change';
import { type FieldEdit, planSet } from '@/core/fields/edits';
import { capturedIn, wordsIn } from '@/core/fields/values';
import { baseOf, foldName, folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import { type NameGroup, giveNames } from '@/core/names/naming';
import type { BlankName, NameFacts, Pattern } from '@/core/names/pattern';
import { numberAmong } from '@/core/take-in/accession';
import { pathUnder } from '@/core/take-in/frames';
import { inClockOrder } from '@/core/take-in/runs';
import type { Captured } from '@/core/time/captured';
import { pathToBe } from './changes';
import type { CatalogDatabase } from './database';
import type { FileRecord, PhotoRecord } from './records';
import { cameraName } from './search-feed';

export interface RenamePlan {
  moves: FileMove[];
  edits: FieldEdit[];
  /** One for each frame, in clock order. */
  examples: { before: string; after: string; taken: boolean; long: boolean }[];
  photos: number;
  /** Photos that come along because they share the base name of a chosen one. */
  companions: number;
  drives: string[];
}

/** Files that belong together, and go together: of one photo on all drives, and of one base name in one folder. */
export interface FrameFiles {
  path: string;
  captured: Captured | null;
  /** Files of the frame on all drives. */
  files: FileRecord[];
  photos: PhotoRecord[];
}

export async function planRename(
  db: CatalogDatabase,
  photoIds: readonly string[],
  names: Pattern,
  blanks: Record<BlankName, string>,
  keepOldName: boolean,
): Promise<RenamePlan> {
  const chosen = new Set(photoIds);
  const frames = inClockOrder(await framesOfPhotos(db, [...chosen]));
  const folders = await folderContents(db, frames);
  const renamed = new Set(frames.flatMap(({ files }) => files.map(({ id }) => id)));
  const taken = new Set<string>();
  const groups = frames.map(({ path, captured, files, photos }): NameGroup => {
    const folder = folderIn(path);
    // a name must be free in every folder on every drive where the frame lies
    for (const file of files)
      for (const other of folders.get(folderKey(file)) ?? [])
        if (!renamed.has(other.id)) taken.add(foldName(joinedPath(folder, baseOf(nameIn(pathToBe(other))))));
    return { folder, facts: { ...namingOf(path, captured, photos[0]), blanks } };
  });
  const given = giveNames(groups, { folder: null, names, taken });
  const plan: RenamePlan = { moves: [], edits: [], examples: [], photos: 0, companions: 0, drives: [] };
  const drives = new Set<string>();
  frames.forEach((frame, index) => {
    const name = given[index];
    if (!name) return;
    for (const file of frame.files) {
      const before = pathToBe(file);
      const after = pathUnder(before, { base: baseOf(nameIn(before)) }, folderIn(before), name.base);
      if (after === before || file.photoId === null) continue;
      plan.moves.push({ photoId: file.photoId, driveId: file.driveId, before, after });
      drives.add(file.driveId);
    }
    for (const photo of frame.photos) {
      plan.photos += 1;
      if (!chosen.has(photo.id)) plan.companions += 1;
      const old = nameIn(
        pathToBe(frame.files.find(({ photoId }) => photoId === photo.id) ?? { path: frame.path, wantedPath: null }),
      );
      if (keepOldName && photo.fields.originalName === undefined && baseOf(old) !== name.base)
        plan.edits.push(...planSet([photo], 'originalName', old));
    }
    plan.examples.push({
      before: nameIn(frame.path),
      after: nameIn(pathUnder(frame.path, { base: baseOf(nameIn(frame.path)) }, '', name.base)),
      taken: name.remarks.includes('taken'),
      long: name.remarks.includes('long'),
    });
  });
  plan.drives = [...drives];
  return plan;
}

/** What is known of a photo when its file gets a name. */
export function namingOf(
  path: string,
  captured: Captured | null,
  photo: PhotoRecord | undefined,
): Omit<NameFacts, 'blanks'> {
  const number = numberAmong(wordsIn(photo?.fields.identifier)) ?? '';
  return {
    captured,
    oldBase: baseOf(nameIn(path)),
    camera: photo ? cameraName(photo.camera) : '',
    accession: number.slice(0, Math.max(0, number.lastIndexOf('.'))),
    photoNumber: number,
    source: '',
    role: 'originals',
  };
}

const folderKey = (file: FileRecord) => `${file.driveId}/${folderIn(pathToBe(file))}`;
const frameKey = (file: FileRecord) => foldName(`${folderKey(file)}/${baseOf(nameIn(pathToBe(file)))}`);

/** The photos as frames: those that share a base name in a folder belong together, on whatever drive. */
export async function framesOfPhotos(db: CatalogDatabase, photoIds: string[]): Promise<FrameFiles[]> {
  const files = (await db.files.where('photoId').anyOf(photoIds).toArray()).filter(({ state }) => state !== 'missing');
  const contents = await folderContents(db, [{ files }]);
  const keys = new Set(files.map(frameKey));
  const along = new Set(photoIds);
  for (const folder of contents.values())
    for (const file of folder) if (file.photoId && keys.has(frameKey(file))) along.add(file.photoId);
  const all = (
    await db.files
      .where('photoId')
      .anyOf([...along])
      .toArray()
  ).filter(({ state }) => state !== 'missing');
  const photos = new Map((await db.photos.bulkGet([...along])).flatMap((photo) => (photo ? [[photo.id, photo]] : [])));
  return joinFrames(all, photos);
}

/** Files of one photo belong together, and files of one base name in one folder do. */
function joinFrames(files: FileRecord[], photos: Map<string, PhotoRecord>): FrameFiles[] {
  const frameOf = new Map<string, FileRecord[]>();
  for (const file of files) {
    const joining = new Set(
      [frameOf.get(`photo ${file.photoId}`), frameOf.get(frameKey(file))].flatMap((frame) => frame ?? []),
    );
    const frame = [...joining, file];
    for (const member of frame) {
      frameOf.set(`photo ${member.photoId}`, frame);
      frameOf.set(frameKey(member), frame);
    }
  }
  return [...new Set(frameOf.values())].map((members) => {
    const own = [...new Set(members.flatMap(({ photoId }) => photoId ?? []))].flatMap((id) => photos.get(id) ?? []);
    return {
      path: pathToBe(members[0] as FileRecord),
      captured: own[0] ? capturedIn(own[0].fields) : null,
      files: members,
      photos: own,
    };
  });
}

/** What lies in the folders of these files, as the catalog knows it. */
async function folderContents(
  db: CatalogDatabase,
  frames: readonly { files: FileRecord[] }[],
): Promise<Map<string, FileRecord[]>> {
  const contents = new Map<string, FileRecord[]>();
  for (const { files } of frames) {
    for (const file of files) {
      const key = folderKey(file);
      if (contents.has(key)) continue;
      const prefix = key.endsWith('/') ? key : `${key}/`;
      contents.set(
        key,
        (await db.files.where('id').startsWith(prefix).toArray()).filter((other) => folderKey(other) === key),
      );
    }
  }
  return contents;
}
