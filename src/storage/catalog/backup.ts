// A backup of the catalog: one file, gzip (RFC 1952) over JSON Lines. Its first line says what it is. Lines that are
// lists steer: `["table",name]` before the rows of a table, `["rows",n]` after them, `["end",n,sha256]` at the end, with
// the number of all rows and the SHA-256 of all bytes before that line, unpacked; so one that was cut short is known.
// Lines that are objects are rows. What can be made again (previews, the kept index) and what holds for this browser
// alone (handles, jobs, cards) is left out.

import Dexie from 'dexie';
import { z } from 'zod';
import type { RunningDigest } from '@/core/bytes/digest';
import { sameBytes } from '@/core/bytes/join';
import { fromBase64, toBase64 } from '../drives/base64';
import type { LazyBytes } from '../drives/drive';
import { blobOf } from '../drives/safe-write';
import { newSha256 } from '../drives/sha256';
import { streamOf } from '../drives/stream-of';
import { CatalogDatabase } from './database';
import { MIGRATIONS } from './migrations';

const BACKUP_VERSION = 1;
const DATABASE_VERSION = Math.max(...MIGRATIONS.map(({ version }) => version));
/** Rows read and written in one go. */
const ROWS = 2000;

/** What is not in it. Who the catalog is, too: taken up again it is another one, so that what both say is told apart. */
const LEFT_OUT: ReadonlySet<string> = new Set([
  'previews',
  'largePreviews',
  'undrawn',
  'unindexed',
  'jobs',
  'own',
  'journal',
  'historyFiles',
  'deliveryRuns',
  'deliveryItems',
  'sources',
  'mapFiles',
]);

const header = z.object({
  format: z.literal('wembo-catalog-backup'),
  version: z.number().int().min(1),
  /** Of the catalog's database. */
  database: z.number().int().min(1),
  catalog: z.string().max(64),
  /** Milliseconds since 1970, UTC. */
  at: z.number().finite(),
});
export type BackupHeader = z.infer<typeof header>;

const steering = z.union([
  z.tuple([z.literal('table'), z.string().max(64)]),
  z.tuple([z.literal('rows'), z.number().int().min(0)]),
  z.tuple([z.literal('end'), z.number().int().min(0), z.string().length(64)]),
]);
type Steering = z.infer<typeof steering>;

export interface BackupProgress {
  rows: number;
  of: number;
}

type Bytes = Uint8Array<ArrayBuffer>;
type OnProgress = (progress: BackupProgress) => void;

