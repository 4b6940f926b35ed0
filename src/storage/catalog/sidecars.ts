// Where a sidecar on a drive meets the catalog: taking over what another program wrote, keeping both versions where
// both sides changed, and writing what the catalog holds. Pure decisions are in core/fields/merge.ts.

import { sameBytes } from '@/core/bytes/join';
import { endingOf } from '@/core/formats/containers/formats';
import { baseOf, foldName, nameIn } from '@/core/names/file-names';
import type { Change } from '@/core/catalog/change';
import { type FieldEdit, applyEdit, editOf, planFields } from '@/core/fields/edits';
import { NO_VERSION, type Version, bumped, writerOf } from '@/core/fields/version';
import type { FieldValue } from '@/core/fields/shape';
import { type Base, type FoundWords, type Words, mergeWords } from '@/core/fields/merge';
import type { FieldKey, FieldValues } from '@/core/fields/registry';
import { differingKeys, sameFields, sameValue } from '@/core/fields/values';
import type { Problem } from '@/core/problems/problem';
import { foundWords, parseSidecar, planSidecar } from '@/core/metadata/xmp/sidecar';
import { type Drive } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { sha256Hex } from '../drives/sha256';
import { type Applied, changeTables, recordDone, sidecarItem, takeOver } from './changes';
import type { CatalogDatabase } from './database';
import type { ConflictRecord, FileRecord, PhotoRecord, SidecarRecord } from './records';

export interface FoundSidecar {
  path: string;
  sizeBytes: number;
  modifiedMs: number;
  bytes: Uint8Array;
}

export type Taken =
  { state: 'taken'; tookOver: number; conflicts: number } | { state: 'unreadable'; problems: Problem[] };

interface Meeting {
  base: Base;
  found: FoundWords;
  from: 'sidecar' | 'file';
  sidecarSha256: string;
  /** What is recorded of the file with it. */
  record: Partial<FileRecord>;
}

/**
 * What was found of a photo at one of its files meets the catalog: taken over, kept as a conflict, or left as behind.
 * For within a transaction over `changeTables`.
 */
async function meetWords(
  db: CatalogDatabase,
  fileId: string,
  photo: PhotoRecord,
  { base, found, from, sidecarSha256, record }: Meeting,
  at: number,
): Promise<{ tookOver: number; conflicts: number }> {
  // what stands in the image and what stands in its sidecar can both be to be decided
  const before = await db.conflicts.get(fileId);
  const inImage = before?.inImage ?? (before?.from === 'file' ? before.keys : []);
  const [own, others] = [
    (before?.keys ?? []).filter((key) => inImage.includes(key) === (from === 'file')),
    (before?.keys ?? []).filter((key) => inImage.includes(key) !== (from === 'file')),
  ];
  const merge = mergeWords({ ...base, open: new Set(own) }, wordsOf(photo), found);
  const edits = planFields(photo, found.fields, merge.take);
  await db.photos.put({ ...photo, fields: edits.reduce(applyEdit, photo.fields), versions: merge.versions });
  await db.files.update(fileId, record);
  if (edits.length > 0) await takeOver(db, edits, from, at);
  const kept = others.filter((key) => !merge.conflicts.includes(key));
  const keys = [...merge.conflicts, ...kept];
  if (keys.length > 0) {
    const theirs = { ...found.fields, ...Object.fromEntries(kept.map((key) => [key, before?.theirs[key]])) };
    await db.conflicts.put({
      fileId,
      photoId: photo.id,
      keys,
      theirs,
      versions: { ...before?.versions, ...found.versions },
      from,
      inImage: from === 'file' ? merge.conflicts : kept,
      sidecarSha256,
      foundAt: at,
    });
  } else if (before) await db.conflicts.delete(fileId);
  return { tookOver: merge.take.length, conflicts: merge.conflicts.length };
}

/**
 * An image file says something else by itself than it did: what another program wrote there, without regard to the
 * sidecar. What we wrote there ourselves, and could not record, is no news: the sidecar had it first.
 */
