// What may happen to a photo and its files: added, read, moved, described by another program, gone, joined, settled by
// the person, removed. Each is one transaction, and nowhere else are files or photos put, moved or deleted.

import type { FileDigests } from '@/core/metadata/picture-digest/image-digest';
import { applyEdit, planFields } from '@/core/fields/edits';
import { type FoundWords, mergeWords } from '@/core/fields/merge';
import { samePicture } from '@/core/fixity/copies';
import { type Kin, photoFor } from '@/core/fixity/found-file';
import { differingKeys } from '@/core/fields/values';
import type { PhotoReading } from '@/core/metadata/reading/reading';
import { type CatalogDatabase } from './database';
import { manifestAfterWriting, manifestItem, moveItem, noteFinding, sidecarItem, takeOver } from './changes';
import type { WrittenFile } from '../file-tasks/embed-into';
import type { AccessionFileRecord, FileRecord, PhotoRecord } from './records';
import { followSamePhoto, tablesHolding } from './same-photo';
import { embeddedIn, isUpToDate } from './sidecars';

/** All that speaks of photos and files. */
const photoTables = (db: CatalogDatabase) => [
  db.drives,
  db.photos,
  db.files,
  db.previews,
  db.largePreviews,
  db.undrawn,
  db.measures,
  db.sharpness,
  db.overlaps,
  db.outbox,
  db.conflicts,
  db.retired,
  db.journal,
];

const act = <T>(db: CatalogDatabase, work: () => Promise<T>): Promise<T> => db.transaction('rw', photoTables(db), work);

/** A photo goes, with all that was kept of it. For within a transaction. */
async function dropPhoto(db: CatalogDatabase, photoId: string): Promise<void> {
  await db.photos.delete(photoId);
  await db.previews.delete(photoId);
  await db.largePreviews.delete(photoId);
  await db.undrawn.delete(photoId);
  await db.measures.delete(photoId);
  await db.sharpness.delete(photoId);
  await db.overlaps.where('a').equals(photoId).delete();
}

/**
 * The lines of these paths go from the manifest of a drive: what lay there was found elsewhere by proof, or is spelt
 * otherwise by the drive.
 */
export function retirePaths(db: CatalogDatabase, driveId: string, paths: readonly string[], at: number): Promise<void> {
  return act(db, async () => {
    for (const path of paths) await retire(db, { id: `${driveId}/${path}`, driveId }, at);
  });
}

/** A file goes from its path, and with it what refers to it there. For within a transaction. */
async function dropFile(db: CatalogDatabase, file: FileRecord, at: number): Promise<void> {
  await db.files.delete(file.id);
  await db.conflicts.delete(file.id);
  await db.outbox.bulkDelete([file.id, `move:${file.id}`, `erase:${file.id}`]);
  await retire(db, file, at);
}

/** The manifest follows when the work rests; one that is due at once stays due. */
async function restManifest(db: CatalogDatabase, driveId: string, at: number): Promise<void> {
  const due = await db.outbox.get(manifestItem(driveId, at).id);
  await db.outbox.put(
    due?.task.kind === 'manifest' && !due.task.restMs ? manifestItem(driveId, at) : manifestAfterWriting(driveId, at),
  );
}

/** The line of this path goes from the manifest of the drive. */
async function retire(
  db: CatalogDatabase,
  { id, driveId }: Pick<FileRecord, 'id' | 'driveId'>,
  at: number,
): Promise<void> {
  await db.retired.put({ id, driveId });
  await db.outbox.put(manifestItem(driveId, at));
}

/**
 * A file is found where none was known, or copied there.
 * @param photo a new one
 * @returns `taken` where there is a photo of that id by now: whether it is the same is to be proven first
 */