/** Its bytes, piece by piece; so many rows are held at a time. */
export async function* backupOf(
  db: CatalogDatabase,
  at: number,
  onProgress: OnProgress = () => undefined,
): AsyncGenerator<Bytes> {
  const unpacked = streamOf(linesOf(db, at, onProgress));
  const reader = unpacked.pipeThrough(new CompressionStream('gzip')).getReader();
  try {
    for (let next = await reader.read(); !next.done; next = await reader.read()) yield next.value as Bytes;
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}

async function* linesOf(db: CatalogDatabase, at: number, onProgress: OnProgress): AsyncGenerator<Bytes> {
  const encoder = new TextEncoder();
  const digest = await newSha256();
  const bytesOf = (lines: readonly string[]): Bytes => {
    const bytes = encoder.encode(lines.map((line) => `${line}\n`).join(''));
    digest.update(bytes);
    return bytes;
  };
  const steer = (line: Steering): Bytes => bytesOf([JSON.stringify(line)]);
  const tables = db.tables.filter(({ name }) => !LEFT_OUT.has(name)).sort((a, b) => (a.name < b.name ? -1 : 1));
  const counts = await Promise.all(tables.map((table) => table.count()));
  const done: BackupProgress = { rows: 0, of: counts.reduce((sum, count) => sum + count, 0) };
  const head: BackupHeader = {
    format: 'wembo-catalog-backup',
    version: BACKUP_VERSION,
    database: DATABASE_VERSION,
    catalog: db.catalogId,
    at,
  };
  yield bytesOf([JSON.stringify(head)]);
  for (const table of tables) {
    yield steer(['table', table.name]);
    let rows = 0;
    for await (const batch of batchesOf(table)) {
      yield bytesOf(await Promise.all(batch.map(rowText)));
      rows += batch.length;
      done.rows += batch.length;
      onProgress({ ...done });
    }
    yield steer(['rows', rows]);
  }
  const end: Steering = ['end', done.rows, digest.hex()];
  yield encoder.encode(`${JSON.stringify(end)}\n`);
}

/** In the order of its keys, so that what comes meanwhile is neither left out nor read twice. */
async function* batchesOf(table: Dexie.Table): AsyncGenerator<unknown[]> {
  for (let after: unknown = Dexie.minKey; ;) {
    const batch = table.where(':id').above(after).limit(ROWS);
    const [rows, keys] = await table.db.transaction('r', table, () =>
      Promise.all([batch.toArray(), batch.clone().primaryKeys()]),
    );
    if (rows.length === 0) return;
    yield rows;
    after = keys.at(-1);
  }
}

const TYPED = { Float64Array, Float32Array, Uint8Array, Uint16Array, Uint32Array, Int32Array, Int16Array, Int8Array };
type TypedName = keyof typeof TYPED;

/** Whether it is made of texts, numbers, lists and objects alone, as nearly all rows are: those are quick to write. */
function isPlain(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return true;
  if (Array.isArray(value)) return value.every(isPlain);
  if (Object.getPrototypeOf(value) !== Object.prototype || 'isSameEntry' in value) return false;
  for (const key in value) if (!isPlain((value as Record<string, unknown>)[key])) return false;
  return true;
}

/** A row as JSON; numbers of a typed array (least significant byte first) and files in base64; no handles. */
async function rowText(row: unknown): Promise<string> {
  if (isPlain(row)) return JSON.stringify(row);
  const files = new Map<Blob, string>();
  if (row instanceof Object)
    for (const value of Object.values(row) as unknown[])
      if (value instanceof Blob) files.set(value, toBase64(new Uint8Array(await value.arrayBuffer())));
  return JSON.stringify(row, (_, value: unknown) => {
    if (typeof value !== 'object' || value === null) return value;
    if (ArrayBuffer.isView(value))
      return {
        $numbers: value.constructor.name,
        base64: toBase64(new Uint8Array(value.buffer, value.byteOffset, value.byteLength)),
      };
    if (value instanceof Blob) return { $file: value.type, base64: files.get(value) ?? '' };
    return 'isSameEntry' in value ? null : value;
  });
}

const packed = z.union([
  z.object({ $numbers: z.enum(Object.keys(TYPED) as [TypedName, ...TypedName[]]), base64: z.string() }),
  z.object({ $file: z.string(), base64: z.string() }),
]);

function rowOf(text: string): unknown {
  if (!text.includes('"$')) return JSON.parse(text) as unknown;
  return JSON.parse(text, (_, value: unknown) => {
    const isPacked = value instanceof Object && ('$numbers' in value || '$file' in value);
    if (!isPacked) return value;
    const read = packed.parse(value);
    const bytes = fromBase64(read.base64);
    return '$file' in read ? new Blob([bytes], { type: read.$file }) : new TYPED[read.$numbers](bytes.buffer);
  });
}

/** `damaged`: cut short, too. */
export type BackupFault = 'not-a-backup' | 'newer' | 'damaged';

export class BackupError extends Error {
  constructor(readonly fault: BackupFault) {
    super(fault);
    this.name = 'BackupError';
  }
}

export interface ReadBackup extends BackupHeader {
  rows: number;
  /** Rows by table. */
  tables: Map<string, number>;
}

type Row = Record<string, unknown>;
type OnRows = (table: string, rows: Row[]) => Promise<void>;

/**
 * Reads a backup through and holds it against its last line.
 * @param onRows so many of one table at a time; none where only the whole is looked at
 */
async function readThrough(file: LazyBytes, onRows: OnRows | null, signal?: AbortSignal): Promise<ReadBackup> {
  const reading = new BackupReading(await newSha256());
  let held: { table: string; texts: string[] } = { table: '', texts: [] };
  const give = async () => {
    const { table, texts } = held;
    held = { table: '', texts: [] };
    if (onRows && texts.length > 0)
      await onRows(
        table,
        texts.map((text) => parsed(text, rowOf) as Row),
      );
  };
  for await (const lines of unpackedLines(file)) {
    signal?.throwIfAborted();
    for (const [table, texts] of reading.take(lines)) {
      if (table !== held.table || held.texts.length >= ROWS) await give();
      held.table = table;
      if (onRows) held.texts.push(...texts);
    }
  }
  const read = reading.ended();
  await give();
  return read;
}

/** What is in it, if it is whole; nothing is made of it. @throws BackupError */
export const readBackup = (file: LazyBytes, signal?: AbortSignal): Promise<ReadBackup> =>
  readThrough(file, null, signal);

function headOf(line: string): BackupHeader {
  const head = header.safeParse(parsed(line, (text) => JSON.parse(text) as unknown, 'not-a-backup')).data;
  if (!head) throw new BackupError('not-a-backup');
  if (head.version > BACKUP_VERSION || head.database > DATABASE_VERSION) throw new BackupError('newer');
  return head;
}

class BackupReading {
  private head: BackupHeader | null = null;
  private readonly tables = new Map<string, number>();
  private table: { name: string; rows: number } | null = null;
  private rows = 0;
  private isEnded = false;
  private readonly encoder = new TextEncoder();

  constructor(private readonly digest: RunningDigest) {}

  /** Rows of these lines, by table, as they are written. */
  take(lines: readonly string[]): [string, string[]][] {
    const batches: [string, string[]][] = [];
    for (const line of lines) {
      if (this.isEnded) throw new BackupError('damaged');
      if (!this.head) this.head = headOf(line);
      else if (line.startsWith('[')) this.steer(line);
      else if (!this.isEnded) {
        if (!this.table) throw new BackupError('damaged');
        if (batches.at(-1)?.[0] !== this.table.name) batches.push([this.table.name, []]);
        batches.at(-1)?.[1].push(line);
        this.table.rows += 1;
        this.rows += 1;
      }
      if (!this.isEnded) this.digest.update(this.encoder.encode(`${line}\n`));
    }
    return batches;
  }

  private steer(line: string): void {
    const said = steering.safeParse(parsed(line, (text) => JSON.parse(text) as unknown)).data;
    const isRight =
      (said?.[0] === 'table' && this.table === null && !LEFT_OUT.has(said[1]) && !this.tables.has(said[1])) ||
      (said?.[0] === 'rows' && this.table?.rows === said[1]) ||
      (said?.[0] === 'end' && this.table === null && said[1] === this.rows && said[2] === this.digest.hex());
    if (!said || !isRight) throw new BackupError('damaged');
    if (said[0] === 'table') this.table = { name: said[1], rows: 0 };
    else if (said[0] === 'end') this.isEnded = true;
    else {
      this.tables.set(this.table?.name ?? '', said[1]);
      this.table = null;
    }
  }

  ended(): ReadBackup {
    if (!this.head) throw new BackupError('not-a-backup');
    if (!this.isEnded) throw new BackupError('damaged');
    return { ...this.head, rows: this.rows, tables: this.tables };
  }
}

function parsed<T>(line: string, parse: (text: string) => T, fault: BackupFault = 'damaged'): T {
  try {
    return parse(line);
  } catch {
    throw new BackupError(fault);
  }
}

/** A longer line is none of ours: a track of a million points is not. */
const LINE_LIMIT = 64 * 1024 * 1024;

/** RFC 1952, 2.3.1. */
const GZIP = new Uint8Array([0x1f, 0x8b]);

/** Lines as they come; a stream that is no gzip, or ends too early, is told by its name. */
async function* unpackedLines(file: LazyBytes): AsyncGenerator<string[]> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  const isGzip = sameBytes(new Uint8Array(await file.slice(0, 2).arrayBuffer()), GZIP);
  if (!isGzip) throw new BackupError('not-a-backup');
  const reader = (await blobOf(file)).stream().pipeThrough(new DecompressionStream('gzip')).getReader();
  let rest = '';
  try {
    for (;;) {
      const { done, value } = await reader.read().catch(() => {
        throw new BackupError('damaged');
      });
      if (done) break;
      const lines = (rest + parsedText(decoder, value)).split('\n');
      rest = lines.pop() ?? '';
      if (rest.length > LINE_LIMIT) throw new BackupError('damaged');
      if (lines.length > 0) yield lines;
    }
    if (rest !== '') throw new BackupError('damaged');
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}

function parsedText(decoder: TextDecoder, bytes: Uint8Array): string {
  try {
    return decoder.decode(bytes, { stream: true });
  } catch {
    throw new BackupError('damaged');
  }
}

/** Before the number in the name of the database of a catalog that was restored: when that was. */
const RESTORED = 'wembo-restored-';
export const isRestoredName = (name: string): boolean => /^wembo-restored-\d{10,16}$/.test(name);

export interface RestoredCatalog {
  name: string;
  /** When, in milliseconds since 1970, UTC. */
  at: number;
}

/** Catalogs of this browser that were made of backups, the latest first. */
export async function restoredCatalogs(): Promise<RestoredCatalog[]> {
  const names = (await Dexie.getDatabaseNames()).filter(isRestoredName);
  return names.map((name) => ({ name, at: Number(name.slice(RESTORED.length)) })).sort((a, b) => b.at - a.at);
}

export const newRestoredName = (at: number): string => `${RESTORED}${at}`;

/**
 * Makes a catalog of a backup, under a name that no catalog has; it is read through first. One of an earlier version is
 * filled as it was, and brought to this one as any other. Of what breaks off nothing stays. @throws BackupError
 */
export async function restoreBackup(
  file: LazyBytes,
  name: string,
  onProgress: OnProgress = () => undefined,
  signal?: AbortSignal,
): Promise<ReadBackup> {
  const backup = await readBackup(file, signal);
  if (await Dexie.exists(name)) throw new Error(`there is a catalog ${name} already`);
  // what breaks off is deleted: the browser need not wait for the disk after each batch
  const filled = new Dexie(name, { chromeTransactionDurability: 'relaxed' });
  for (const { version, stores } of MIGRATIONS) if (version <= backup.database) filled.version(version).stores(stores);
  try {
    await filled.open();
    const known = new Set(filled.tables.map((table) => table.name));
    let rows = 0;
    await readThrough(
      file,
      async (table, batch) => {
        if (!known.has(table)) throw new BackupError('damaged');
        await filled.table(table).bulkPut(batch);
        rows += batch.length;
        onProgress({ rows, of: backup.rows });
      },
      signal,
    );
    filled.close();
    const catalog = new CatalogDatabase(name);
    await catalog.open();
    catalog.close();
    return backup;
  } catch (error) {
    filled.close();
    await Dexie.delete(name);
    throw error;
  }
}