export async function meetImage(
  db: CatalogDatabase,
  fileId: string,
  embedded: FieldValues,
  record: Partial<FileRecord>,
  at: number,
): Promise<{ tookOver: number; conflicts: number }> {
  const file = await db.files.get(fileId);
  const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
  if (!file || !photo) return { tookOver: 0, conflicts: 0 };
  const said = embeddedIn(file, photo);
  const news = differingKeys(said, embedded).filter(
    (key) => !file.sidecar || !sameValue(file.sidecar.base[key], embedded[key]),
  );
  const fields: FieldValues = { ...photo.fields, ...Object.fromEntries(news.map((key) => [key, embedded[key]])) };
  for (const key of news) if (embedded[key] === undefined) delete fields[key];
  return meetWords(
    db,
    fileId,
    photo,
    {
      base: { fields: said, isMet: true },
      found: { fields, versions: {}, foreign: new Set() },
      from: 'file',
      sidecarSha256: file.sidecar?.sha256 ?? '',
      record,
    },
    at,
  );
}

/** Reads a sidecar that is not as we last saw it, into the catalog. Both versions are kept where both sides changed. */
export async function adoptSidecar(
  db: CatalogDatabase,
  fileId: string,
  found: FoundSidecar,
  at: number,
): Promise<Taken> {
  const sidecar = parseSidecar(found.bytes);
  const sha256 = await sha256Hex(found.bytes);
  return db.transaction('rw', changeTables(db), async (): Promise<Taken> => {
    const file = await db.files.get(fileId);
    const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (!file || !photo) return { state: 'taken', tookOver: 0, conflicts: 0 };
    if (sidecar.state !== 'read') {
      await db.files.update(fileId, {
        sidecar: recordOf(found, sha256, (file.sidecar ?? { base: embeddedIn(file, photo) }).base),
        sidecarTarget: found.path,
      });
      return { state: 'unreadable', problems: sidecar.state === 'unreadable' ? sidecar.problems : [] };
    }
    const words = foundWords(embeddedIn(file, photo), sidecar.value);
    const met = await meetWords(
      db,
      fileId,
      photo,
      {
        base: lastMet(file, photo),
        found: words,
        from: 'sidecar',
        sidecarSha256: sha256,
        record: { sidecar: recordOf(found, sha256, words.fields), sidecarTarget: found.path },
      },
      at,
    );
    const [now, said] = [await db.files.get(fileId), await db.photos.get(photo.id)];
    if (now && said && !isUpToDate(now, said)) await db.outbox.put(sidecarItem(now, at));
    return { state: 'taken', ...met };
  });
}

/** The same of one that stood elsewhere, while the photo has another: that one stays the photo's sidecar. */
export async function meetLeftBehind(
  db: CatalogDatabase,
  fileId: string,
  bytes: Uint8Array,
  at: number,
): Promise<Taken> {
  const sidecar = parseSidecar(bytes);
  if (sidecar.state !== 'read')
    return { state: 'unreadable', problems: sidecar.state === 'unreadable' ? sidecar.problems : [] };
  return db.transaction('rw', changeTables(db), async (): Promise<Taken> => {
    const file = await db.files.get(fileId);
    const photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
    if (!file || !photo) return { state: 'taken', tookOver: 0, conflicts: 0 };
    const embedded = embeddedIn(file, photo);
    const met = await meetWords(
      db,
      fileId,
      photo,
      {
        base: { fields: embedded, isMet: false },
        found: foundWords(embedded, sidecar.value),
        from: 'sidecar',
        sidecarSha256: file.sidecar?.sha256 ?? '',
        record: {},
      },
      at,
    );
    await db.outbox.put(sidecarItem(file, at));
    return { state: 'taken', ...met };
  });
}

const wordsOf = ({ fields, versions = {} }: PhotoRecord): Words => ({ fields, versions });