export async function addFile(
  db: CatalogDatabase,
  file: FileRecord,
  photo: PhotoRecord | null,
  preview: Blob | null,
  at: number,
): Promise<'added' | 'taken'> {
  return act(db, async () => {
    if (photo && (await db.photos.get(photo.id))) return 'taken';
    // the drive was forgotten while the file was being copied or read
    if (!(await db.drives.get(file.driveId))) return 'added';
    await db.files.put({ ...file, addedAt: file.addedAt ?? at });
    await db.retired.delete(file.id);
    if (file.sha256 !== null) await restManifest(db, file.driveId, at);
    if (file.state === 'damaged') await noteFinding(db, file, 'damaged', at);
    if (file.photoId === null) return 'added';
    const known = await db.photos.get(file.photoId);
    if (photo) await db.photos.put({ ...photo, addedAt: Math.min(photo.addedAt, file.addedAt ?? at) });
    if (known && (file.addedAt ?? at) < known.addedAt)
      await db.photos.update(known.id, { addedAt: file.addedAt ?? at });
    if (!photo && known && known.sha256 === null && file.sha256 !== null && known.id === file.fingerprint)
      await db.photos.update(known.id, { sha256: file.sha256, imageSha256: file.imageSha256 });
    if (preview && (await db.previews.where('photoId').equals(file.photoId).count()) === 0)
      await db.previews.put({ photoId: file.photoId, blob: preview });
    return 'added';
  });
}

/** Another catalog knew the file before this one: the photo is there since then. */
export async function addedEarlier(
  db: CatalogDatabase,
  { id, photoId }: Pick<FileRecord, 'id' | 'photoId'>,
  addedAt: number | null,
): Promise<void> {
  if (addedAt === null) return;
  await act(db, async () => {
    await db.files
      .where('id')
      .equals(id)
      .filter((file) => (file.addedAt ?? Infinity) > addedAt)
      .modify({ addedAt });
    if (photoId !== null)
      await db.photos
        .where('id')
        .equals(photoId)
        .filter((photo) => photo.addedAt > addedAt)
        .modify({ addedAt });
  });
}

/**
 * Files of one photo were placed and verified on drives, as they were taken in; the accession's own record of it goes
 * with them.
 * @param photo `null` where they are no photo; one that is new, or as the catalog has it
 * @returns `taken` where another new photo got that id meanwhile
 */
export async function filesTakenIn(
  db: CatalogDatabase,
  taken: {
    photo: PhotoRecord | null;
    isNew: boolean;
    files: readonly FileRecord[];
    preview: Blob | null;
    accessionFile: AccessionFileRecord;
  },
  at: number,
): Promise<'added' | 'taken'> {
  const { photo, isNew, files, preview, accessionFile } = taken;
  return db.transaction('rw', [...photoTables(db), db.accessionFiles], async () => {
    if (photo && isNew && (await db.photos.get(photo.id))) return 'taken';
    for (const [index, file] of files.entries())
      await addFile(db, file, isNew && index === 0 ? photo : null, preview, at);
    if (photo && isNew && files.length === 0) await db.photos.put(photo);
    await db.accessionFiles.put(accessionFile);
    return 'added';
  });
}

/**
 * Another picture lies at the path of a file that was never measured: its photo goes, where it has no other file.
 * Answers with what it was.
 */
export async function removeUnmeasured(
  db: CatalogDatabase,
  photoId: string,
  fileId: string,
): Promise<PhotoRecord | null> {
  return act(db, async () => {
    const photo = await db.photos.get(photoId);
    if (
      !photo ||
      (await db.files
        .where('photoId')
        .equals(photoId)
        .filter(({ id }) => id !== fileId)
        .count()) > 0
    )
      return null;
    await dropPhoto(db, photoId);
    return photo;
  });
}

/**
 * A file has another path. Whatever refers to it follows; what was wanted of it meanwhile holds: a name that was taken
 * back while the file was on its way brings it back.
 */
export async function moveFile(
  db: CatalogDatabase,
  beforeId: string,
  after: Pick<FileRecord, 'id' | 'path' | 'sidecar' | 'sidecarTarget'> & Partial<FileRecord>,
  at: number,
): Promise<FileRecord | null> {
  return act(db, async () => {
    const before = await db.files.get(beforeId);
    if (!before) return null;
    const wanted = before.wantedPath ?? (before.movingTo === null ? after.path : before.path);
    const file: FileRecord = { ...before, ...after, movingTo: null, wantedPath: wanted === after.path ? null : wanted };
    const [sidecar, conflict, erase] = [
      await db.outbox.get(before.id),
      await db.conflicts.get(before.id),
      await db.outbox.get(`erase:${before.id}`),
    ];
    await dropFile(db, before, at);
    await db.files.put(file);
    await db.retired.delete(file.id);
    if (file.wantedPath !== null) await db.outbox.put(moveItem(file, at));
    if (sidecar) await db.outbox.put({ ...sidecar, id: file.id, task: { kind: 'sidecar', fileId: file.id } });
    if (erase) await db.outbox.put({ ...erase, id: `erase:${file.id}`, task: { kind: 'erase', fileId: file.id } });
    if (conflict) await db.conflicts.put({ ...conflict, fileId: file.id });
    return file;
  });
}

