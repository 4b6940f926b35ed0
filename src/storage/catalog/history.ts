// The history of what was changed: the catalog's own acts from its journal, those of others from the drives; all of it
// on every drive, and for each photo at hand.

import {
  type HistoryEdit,
  type HistoryFinding,
  type HistoryLine,
  type HistoryMove,
  historyLines,
  photosOfLine,
} from '@/core/catalog/history';
import { addHistory, historyFiles, historyPath, readHistory } from '../archive/history-files';
import type { Drive } from '../drives/drive';
import { queueHistory } from './changes';
import type { CatalogDatabase } from './database';
import type { JournalRecord, PastRecord } from './records';
import type { MetDrive } from './saved';

/** Reads what other catalogs wrote on a drive since it was last read. */
export async function adoptHistory(db: CatalogDatabase, { id: driveId, drive, at }: MetDrive): Promise<void> {
  let isNews = false;
  for await (const { path, catalog, sizeBytes, modifiedMs } of historyFiles(drive)) {
    const id = `${driveId}/${path}`;
    const known = await db.historyFiles.get(id);
    if (catalog === db.catalogId || (known?.sizeBytes === sizeBytes && known.modifiedMs === modifiedMs)) continue;
    for await (const lines of readHistory(drive, path)) {
      await db.past.bulkPut(
        lines.map((line): PastRecord => ({
          id: `${catalog}/${line.seq}/${line.part ?? 0}`,
          catalog,
          seq: line.seq,
          at: line.at,
          photoIds: photosOfLine(line),
          line,
        })),
      );
    }
    await db.historyFiles.put({ id, driveId, sizeBytes, modifiedMs });
    isNews = true;
  }
  if (isNews) await queueHistory(db, at);
}

/** Lines put into files at once. */
const BATCH = 500;

/**
 * Brings the history on a drive up to date: this catalog's acts, and those of others that it knows from other drives.
 */
export async function writeHistory(db: CatalogDatabase, { id: driveId, drive }: MetDrive): Promise<void> {
  const through = { ...(await db.drives.get(driveId))?.historyThrough };
  const note = (catalog: string, seq: number) => {
    through[catalog] = seq;
    return db.drives.update(driveId, { historyThrough: { ...through } });
  };
  for (
    let acts = await ownAfter(db, through[db.catalogId] ?? 0);
    acts.length > 0;
    acts = await ownAfter(db, through[db.catalogId] ?? 0)
  ) {
    await addTo(
      drive,
      db.catalogId,
      acts.flatMap((act) => historyLines({ ...act, seq: act.seq ?? 0 })),
    );
    await note(db.catalogId, acts.at(-1)?.seq ?? 0);
  }
  for (const catalog of (await db.past.orderBy('catalog').uniqueKeys()).map(String)) {
    const past = await db.past
      .where('[catalog+seq]')
      .between([catalog, through[catalog] ?? 0], [catalog, Infinity], false)
      .toArray();
    if (past.length === 0) continue;
    await addTo(
      drive,
      catalog,
      past.map(({ line }) => line),
    );
    await note(catalog, Math.max(...past.map(({ seq }) => seq)));
  }
}

const ownAfter = (db: CatalogDatabase, seq: number): Promise<JournalRecord[]> =>
  db.journal.where('seq').above(seq).limit(BATCH).toArray();

async function addTo(drive: Drive, catalog: string, lines: readonly HistoryLine[]): Promise<void> {
  const files = new Map<string, HistoryLine[]>();
  for (const line of lines) {
    const path = historyPath(catalog, line);
    files.set(path, [...(files.get(path) ?? []), line]);
  }
  for (const [path, own] of files) await addHistory(drive, catalog, path, own);
}

/** What happened to one photo in one act. */
export interface PhotoEvent {
  id: string;
  at: number;
  from: HistoryLine['from'];
  act: HistoryLine['act'];
  how: 'undo' | 'redo' | null;
  /** Whether another catalog did it. */
  elsewhere: boolean;
  edits: HistoryEdit[];
  moves: HistoryMove[];
  found: HistoryFinding[];
  about: string;
}

/** The history of a photo, the latest first. */
export async function historyOf(db: CatalogDatabase, photoId: string): Promise<PhotoEvent[]> {
  const own = await db.journal.where('photoIds').equals(photoId).toArray();
  const past = await db.past.where('photoIds').equals(photoId).toArray();
  const lines = [
    ...own.flatMap((entry) =>
      historyLines({ ...entry, seq: entry.seq ?? 0 }).map((line) => ({ catalog: db.catalogId, line })),
    ),
    ...past.map(({ catalog, line }) => ({ catalog, line })),
  ];
  return lines
    .filter(({ line }) => photosOfLine(line).includes(photoId))
    .map(({ catalog, line }): PhotoEvent => ({
      id: `${catalog}/${line.seq}/${line.part ?? 0}`,
      at: line.at,
      from: line.from,
      act: line.act,
      how: line.of?.how ?? null,
      elsewhere: catalog !== db.catalogId,
      edits: (line.edits ?? []).filter(({ photo }) => photo === photoId),
      moves: (line.moves ?? []).filter(({ photo }) => photo === photoId),
      found: (line.found ?? []).filter(({ photo }) => photo === photoId),
      about: line.about ?? '',
    }))
    .sort((a, b) => b.at - a.at || (a.id < b.id ? 1 : -1));
}