const lastMet = (file: FileRecord, photo: PhotoRecord): Base =>
  file.sidecar ? { fields: file.sidecar.base, isMet: true } : { fields: embeddedIn(file, photo), isMet: false };

export const recordOf = (found: Omit<FoundSidecar, 'bytes'>, sha256: string, base: FieldValues): SidecarRecord => ({
  path: found.path,
  sizeBytes: found.sizeBytes,
  modifiedMs: found.modifiedMs,
  sha256,
  base,
});

/** Whether what stands beside the file says the same as the catalog. */
export const isUpToDate = (file: FileRecord, photo: PhotoRecord): boolean =>
  sameFields(file.sidecar?.base ?? embeddedIn(file, photo), photo.fields);

/** What the image file itself says. */
export const embeddedIn = (file: FileRecord, photo: PhotoRecord): FieldValues => file.embedded ?? photo.embedded;

export type Written = 'written' | 'nothing-to-do' | 'conflict' | { problem: string };

/**
 * Where the first sidecar of a file goes: as it was chosen, unless another file has that one by now, by the catalog or
 * by what it says itself. Files of one base name come together in many ways, and no words of one are ever taken for
 * those of another.
 */
async function freeSidecar(
  db: CatalogDatabase,
  drive: Drive,
  { id, driveId, path, sidecarTarget }: FileRecord,
): Promise<string> {
  const own = `${path}.xmp`;
  if (sidecarTarget === own) return own;
  const alike = await db.files
    .where('id')
    .startsWithIgnoreCase(`${driveId}/${path.slice(0, path.length - nameIn(path).length)}${baseOf(nameIn(path))}`)
    .toArray();
  if (
    alike.some(
      (other) => other.id !== id && other.sidecar !== null && foldName(other.sidecar.path) === foldName(sidecarTarget),
    )
  )
    return own;
  const there = await readIfThere(drive, sidecarTarget);
  const parsed = there && parseSidecar(there);
  const ending = parsed?.state === 'read' ? parsed.value.forEnding : null;
  return ending === null || ending === endingOf(path) ? sidecarTarget : own;
}

/** Brings the sidecar of one file up to date. What another program wrote meanwhile is taken in first. */
export async function writeSidecar(db: CatalogDatabase, drive: Drive, fileId: string, at: number): Promise<Written> {
  const file = await db.files.get(fileId);
  let photo = file?.photoId ? await db.photos.get(file.photoId) : undefined;
  if (!file || !photo || file.state === 'missing') return 'nothing-to-do';
  const path = file.sidecar?.path ?? (await freeSidecar(db, drive, file));
  const existing = await readIfThere(drive, path);
  const existingSha256 = existing ? await sha256Hex(existing) : null;
  if (existing && existingSha256 !== file.sidecar?.sha256) {
    const taken = await adoptSidecar(
      db,
      fileId,
      { path, sizeBytes: existing.length, modifiedMs: at, bytes: existing },
      at,
    );
    if (taken.state === 'unreadable') return { problem: 'sidecar-unreadable' };
    photo = (await db.photos.get(photo.id)) ?? photo;
  }
  if (await db.conflicts.get(fileId)) return 'conflict';
  if (!existing && sameFields(embeddedIn(file, photo), photo.fields)) return 'nothing-to-do';
  const plan = planSidecar({
    existing,
    ...wordsOf(photo),
    embedded: embeddedIn(file, photo),
    ending: endingOf(file.path),
  });
  if ('problems' in plan) return { problem: 'sidecar-unreadable' };
  const same = existing !== null && sameBytes(existing, plan.bytes);
  if (!same) await replaceFile(drive, path, plan.bytes, existing);
  const written = await drive.open(path);
  const record = recordOf(
    { path, sizeBytes: plan.bytes.length, modifiedMs: written.lastModified },
    await sha256Hex(plan.bytes),
    photo.fields,
  );
  await db.files.update(fileId, { sidecar: record, sidecarTarget: path });
  return same ? 'nothing-to-do' : 'written';
}

/** What stood in a field when somebody began to type there. */
export interface SeenValue {
  value: FieldValue | undefined;
  version: Version;
}