/** What a file was when its bytes were read; if it is another by now, the reading says nothing of it. */
export type SeenFile = Pick<FileRecord, 'sizeBytes' | 'modifiedMs'>;

/**
 * `described`: the picture is what it was, and another program wrote metadata beside it since it was last looked at; a
 * scan hears what.
 */
export type Verdict = 'verified' | 'damaged' | 'described' | 'other';

/**
 * All bytes of a file were read. The first reading is its measure; a later one is held against that.
 * @param seen length and time of what was read. With another length or time than recorded, a match says that it was
 * only touched.
 * @param marked whether the drive's mark was read; without it nothing counts as verified
 * @returns `other` where the file was moved, changed or removed meanwhile
 */
export async function fileRead(
  db: CatalogDatabase,
  read: Pick<FileRecord, 'id' | 'sha256'>,
  seen: SeenFile,
  digests: FileDigests,
  marked: boolean,
  at: number,
): Promise<Verdict> {
  return act(db, async () => {
    const file = await db.files.get(read.id);
    if (!file || file.sha256 !== read.sha256) return 'other';
    const sound = file.sha256 === null || file.sha256 === digests.file;
    const isChanged = seen.sizeBytes !== file.sizeBytes || seen.modifiedMs !== file.modifiedMs;
    const samePicture = file.imageSha256 !== null && digests.image === file.imageSha256;
    if (!sound && isChanged && file.state === 'present' && samePicture) {
      await db.files.update(file.id, { verifiedAt: null });
      return 'described';
    }
    if (!sound) {
      if (file.state !== 'damaged' || file.foundSha256 !== digests.file) {
        await db.outbox.put(manifestItem(file.driveId, at));
        await noteFinding(db, file, 'damaged', at);
      }
      await db.files.update(file.id, { ...seen, state: 'damaged', foundSha256: digests.file, verifiedAt: null });
      return 'damaged';
    }
    // reading all bytes settles no doubt, and makes no photo of what is none
    const stays = file.state === 'doubt' || file.state === 'unreadable';
    await db.files.update(file.id, {
      ...seen,
      sha256: digests.file,
      imageSha256: digests.image,
      measuredFrom: file.measuredFrom ?? 'reading',
      verifiedAt: marked && !stays ? at : null,
      ...(!stays && { state: 'present' as const, foundSha256: null }),
    });
    await restManifest(db, file.driveId, at);
    await measurePhoto(db, file, digests);
    return 'verified';
  });
}

/** The first file of a photo that is read in full measures it; the picture may be measured later. */
async function measurePhoto(db: CatalogDatabase, file: FileRecord, digests: FileDigests): Promise<void> {
  const photo = file.photoId === null ? undefined : await db.photos.get(file.photoId);
  if (photo && photo.sha256 === null && file.fingerprint === photo.id)
    await db.photos.update(photo.id, { sha256: digests.file, imageSha256: digests.image });
  else if (photo && photo.imageSha256 === null && digests.image !== null && photo.sha256 === digests.file)
    await db.photos.update(photo.id, { imageSha256: digests.image });
}

