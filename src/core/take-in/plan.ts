// What a take-in will do, before it does it: where every file goes and what it is called, which folders are new, what
// is in the way. Linear in the number of files.

import { endingOf, isPhotoName, isSidecarName } from '../formats/containers/formats';
import { baseOf, foldName, folderIn, joinedPath, nameIn } from '../names/file-names';
import { type GivenName, giveNames } from '../names/naming';
import { type NameFacts, fillFolder } from '../names/pattern';
import { type Captured, shiftCaptured } from '../time/captured';
import { photoNumber } from './accession';
import { type Frame, type SourceFile, filesOf, pathUnder } from './frames';
import type { Sheet } from './sheet';

export interface ReadFrame {
  frame: Frame;
  captured: Captured | null;
  camera: string;
}

export interface Destination {
  /** Every file and folder there, folders by the way they are spelt. */
  files: readonly string[];
}

export interface PlannedFile {
  from: string;
  to: string;
  /** On the second drive; `null` where there is none. */
  second: string | null;
  sizeBytes: number;
  modifiedMs: number;
  role: 'photo' | 'sidecar' | 'beside';
  /** The frame's key. */
  frame: string;
  /** `2026.001.0001` */
  number: string;
}

export interface PlannedFolder {
  path: string;
  isNew: boolean;
  /** Frames that go into it, not counting the folders below. */
  frames: number;
}

export interface TakeInPlan {
  files: PlannedFile[];
  frames: { key: string; name: GivenName; path: string; number: string }[];
  /** Every folder with its ancestors, by path. */
  folders: PlannedFolder[];
  photos: number;
  bytes: number;
  /** Frames whose name was taken at the destination or in the batch, and got a number. */
  taken: string[];
  /** Frames whose path from the drive's root is long. */
  long: string[];
  /** Files whose place on the second drive is taken; they get a number there. */
  secondTaken: string[];
}

/** Pictures a program made of originals come as these (common practice). */
const PROCESSED = new Set(['psd', 'psb', 'tif', 'tiff']);

const roleOf = ({ photos }: Frame): NameFacts['role'] =>
  photos.every(({ path }) => PROCESSED.has(endingOf(path))) ? 'processed' : 'originals';

export const fileRole = (path: string): PlannedFile['role'] =>
  isPhotoName(path) ? 'photo' : isSidecarName(path) ? 'sidecar' : 'beside';

export interface Taking {
  /** In the order in which they are numbered. */
  frames: readonly ReadFrame[];
  sheet: Sheet;
  accession: string;
  source: string;
  main: Destination;
  second: Destination | null;
}

export function planTakeIn({ frames, sheet, accession, source, main, second }: Taking): TakeInPlan {
  const facts = frames.map(({ frame, captured, camera }, index): NameFacts => ({
    captured: shiftCaptured(captured, sheet.clockSeconds),
    oldBase: frame.base,
    camera,
    accession,
    photoNumber: photoNumber(accession, index + 1),
    blanks: sheet.blanks,
    source,
    role: roleOf(frame),
  }));
  const first = facts[0];
  const folderOfAll = sheet.folderPer === 'accession' && first ? fillFolder(sheet.folder, first) : null;
  // a second copy that is the card as it was is one folder, not one for each day
  const secondFolder = first ? fillFolder(sheet.second.folder, first) : '';
  const spelling = spellings(main.files);
  const taken = new Set(basesIn(main.files));
  if (second && sheet.second.layout === 'same') for (const base of basesIn(second.files)) taken.add(base);
  const given = giveNames(
    facts.map((one) => ({ facts: one, folder: folderOfAll })),
    { folder: sheet.folder, names: sheet.names, taken },
  );
  const secondTaken = new Set(second && sheet.second.layout === 'card' ? second.files.map(foldName) : []);
  const plan: TakeInPlan = {
    files: [],
    frames: [],
    folders: [],
    photos: 0,
    bytes: 0,
    taken: [],
    long: [],
    secondTaken: [],
  };
  const perFolder = new Map<string, number>();
  frames.forEach(({ frame }, index) => {
    const name = given[index];
    const own = facts[index];
    if (!name || !own) return;
    const folder = spelling.get(foldName(name.folder)) ?? name.folder;
    perFolder.set(folder, (perFolder.get(folder) ?? 0) + 1);
    const number = own.photoNumber;
    for (const file of filesOf(frame)) {
      const to = pathUnder(file.path, frame, folder, name.base);
      const secondPath =
        second === null ? null : sheet.second.layout === 'same' ? to : joinedPath(secondFolder, file.path);
      if (secondPath !== null && secondTaken.has(foldName(secondPath))) plan.secondTaken.push(file.path);
      plan.files.push(plannedFile(file, to, secondPath, frame.key, number));
      plan.bytes += file.sizeBytes;
      if (isPhotoName(file.path)) plan.photos += 1;
    }
    plan.frames.push({
      key: frame.key,
      name,
      path: pathUnder(frame.photos[0]?.path ?? frame.key, frame, folder, name.base),
      number,
    });
    if (name.remarks.includes('taken')) plan.taken.push(frame.key);
    if (name.remarks.includes('long')) plan.long.push(frame.key);
  });
  plan.folders = foldersOf(perFolder, new Set([...spelling.keys()]));
  return plan;
}

const plannedFile = (
  { path, sizeBytes, modifiedMs }: SourceFile,
  to: string,
  second: string | null,
  frame: string,
  number: string,
): PlannedFile => ({ from: path, to, second, sizeBytes, modifiedMs, role: fileRole(path), frame, number });

/** Base names in use in each folder, folded. A sidecar `A.jpg.xmp` uses `A.jpg`, the photo beside it `A`. */
export function* basesIn(paths: Iterable<string>): Generator<string> {
  for (const path of paths) yield foldName(joinedPath(folderIn(path), baseOf(nameIn(path))));
}

/** Folders that are there, by their folded path: a name that differs only in case means the folder that exists. */
function spellings(paths: Iterable<string>): Map<string, string> {
  const spelt = new Map<string, string>();
  for (const path of paths)
    for (let folder = folderIn(path); folder !== '' && !spelt.has(foldName(folder)); folder = folderIn(folder))
      spelt.set(foldName(folder), folder);
  return spelt;
}

function foldersOf(perFolder: ReadonlyMap<string, number>, existing: ReadonlySet<string>): PlannedFolder[] {
  const all = new Map<string, number>(perFolder);
  for (const folder of perFolder.keys())
    for (let above = folderIn(folder); above !== ''; above = folderIn(above)) if (!all.has(above)) all.set(above, 0);
  return [...all]
    .filter(([path]) => path !== '')
    .map(([path, frames]) => ({ path, frames, isNew: !existing.has(foldName(path)) }))
    .sort((a, b) => (a.path < b.path ? -1 : 1));
}
