// Where copies are to lie on another drive: in the folders they lie in here, or in folders by a pattern. What lies there
// already keeps its name; a name that is another's gets a number.

import { capturedIn } from '@/core/fields/values';
import { baseOf, foldName, folderIn, joinedPath, nameIn, nthPath } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import { giveNames } from '@/core/names/naming';
import type { Pattern } from '@/core/names/pattern';
import { pathUnder } from '@/core/take-in/frames';
import type { CatalogDatabase } from './database';
import type { FileRecord } from './records';
import { namingOf } from './renaming';

type Lying = Pick<FileRecord, 'path' | 'photoId'>;

export interface PlacesAsked {
  /** To be copied. */
  going: readonly Lying[];
  /** All that was chosen on the source, there already or not. */
  chosen: readonly Lying[];
  onTarget: readonly Lying[];
  /** `null`: as on the source. */
  folders: Pattern | null;
}

/** By the path on the source. */
export const copyPlaces = async (db: CatalogDatabase, asked: PlacesAsked): Promise<Map<string, string>> =>
  asked.folders ? placesByPattern(db, asked, asked.folders) : placesAsThere(asked.going, asked.onTarget);

/**
 * As on the source, unless that name is another's already, on the target or in this batch, as the least discerning file
 * system compares names. Linear, however many names differ by their case alone.
 */
export function placesAsThere(files: readonly Lying[], onTarget: readonly Lying[]): Map<string, string> {
  const owner = new Map(onTarget.map(({ path, photoId }) => [foldName(path), { path, photoId }]));
  const next = new Map<string, number>();
  const planned = new Map<string, string>();
  for (const { path, photoId } of files) {
    const base = folderAndBase(path);
    // what is there of the same photo, under the same spelling, is for the copy to compare
    const isFree = (to: string) => {
      const taken = owner.get(foldName(to));
      return !taken || (taken.photoId === photoId && taken.path === to);
    };
    let number = next.get(base) ?? 1;
    while (!isFree(nthPath(path, number))) number += 1;
    if (number > 1) next.set(base, number + 1);
    const to = nthPath(path, number);
    owner.set(foldName(to), { path: to, photoId: null });
    planned.set(path, to);
  }
  return planned;
}

/**
 * Frames go whole, by what is known of the first photo of each; where a file of a frame lies there already, the others
 * come to lie beside it.
 */
async function placesByPattern(
  db: CatalogDatabase,
  { going, chosen, onTarget }: PlacesAsked,
  folders: Pattern,
): Promise<Map<string, string>> {
  const paths = new Set(going.map(({ path }) => path));
  const goes = new Set([...paths].map(folderAndBase));
  const frames = new Map<string, Lying[]>();
  for (const file of chosen) {
    const key = folderAndBase(file.path);
    if (goes.has(key)) frames.set(key, [...(frames.get(key) ?? []), file]);
  }
  const files = [...frames.values()].flat();
  const ids = [...new Set(files.flatMap(({ photoId }) => photoId ?? []))];
  const photos = new Map((await db.photos.bulkGet(ids)).flatMap((photo) => (photo ? [[photo.id, photo]] : [])));
  const sources = new Map((await db.accessions.toArray()).map(({ number, source }) => [number, source]));
  const groups = [...frames.values()].map((frame) => {
    const [{ path, photoId } = { path: '', photoId: null }] = frame;
    const photo = photos.get(photoId ?? '');
    const facts = namingOf(path, photo ? capturedIn(photo.fields) : null, photo);
    return {
      folder: null,
      facts: { ...facts, source: sources.get(facts.accession) ?? '', blanks: { kind: '', client: '', subject: '' } },
    };
  });
  const placed = giveNames(groups, {
    folder: folders,
    names: null,
    taken: new Set(onTarget.map(({ path }) => folderAndBase(path))),
  });
  // the files of a frame that are on the target already, from a copy that broke off, say
  const there = new Map(onTarget.flatMap(({ path, photoId }) => (asideOf(path) === null ? [[photoId, path]] : [])));
  const planned = new Map<string, string>();
  [...frames.values()].forEach((frame, index) => {
    const given = placed[index];
    const beside = frame.flatMap(({ photoId }) => there.get(photoId) ?? [])[0];
    const [folder, base] = beside
      ? [folderIn(beside), baseOf(nameIn(beside))]
      : [given?.folder ?? '', given?.base ?? ''];
    for (const { path } of frame)
      if (paths.has(path)) planned.set(path, pathUnder(path, { base: baseOf(nameIn(path)) }, folder, base));
  });
  return planned;
}

const folderAndBase = (path: string): string => foldName(joinedPath(folderIn(path), baseOf(nameIn(path))));