/** We wrote fields into the file: what was written is its measure now. The picture is what it was. */
export async function fileWritten(
  db: CatalogDatabase,
  fileId: string,
  { sizeBytes, modifiedMs, fingerprint, digests, embedded }: WrittenFile,
  problems: FileRecord['problems'],
  at: number,
): Promise<void> {
  await act(db, async () => {
    const file = await db.files.get(fileId);
    if (!file) return;
    const marked = (await db.drives.get(file.driveId))?.marked ?? false;
    await db.files.update(fileId, {
      sizeBytes,
      modifiedMs,
      fingerprint,
      embedded,
      sha256: digests.file,
      imageSha256: digests.image,
      measuredFrom: 'writing',
      foundSha256: null,
      verifiedAt: marked ? at : null,
      problems,
    });
    await restManifest(db, file.driveId, at);
    const photo = file.photoId === null ? undefined : await db.photos.get(file.photoId);
    if (photo?.imageSha256 === null) await db.photos.update(photo.id, { imageSha256: digests.image });
  });
}

/**
 * The file is there and is not what was first measured, or is no photo any more. It keeps its measure and its photo.
 */
export async function fileDamaged(
  db: CatalogDatabase,
  fileId: string,
  seen: SeenFile | null,
  foundSha256: string | null,
  at: number,
): Promise<void> {
  await act(db, async () => {
    const file = await db.files.get(fileId);
    if (!file) return;
    await db.files.update(fileId, { ...seen, state: 'damaged', foundSha256, verifiedAt: null });
    await db.outbox.put(manifestItem(file.driveId, at));
    if (file.state !== 'damaged') await noteFinding(db, file, 'damaged', at);
  });
}

/** A file that was damaged or missing is there again, as it should be, from a copy. */
export const fileBroughtBack = (db: CatalogDatabase, fileId: string, at: number): Promise<void> =>
  act(db, async () => {
    const file = await db.files.get(fileId);
    if (file) await noteFinding(db, file, 'brought-back', at);
  });

/** A file that is recorded is not on its drive. What waits for it goes on waiting. */
export async function fileMissing(db: CatalogDatabase, fileId: string, at: number): Promise<void> {
  await act(db, async () => {
    const file = await db.files.get(fileId);
    if (!file || file.state === 'missing') return;
    // one that could never be read is nothing anybody could miss
    if (file.photoId === null && file.sha256 === null) return db.files.delete(fileId);
    await db.files.update(fileId, { state: 'missing', verifiedAt: null });
    await db.outbox.put(manifestItem(file.driveId, at));
  });
}

/** Erased: the record of the file goes, and with the last file of a photo that is not missing the photo. */
export async function fileErased(db: CatalogDatabase, file: FileRecord, at: number): Promise<void> {
  await act(db, async () => {
    await dropFile(db, file, at);
    const { photoId } = file;
    if (photoId === null) return;
    const others = await db.files.where('photoId').equals(photoId).toArray();
    if (others.some(({ state }) => state !== 'missing')) return;
    for (const other of others) await dropFile(db, other, at);
    await dropPhoto(db, photoId);
  });
}

/** Removed to free room on its drive: the photo stays, by its other files. */
export async function fileFreed(db: CatalogDatabase, file: FileRecord, at: number): Promise<void> {
  await act(db, async () => {
    await noteFinding(db, file, 'freed', at);
    await dropFile(db, file, at);
  });
}

/** The person settled that a missing file is gone for good. Its photo goes too where it has no other file. */
export async function settleMissing(db: CatalogDatabase, fileId: string, at: number): Promise<string | null> {
  return act(db, async () => {
    const file = await db.files.get(fileId);
    if (file?.state !== 'missing') return null;
    await noteFinding(db, file, 'gone', at);
    await dropFile(db, file, at);
    if (file.photoId !== null && (await db.files.where('photoId').equals(file.photoId).count()) === 0)
      await dropPhoto(db, file.photoId);
    return file.photoId;
  });
}

/** A file as it was read anew, in full. */
export interface ReadAnew {
  seen: SeenFile;
  digests: FileDigests;
  fingerprint: string;
  reading: PhotoReading;
  preview: Blob | null;
  marked: boolean;
}

/**
 * The person settled that a file is what it should be, although its bytes are not the measure. What was read is its
 * measure now. Where the photo has other copies, which are what they were, the file is a photo of its own from here on,
 * with the same words.
 */
