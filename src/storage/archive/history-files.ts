// The history on a drive: files of lines, one for each thousand acts of each catalog, a folder a year:
// `_wembo/history/2026/CATALOG-000012.jsonl` holds the acts 12,000 to 12,999. Lines are added and never changed; a file
// is brought up to date as a whole, so that it is never half written.

import { z } from 'zod';
import { FILE_FINDINGS } from '@/core/catalog/change';
import type { HistoryLine } from '@/core/catalog/history';
import { isFieldKey } from '@/core/fields/registry';
import { ARCHIVE_FOLDER, type Drive, type DriveEntry } from '../drives/drive';
import { openIfThere, readIfThere, replaceFile } from '../drives/safe-write';
import { batchesOf } from './line-files';
import { fieldValue } from './schemas';

export const HISTORY_FOLDER = `${ARCHIVE_FOLDER}/history`;
export const ACTS_A_FILE = 1000;
const FORMAT = 'wembo-history';

const id = z.string().max(200);
const path = z.string().max(5000);

const historyLine = z.object({
  seq: z.number().int().min(1),
  part: z.number().int().min(1).optional(),
  at: z.number(),
  from: z.enum(['person', 'sidecar', 'file']),
  act: z.enum([
    'fields',
    'decided',
    'names',
    'kept',
    'words',
    'aside',
    'left-out',
    'round',
    'together',
    'gather',
    'drive-name',
    'found',
  ]),
  of: z.object({ seq: z.number().int(), how: z.enum(['undo', 'redo']) }).optional(),
  edits: z
    .array(
      z.object({
        photo: id,
        field: z.custom<HistoryEditField>((key) => typeof key === 'string' && isFieldKey(key)),
        before: fieldValue.optional(),
        after: fieldValue.optional(),
      }),
    )
    .optional(),
  moves: z.array(z.object({ photo: id, drive: id, before: path, after: path })).optional(),
  found: z.array(z.object({ photo: id, drive: id, path, what: z.enum(FILE_FINDINGS) })).optional(),
  photos: z.array(id).optional(),
  about: z.string().max(20_000).optional(),
});
type HistoryEditField = NonNullable<HistoryLine['edits']>[number]['field'];

const FILE = /(?:^|\/)(\d{4})\/(c[a-z0-9]{1,31})-(\d{6})\.jsonl$/;

export interface HistoryFile extends DriveEntry {
  catalog: string;
}

/** The files of history on a drive. */
export async function* historyFiles(drive: Drive): AsyncGenerator<HistoryFile> {
  for await (const entry of drive.list({ below: HISTORY_FOLDER })) {
    const [, , catalog] = FILE.exec(entry.path) ?? [];
    if (catalog) yield { ...entry, catalog };
  }
}

/** Where a line stands. The year is that of the clock then. */
export const historyPath = (catalog: string, { seq, at }: Pick<HistoryLine, 'seq' | 'at'>): string =>
  `${HISTORY_FOLDER}/${String(new Date(at).getUTCFullYear()).padStart(4, '0')}/${catalog}-${String(Math.floor(seq / ACTS_A_FILE)).padStart(6, '0')}.jsonl`;

function parseLine(text: string): HistoryLine | null {
  try {
    return historyLine.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}

/** The lines of a file; what is not understood is left out. */
export async function* readHistory(drive: Drive, path: string): AsyncGenerator<HistoryLine[]> {
  const file = await openIfThere(drive, path);
  if (file) yield* batchesOf(file, parseLine);
}

const keyOf = ({ seq, part = 0 }: Pick<HistoryLine, 'seq' | 'part'>): string => `${seq}/${part}`;

/** Adds lines to a file; those that are there stay as they are, even such as nobody understands. */
export async function addHistory(
  drive: Drive,
  catalog: string,
  path: string,
  lines: readonly HistoryLine[],
): Promise<void> {
  const before = await readIfThere(drive, path);
  const texts = before
    ? new TextDecoder()
        .decode(before)
        .split('\n')
        .filter((line) => line !== '')
    : [JSON.stringify({ format: FORMAT, version: 1, catalog })];
  const there = new Set(texts.flatMap((line) => parseLine(line) ?? []).map(keyOf));
  const added = lines.filter((line) => !there.has(keyOf(line))).map((line) => JSON.stringify(line));
  if (added.length === 0) return;
  const bytes = new TextEncoder().encode([...texts, ...added, ''].join('\n'));
  await replaceFile(drive, path, bytes, before);
}