export const seenIn = ({ fields, versions = {} }: PhotoRecord, key: FieldKey): SeenValue => ({
  value: fields[key],
  version: versions[key] ?? NO_VERSION,
});

/**
 * A person says something in a field that another program or another catalog changed while it was being typed: what is
 * typed holds here, what came in meanwhile is kept beside it until the person decides. `null` where nothing came in:
 * then it is a change as any other.
 */
export async function sayApart(
  db: CatalogDatabase,
  photoId: string,
  key: FieldKey,
  value: FieldValue | undefined,
  seen: SeenValue,
  at: number,
): Promise<Applied | null> {
  return db.transaction('rw', changeTables(db), async () => {
    const photo = await db.photos.get(photoId);
    const files = await db.files.where('photoId').equals(photoId).toArray();
    const file = files.find(({ sidecar }) => sidecar && sameValue(sidecar.base[key], photo?.fields[key])) ?? files[0];
    if (!photo || !file) return null;
    const now = seenIn(photo, key);
    if (
      now.version === seen.version ||
      [db.catalogId, null].includes(writerOf(now.version)) ||
      sameValue(now.value, seen.value) ||
      sameValue(now.value, value)
    )
      return null;
    const edit = editOf(photoId, key, now.value, value);
    await db.photos.put({
      ...photo,
      fields: applyEdit(photo.fields, edit),
      versions: { ...photo.versions, [key]: bumped(seen.version, db.catalogId) },
    });
    const before = await db.conflicts.get(file.id);
    const theirs = { ...before?.theirs, ...(now.value !== undefined && { [key]: now.value }) };
    await db.conflicts.put({
      inImage: [],
      ...before,
      fileId: file.id,
      photoId,
      keys: [...new Set([...(before?.keys ?? []), key])],
      theirs,
      versions: { ...before?.versions, [key]: now.version },
      from: 'sidecar',
      sidecarSha256: file.sidecar?.sha256 ?? '',
      foundAt: at,
    });
    return recordDone(db, { kind: 'fields', origin: 'person', edits: [edit] }, at);
  });
}

/** What a conflict's fields are to say, here and in the file. */
export interface ConflictDecision {
  fileId: string;
  decided: FieldValues;
}

/** One side for every field of these conflicts. */
export async function decisionsFor(
  db: CatalogDatabase,
  conflicts: readonly ConflictRecord[],
  side: 'here' | 'theirs',
): Promise<ConflictDecision[]> {
  const photos = await db.photos.bulkGet(conflicts.map(({ photoId }) => photoId));
  return conflicts.map(({ fileId, keys, theirs }, index) => {
    const said = side === 'here' ? (photos[index]?.fields ?? {}) : theirs;
    return {
      fileId,
      decided: Object.fromEntries(
        keys.flatMap((key) => (said[key] === undefined ? [] : [[key, said[key]]])),
      ) as FieldValues,
    };
  });
}

/** The person's decision of conflicts as one change; `null` where none of them is there any more. */
export async function planDecision(
  db: CatalogDatabase,
  decisions: readonly ConflictDecision[],
): Promise<(Change & { kind: 'decided' }) | null> {
  const conflicts: ConflictRecord[] = [];
  const edits: FieldEdit[] = [];
  for (const { fileId, decided } of decisions) {
    const conflict = await db.conflicts.get(fileId);
    const photo = conflict ? await db.photos.get(conflict.photoId) : undefined;
    if (!conflict || !photo) continue;
    // a photo may have said two things at two of its files: the first decision holds
    const isDecided = (key: FieldKey) => conflicts.some((one) => one.photoId === photo.id && one.keys.includes(key));
    edits.push(
      ...planFields(
        photo,
        decided,
        conflict.keys.filter((key) => !isDecided(key)),
      ),
    );
    conflicts.push(conflict);
  }
  return conflicts.length > 0 ? { kind: 'decided', conflicts, edits, open: false } : null;
}