export async function settleAsItIs(
  db: CatalogDatabase,
  fileId: string,
  { seen, digests, fingerprint, reading, preview, marked }: ReadAnew,
  at: number,
): Promise<string[]> {
  return act(db, async () => {
    const file = await db.files.get(fileId);
    const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (!file || !photo || (file.state !== 'damaged' && file.state !== 'doubt')) return [];
    const measure = { sha256: digests.file, imageSha256: digests.image };
    const others = (await db.files.where('photoId').equals(photo.id).toArray()).filter(
      ({ id, state }) => id !== fileId && state !== 'missing',
    );
    const isSame = others.length === 0 || samePicture(photo, measure);
    const { fields: embedded, captured: _, ...technical } = reading;
    const isTaken = (await db.photos.get(fingerprint)) !== undefined;
    const photoId = isSame ? photo.id : photoFor(fingerprint, measure, [], null, () => isTaken);
    await db.files.update(fileId, {
      ...seen,
      photoId,
      state: 'present',
      fingerprint,
      sha256: digests.file,
      imageSha256: digests.image,
      measuredFrom: 'reading',
      foundSha256: null,
      embedded,
      verifiedAt: marked ? at : null,
      problems: reading.problems,
    });
    if (others.length === 0 || !isSame)
      await db.photos.put({
        ...photo,
        ...technical,
        id: photoId,
        bytes: seen.sizeBytes,
        sha256: digests.file,
        imageSha256: digests.image,
        ...(!isSame && { embedded, addedAt: at }),
      });
    if (preview && photo.sha256 !== digests.file) await db.previews.put({ photoId, blob: preview });
    await db.measures.delete(photoId);
    await db.undrawn.delete(photoId);
    await db.outbox.put(manifestItem(file.driveId, at));
    await noteFinding(db, { ...file, photoId }, 'right', at);
    return [photo.id, photoId];
  });
}

/** Two records give a file different measures. */
export async function fileInDoubt(db: CatalogDatabase, fileId: string, otherSha256: string, at: number): Promise<void> {
  await act(db, async () => {
    const file = await db.files.get(fileId);
    if (!file || file.state === 'damaged' || (file.state === 'doubt' && file.foundSha256 === otherSha256)) return;
    await db.files.update(fileId, { state: 'doubt', foundSha256: otherSha256, verifiedAt: null });
    await db.outbox.put(manifestItem(file.driveId, at));
    await noteFinding(db, file, 'doubt', at);
  });
}

/**
 * Makes one photo of all that are the same by proof as the one this file is of: all bytes equal, or the pictures, where
 * the newcomer has no words of its own that the elder lacks. The one that came first stays, unless all that is there of
 * it is damaged. Answers with the ids of all, or `null` where there is but one.
 */
export async function joinByProof(db: CatalogDatabase, fileId: string, at: number): Promise<string[] | null> {
  if (!(await hasTwin(db, fileId))) return null;
  return db.transaction('rw', [...photoTables(db), ...tablesHolding(db)], async () => {
    const file = await db.files.get(fileId);
    const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (!file?.sha256 || !photo || file.state !== 'present') return null;
    // a damaged file is of the photo whose bytes it should have
    const kin = (await db.files.where('sha256').equals(file.sha256).toArray()).filter(
      ({ photoId, state }) => photoId !== null && (state === 'present' || state === 'damaged'),
    );
    const byBytes = kin.map(({ photoId }) => photoId ?? '');
    const whole = new Set(kin.flatMap(({ photoId, state }) => (state === 'present' ? [photoId] : [])));
    const isDamaged = ({ id }: PhotoRecord) => byBytes.includes(id) && !whole.has(id);
    const byPicture =
      file.imageSha256 === null ? [] : await db.photos.where('imageSha256').equals(file.imageSha256).primaryKeys();
    const all = (await db.photos.bulkGet([...new Set([photo.id, ...byBytes, ...byPicture])]))
      .flatMap((one) => one ?? [])
      .sort((a, b) => Number(isDamaged(a)) - Number(isDamaged(b)) || a.addedAt - b.addedAt || (a.id < b.id ? -1 : 1));
    const joined: string[] = [];
    for (const [index, newcomer] of all.entries()) {
      const elder = all
        .slice(0, index)
        .find(
          (one) =>
            !joined.includes(one.id) &&
            ((byBytes.includes(one.id) && byBytes.includes(newcomer.id)) || saysNothingElse(newcomer, one)),
        );
      if (!elder) continue;
      await joinInto(db, elder, newcomer, at);
      joined.push(newcomer.id);
    }
    return joined.length > 0 ? all.map(({ id }) => id) : null;
  });
}

