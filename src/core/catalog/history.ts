// The history of a catalog as lines: what was changed, when, and from where, in plain form, so that it can be read
// without the program that wrote it.

import type { FieldKey, FieldValues } from '../fields/registry';
import type { FieldValue } from '../fields/shape';
import type { Change, FileFinding, FoundOf, Origin } from './change';
import type { FieldEdit } from '../fields/edits';

export interface HistoryEdit {
  photo: string;
  field: FieldKey;
  before?: FieldValue | undefined;
  after?: FieldValue | undefined;
}

export interface HistoryMove {
  photo: string;
  drive: string;
  before: string;
  after: string;
}

export interface HistoryFinding {
  photo: string;
  drive: string;
  path: string;
  what: FileFinding;
}

/** One act, or a part of one that touched many photos. */
export interface HistoryLine {
  /** The number of the act in its catalog, from 1. */
  seq: number;
  part?: number | undefined;
  /** Milliseconds since 1970, UTC, by the clock of that day. */
  at: number;
  from: Origin;
  /** `decided`, `names`, … : what kind of act it was. */
  act: Change['kind'];
  /** The act that this one takes back, or does again. */
  of?: { seq: number; how: 'undo' | 'redo' } | undefined;
  edits?: HistoryEdit[] | undefined;
  moves?: HistoryMove[] | undefined;
  found?: HistoryFinding[] | undefined;
  /** Photos it is about beside those of edits and moves. */
  photos?: string[] | undefined;
  /** What was changed, by its name: of a collection, a kit, a drive. */
  about?: string | undefined;
}

/** A line stays short enough to be read by anything. */
const EDITS_A_LINE = 200;

export interface Act {
  seq: number;
  at: number;
  change: Change;
  of?: { seq: number; how: 'undo' | 'redo' };
}

/** The lines of an act; at least one. */
export function historyLines({ seq, at, change, of }: Act): HistoryLine[] {
  const all = gathered(change);
  const parts = Math.max(
    1,
    Math.ceil(all.edits.length / EDITS_A_LINE),
    Math.ceil(all.moves.length / EDITS_A_LINE),
    Math.ceil(all.photos.length / EDITS_A_LINE),
  );
  const of1 = <T>(list: readonly T[], part: number) => list.slice(part * EDITS_A_LINE, (part + 1) * EDITS_A_LINE);
  return Array.from({ length: parts }, (_, part) => {
    const [edits, moves, photos] = [of1(all.edits, part), of1(all.moves, part), of1(all.photos, part)];
    return {
      seq,
      ...(part > 0 && { part }),
      at,
      from: change.kind === 'fields' ? change.origin : 'person',
      act: change.kind,
      ...(of && { of }),
      ...(edits.length > 0 && { edits }),
      ...(moves.length > 0 && { moves }),
      ...(change.kind === 'found' && { found: change.of.map(plainFinding) }),
      ...(photos.length > 0 && { photos }),
      ...(all.about !== '' && { about: all.about }),
    };
  });
}

/** The photos a line is about. */
export const photosOfLine = ({ edits = [], moves = [], found = [], photos = [] }: HistoryLine): string[] => [
  ...new Set([...[...edits, ...moves, ...found].map(({ photo }) => photo), ...photos]),
];

interface Gathered {
  edits: HistoryEdit[];
  moves: HistoryMove[];
  photos: string[];
  about: string;
}

function gathered(change: Change): Gathered {
  const none: Gathered = { edits: [], moves: [], photos: [], about: '' };
  switch (change.kind) {
    case 'fields':
      return { ...none, edits: change.edits.map(plainEdit) };
    case 'decided':
      return { ...none, edits: change.edits.map(plainEdit), photos: change.conflicts.map(({ photoId }) => photoId) };
    case 'names':
      return {
        ...none,
        edits: change.edits.map(plainEdit),
        moves: change.moves.map(({ photoId, driveId, before, after }) => ({
          photo: photoId,
          drive: driveId,
          before,
          after,
        })),
      };
    case 'aside':
      return {
        ...none,
        moves: change.moves.map(({ photoId, driveId, before, after }) => ({
          photo: photoId,
          drive: driveId,
          before,
          after,
        })),
      };
    case 'left-out':
      return { ...none, photos: change.photos.map(({ id }) => id), about: change.out ? 'out' : 'in' };
    case 'round':
      return { ...none, edits: change.edits.map(plainEdit), photos: change.decisions.map(({ photoId }) => photoId) };
    case 'gather':
      return {
        ...none,
        photos: [...new Set([...change.gathering.put, ...change.gathering.take].map(({ photoId }) => photoId))],
        about: change.name,
      };
    case 'kept':
      return { ...none, about: `${change.savedKind}: ${'name' in change.after ? change.after.name : change.after.id}` };
    case 'words':
      return {
        ...none,
        about: change.changes
          .map(({ after }) => after.word)
          .slice(0, 20)
          .join(', '),
      };
    case 'drive-name':
      return { ...none, about: change.after };
    case 'found':
      return none;
    case 'together': {
      const all = change.changes.map(gathered);
      return {
        edits: all.flatMap(({ edits }) => edits),
        moves: all.flatMap(({ moves }) => moves),
        photos: all.flatMap(({ photos }) => photos),
        about: [...new Set(all.map(({ about }) => about).filter((about) => about !== ''))].slice(0, 20).join('; '),
      };
    }
  }
}

const plainFinding = ({ photoId, driveId, path, what }: FoundOf): HistoryFinding => ({
  photo: photoId,
  drive: driveId,
  path,
  what,
});

const plainEdit = ({ photoId, key, before, after }: FieldEdit): HistoryEdit => ({
  photo: photoId,
  field: key,
  ...(before !== undefined && { before }),
  ...(after !== undefined && { after }),
});

/**
 * What was said right after an act, of every field that was changed in it or since: as the act left it, or as the next
 * one that changed it found it.
 * @param acts the edits of one photo by act, the latest first. Absent members say that nothing stood there.
 */
export function wordsAfter(acts: readonly (readonly HistoryEdit[])[], index: number): FieldValues {
  const words = new Map<FieldKey, FieldValue | undefined>();
  for (const edits of acts.slice(0, index))
    for (const { field, before } of edits.toReversed()) words.set(field, before);
  for (const { field, after } of acts[index] ?? [])
    if (!acts.slice(0, index).some((edits) => edits.some((edit) => edit.field === field))) words.set(field, after);
  return Object.fromEntries(words) as FieldValues;
}
