// What is kept under names and ids, a file a saved kind in the archive folder of every drive. Read item by item: one that
// cannot be understood costs itself alone, and stays in the file as it is. What is written is held against the same
// limits before, where it is entered.

import { z } from 'zod';
import { sameBytes } from '@/core/bytes/join';
import type { SavedKind, SavedItems } from '@/core/catalog/change';
import { type SavedProblem, NAME_LENGTH } from '@/core/catalog/saved';
import { isVersion } from '@/core/fields/version';
import { SPOT_FIELDS } from '@/core/locate/kept';
import { MARKER_SHAPES } from '@/core/sift/judging';
import { ARCHIVE_FOLDER, type Drive } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';
import { json } from './archive-files';
import { parseJson } from './read-json';
import { kitEntry, pattern, profileContent, sentFile, sheet } from './schemas';

const path = (name: string) => `${ARCHIVE_FOLDER}/${name}`;

const text = (limit: number) => z.string().max(limit);
const versioned = { updatedAt: z.number(), deleted: z.boolean(), version: z.string().refine(isVersion).optional() };
const kept = <T extends z.ZodRawShape>(content: T) =>
  z.object({ id: text(64), name: text(NAME_LENGTH), ...content, ...versioned });

const ITEMS = {
  // version 1 had smart collections alone
  collections: kept({
    kind: z.enum(['smart', 'hand', 'folder']).default('smart'),
    parentId: text(64).nullable().default(null),
    scope: text(5000).default(''),
    photoIds: z.array(text(200)).max(1_000_000).default([]),
    pinned: z.boolean().default(false),
    order: z.number().default(0),
  }),
  // version 1 did not say as which files they went
  deliveries: kept({
    date: text(32),
    note: text(5000),
    photoIds: z.array(text(200)).max(1_000_000),
    files: z.array(sentFile).max(1_000_000).optional(),
  }),
  deliveryProfiles: kept(profileContent),
  kits: kept({ entries: z.array(kitEntry).max(200) }),
  patterns: kept({ parts: pattern }),
  routines: kept({ sheet }),
  ladder: kept({ meanings: z.record(text(2), text(500)) }),
  markers: kept({ color: z.string().regex(/^#[0-9a-f]{6}$/i), shape: z.enum(MARKER_SHAPES), order: z.number() }),
  rounds: kept({
    rung: z.number().int().min(1).max(5),
    photoIds: z.array(text(200)).max(1_000_000),
    decided: z.record(
      text(200),
      z.object({ decision: z.enum(['up', 'leave', 'reject']), was: z.number().int().min(-1).max(5) }),
    ),
    startedAt: z.number(),
    after: text(64).nullable(),
  }),
  leftOut: z.object({ id: text(200), name: text(5000), ...versioned }),
  vocabulary: z.object({
    id: text(64),
    word: text(500),
    parentId: text(64).nullable(),
    synonyms: z.array(text(500)).max(200),
    note: text(5000),
    // version 1 had none
    isPrivate: z.boolean().optional(),
    ...versioned,
  }),
  shorthand: kept({
    active: z.boolean(),
    entries: z.array(z.object({ code: text(64), expansions: z.array(text(5000)).max(50) })).max(100_000),
  }),
  learnt: z.object({ id: text(200), ...versioned }),
  clocks: z.object({ id: text(400), zone: text(64).nullable(), differenceSeconds: z.number(), ...versioned }),
  spots: kept({
    lat: z.number().min(-90).max(90),
    lon: z.number().min(-180).max(180),
    radiusM: z.number().min(1).max(1_000_000),
    isPrivate: z.boolean(),
    words: z.partialRecord(z.enum(SPOT_FIELDS), text(500)),
  }),
  settings: z.object({ id: text(200), value: z.json(), ...versioned }),
} satisfies { [S in SavedKind]: z.ZodType<SavedItems[S]> };

/** `version` is what is written; it and those before it are read. */
const SAVED_FILES: Record<SavedKind, { file: string; format: string; version?: number }> = {
  collections: { file: path('collections.json'), format: 'wembo-collections', version: 2 },
  deliveries: { file: path('deliveries.json'), format: 'wembo-deliveries', version: 2 },
  deliveryProfiles: { file: path('delivery-profiles.json'), format: 'wembo-delivery-profiles' },
  kits: { file: path('kits.json'), format: 'wembo-kits' },
  patterns: { file: path('name-patterns.json'), format: 'wembo-name-patterns' },
  // version 1 called videos films
  routines: { file: path('routines.json'), format: 'wembo-routines', version: 2 },
  ladder: { file: path('ladder.json'), format: 'wembo-ladder' },
  markers: { file: path('markers.json'), format: 'wembo-markers' },
  rounds: { file: path('rounds.json'), format: 'wembo-rounds' },
  leftOut: { file: path('left-out.json'), format: 'wembo-left-out' },
  vocabulary: { file: path('vocabulary.json'), format: 'wembo-vocabulary', version: 2 },
  shorthand: { file: path('shorthand.json'), format: 'wembo-shorthand' },
  learnt: { file: path('learnt-words.json'), format: 'wembo-learnt-words' },
  clocks: { file: path('clocks.json'), format: 'wembo-clocks' },
  spots: { file: path('spots.json'), format: 'wembo-spots' },
  settings: { file: path('settings.json'), format: 'wembo-settings' },
};

const versionOf = (savedKind: SavedKind): number => SAVED_FILES[savedKind].version ?? 1;

/** Where the file of a saved kind lies. */
export const savedFile = (savedKind: SavedKind): string => SAVED_FILES[savedKind].file;

const envelope = (savedKind: SavedKind) =>
  z.object({
    format: z.literal(SAVED_FILES[savedKind].format),
    version: z.number().int().min(1).max(versionOf(savedKind)),
    [savedKind]: z.array(z.unknown()).max(1_000_000),
  });

/** What a drive keeps of a saved kind. */
export interface SavedOnDrive<S extends SavedKind> {
  /** The file as it was read; `null` where there is none. */
  bytes: Uint8Array<ArrayBuffer> | null;
  items: SavedItems[S][];
  /** Items that could not be understood, as they stand. */
  broken: unknown[];
}

/** @throws ArchiveFileError where the file as a whole cannot be understood, or is from a later version */
export async function readSaved<S extends SavedKind>(drive: Drive, savedKind: S): Promise<SavedOnDrive<S>> {
  const bytes = await readIfThere(drive, savedFile(savedKind));
  const read: SavedOnDrive<S> = { bytes, items: [], broken: [] };
  if (!bytes) return read;
  const file = parseJson(
    savedFile(savedKind),
    new TextDecoder().decode(bytes),
    envelope(savedKind),
    versionOf(savedKind),
  ) as Record<string, unknown>;
  for (const one of file[savedKind] as unknown[]) {
    const item = ITEMS[savedKind].safeParse(one);
    if (item.success) read.items.push(item.data as SavedItems[S]);
    else read.broken.push(one);
  }
  return read;
}

/**
 * Brings the file of a saved kind to hold these items, and those that were not understood. Only where it is what was read:
 * rejects with `changed-meanwhile` where another has written it since.
 */
export async function writeSaved<S extends SavedKind>(
  drive: Drive,
  savedKind: S,
  items: readonly SavedItems[S][],
  { bytes, broken }: Pick<SavedOnDrive<S>, 'bytes' | 'broken'>,
): Promise<void> {
  const wanted = new TextEncoder().encode(keptText(savedKind, items, broken));
  if (bytes ? sameBytes(bytes, wanted) : items.length === 0) return;
  await replaceFile(drive, savedFile(savedKind), wanted, bytes);
}

/** Items of a saved kind as the text of its file; for drives, and for handing it to others. */
export const keptText = <S extends SavedKind>(
  savedKind: S,
  items: readonly SavedItems[S][],
  broken: readonly unknown[] = [],
): string =>
  json({
    format: SAVED_FILES[savedKind].format,
    version: versionOf(savedKind),
    [savedKind]: [...items.toSorted((a, b) => (a.id < b.id ? -1 : 1)), ...broken],
  });

/**
 * Reads such a text from outside; tombstones are left out. Throws `ArchiveFileError`, which names the file and what is
 * wrong.
 */
export function parseKept<S extends SavedKind>(savedKind: S, text: string, name: string): SavedItems[S][] {
  const whole = z.object({ ...envelope(savedKind).shape, [savedKind]: z.array(ITEMS[savedKind]).max(1_000_000) });
  return (
    (parseJson(name, text, whole, versionOf(savedKind)) as Record<string, unknown>)[savedKind] as SavedItems[S][]
  ).filter(({ deleted }) => !deleted);
}

/** What keeps an item from being read back; `null` where nothing does. */
export function problemOfSaved<S extends SavedKind>(savedKind: S, item: SavedItems[S]): SavedProblem | null {
  const [issue] = ITEMS[savedKind].safeParse(item).error?.issues ?? [];
  if (!issue) return null;
  let at: unknown = item;
  for (const step of issue.path) at = (at as Record<PropertyKey, unknown>)[step];
  const has = typeof at === 'string' || Array.isArray(at) ? at.length : 0;
  return {
    member: issue.path.join('.'),
    tooMany: issue.code === 'too_big' && has > 0 ? { has, most: Number(issue.maximum) } : null,
  };
}