/**
 * Whether anything else has the bytes or the picture of a file; asked without holding up whoever writes. Of two files
 * that come at the same moment at least the one that asks last sees the other.
 */
const hasTwin = (db: CatalogDatabase, fileId: string): Promise<boolean> =>
  db.transaction('r', db.files, db.photos, async () => {
    const file = await db.files.get(fileId);
    if (!file?.sha256) return false;
    const files = await db.files.where('sha256').equals(file.sha256).limit(2).primaryKeys();
    if (files.length > 1 || file.imageSha256 === null) return files.length > 1;
    const photos = await db.photos.where('imageSha256').equals(file.imageSha256).limit(2).primaryKeys();
    return photos.some((id) => id !== file.photoId);
  });

const saysNothingElse = (newcomer: PhotoRecord, elder: PhotoRecord): boolean =>
  newcomer.imageSha256 !== null &&
  newcomer.imageSha256 === elder.imageSha256 &&
  !differingKeys(newcomer.fields, elder.fields).some((key) => newcomer.fields[key] !== undefined);

async function joinInto(db: CatalogDatabase, elder: PhotoRecord, newcomer: PhotoRecord, at: number): Promise<void> {
  const files = await db.files.where('photoId').equals(newcomer.id).toArray();
  await adoptWords(db, elder, newcomer, files[0], at);
  for (const one of files) {
    // what its sidecar says is met anew by the photo it belongs to
    const moved = { ...one, photoId: elder.id, embedded: embeddedIn(one, newcomer), sidecar: null };
    await db.files.put(moved);
    if (one.sidecar || !isUpToDate(moved, elder)) await db.outbox.put(sidecarItem(moved, at));
  }
  for (const driveId of new Set(files.map((one) => one.driveId))) await restManifest(db, driveId, at);
  await followSamePhoto(db, newcomer.id, elder.id, at);
  await dropPhoto(db, newcomer.id);
}

/**
 * What the person said of the newcomer meanwhile holds for both; where both were told differently, it waits to be
 * decided.
 */
async function adoptWords(
  db: CatalogDatabase,
  known: PhotoRecord,
  newcomer: PhotoRecord,
  file: FileRecord | undefined,
  at: number,
): Promise<void> {
  const found: FoundWords = { fields: newcomer.fields, versions: newcomer.versions ?? {}, foreign: new Set() };
  const { take, conflicts, versions } = mergeWords(
    { fields: newcomer.embedded, isMet: false },
    { fields: known.fields, versions: known.versions ?? {} },
    found,
  );
  const edits = planFields(known, newcomer.fields, take);
  Object.assign(known, { fields: edits.reduce(applyEdit, known.fields), versions });
  await db.photos.put(known);
  if (edits.length > 0) await takeOver(db, edits, 'file', at);
  if (conflicts.length > 0 && file)
    await db.conflicts.put({
      fileId: file.id,
      photoId: known.id,
      keys: conflicts,
      theirs: newcomer.fields,
      versions: found.versions,
      sidecarSha256: file.sidecar?.sha256 ?? '',
      foundAt: at,
    });
}

/** Photos and files that share a fingerprint, with what each is held against. */
export async function kinOf(db: CatalogDatabase, fingerprint: string, exceptFile: string | null): Promise<Kin[]> {
  const first = await db.photos.get(fingerprint);
  const files = await db.files
    .where('fingerprint')
    .equals(fingerprint)
    .filter(({ id, photoId }) => photoId !== null && id !== exceptFile)
    .toArray();
  const only =
    first &&
    exceptFile !== null &&
    files.length === 0 &&
    (await db.files
      .where('photoId')
      .equals(first.id)
      .filter(({ id }) => id !== exceptFile)
      .count()) === 0;
  return [
    ...(first && !only ? [{ photoId: first.id, sha256: first.sha256, imageSha256: first.imageSha256 }] : []),
    ...files.map(({ photoId, sha256, imageSha256 }) => ({ photoId: photoId ?? '', sha256, imageSha256 })),
  ];
}
