// The host's desk: takes what a page asks of folders, holds it against the guard and its schema, answers what is
// answered at once, and gives what waits for a disk to a thread. Errors are told by their problem and the path that was
// asked for, never by where anything lies.

import { randomBytes } from 'node:crypto';
import { setMaxListeners } from 'node:events';
import { Worker } from 'node:worker_threads';
import { z } from 'zod';
import { joinBytes } from '@/core/bytes/join';
import { ARCHIVE_FOLDER, DriveError, type LazyBytes, isInFolder } from '@/storage/drives/drive';
import { type SentFailure, failureOf } from '@/storage/drives/failure';
import { piecesOf, streamOf } from '@/storage/drives/stream-of';
import {
  ASK_BYTES_LIMIT,
  type AskedRange,
  HOST_ADDRESS,
  HOST_ORDERS,
  type HostAnswers,
  type HostKind,
  type HostLine,
  type HostPart,
  PIECE_BYTES,
  QUESTIONS_LIMIT,
  RANGE_HEAD_BYTES,
  askBody,
  bytesBody,
  partHead,
} from '@/storage/host/protocol';
import { KeptStores } from '../store/kept-stores';
import { StoreDesk, standIn } from '../store/store-desk';
import {
  type AnswerTools,
  type DiskKind,
  type ReadOrder,
  type Root,
  answer,
  isDiskKind,
  sameFile,
  servedDrive,
} from './answer';
import { type GuardSettings, type RefusedRequest, guardSettings, refusedBySite, refusedByToken } from './guard';
import { HostLocks } from './locks';
import { ServedFolders, foldersNamed } from './served-folders';
import { HostThreads } from './threads';
import { browse, homeFolder, makeFolderAt, volumeOf, volumes } from './volumes';
import { FolderWatcher } from './watching';

/** An address for what fetches without a header holds so long. */
const TICKET_MS = 4 * 60 * 60 * 1000;
const TICKETS_LIMIT = 1000;
const TOGETHER_BYTES = 256 * 1024;

type DeskKind = Exclude<HostKind, DiskKind>;
interface DeskTools<K extends HostKind> {
  onPart: (part: HostPart<K>) => void;
  signal: AbortSignal;
}
type Desk = { [K in DeskKind]: (order: ReadOrder<K>, tools: DeskTools<K>) => Promise<HostAnswers[K]> };

/** Where the work is done: in threads, or in tests right here. */
type Work = <K extends DiskKind>(
  kind: K,
  order: ReadOrder<K>,
  tools: Pick<AnswerTools<K>, 'onBytes' | 'onPart' | 'signal'>,
) => Promise<HostAnswers[K]>;

export class HostServer {
  private readonly running = new Map<string, AbortController>();
  private readonly tickets = new Map<string, { file: ReadOrder<'ticket'>['file']; until: number }>();
  private readonly work: Work;

  constructor(
    private readonly settings: GuardSettings,
    private readonly folders: ServedFolders,
    private readonly locks: HostLocks,
    threads: HostThreads | null,
    private readonly stores: StoreDesk,
  ) {
    this.work = threads
      ? (kind, order, tools) => threads.work(kind, order, { ...tools, roots: this.rootsOf(order) })
      : (kind, order, tools) => answer(kind, order, { ...tools, ...this.reached });
  }

  private get reached() {
    return {
      rootOf: (folder: string) => this.rootOf(folder),
      lockOf:
        (folder: string) =>
        <T>(act: () => Promise<T>) =>
          this.locks.alone(folder, act),
    };
  }

  private rootOf(folder: string): Root {
    return this.stores.stores.placeOf(folder) ?? this.folders.rootOf(folder);
  }

  /** Of all folders an order names; refused before any work where one of them is not served. */
  private rootsOf(order: unknown): [string, Root][] {
    const named = new Set<string>();
    const look = (value: unknown): void => {
      if (typeof value !== 'object' || value === null) return;
      for (const [key, inner] of Object.entries(value))
        if (key === 'folder' && typeof inner === 'string') named.add(inner);
        else if (key !== 'fields') look(inner);
    };
    look(order);
    return [...named].map((folder) => [folder, this.rootOf(folder)]);
  }

  private readonly desk: Desk = {
    folders: async () => [...this.folders.all(), ...this.stores.served()],
    browse: async ({ path }) => ({
      at: path === null ? null : browse(path),
      volumes: path === null ? volumes() : [],
      home: homeFolder(),
    }),
    makeFolderAt: async ({ path, name }) => ({ path: makeFolderAt(path, name) }),
    serve: async ({ path }) => this.folders.add(path),
    forget: async ({ folder }) => {
      this.folders.remove(folder);
      this.stores.stores.remove(folder);
      return null;
    },
    lookAtStore: ({ store }) => this.stores.lookAt(store),
    serveStore: (order) => this.stores.serve(order),
    storeFacts: async ({ folder }) => this.stores.facts(folder),
    storeKey: async ({ folder }) => ({ identity: this.stores.keyOf(folder) }),
    setShare: async ({ folder, dailyBytes }) => {
      this.stores.stores.setShare(folder, dailyBytes);
      return null;
    },
    standIn: async () => standIn(),
    volume: async ({ folder }) => volumeOf(this.folders.rootOf(folder)), // a store does not tell its room
    lock: async ({ folder, owner }) => {
      this.rootOf(folder);
      return { lease: await this.locks.take(folder, owner) };
    },
    unlock: async ({ folder, lease }) => {
      this.locks.give(folder, lease);
      return null;
    },
    ticket: async ({ file }) => {
      await sameFile(file, this.reached);
      const ticket = randomBytes(24).toString('base64url');
      for (const [old, { until }] of this.tickets)
        if (until < Date.now() || this.tickets.size >= TICKETS_LIMIT) this.tickets.delete(old);
      this.tickets.set(ticket, { file, until: Date.now() + TICKET_MS });
      return { address: `${HOST_ADDRESS.media}?ticket=${ticket}` };
    },
    watch: ({ folders }, { onPart, signal }) =>
      new Promise((resolve, reject) => {
        // one that is served no longer keeps the others from being listened to as little as one that is away
        const served = this.folders.all().filter(({ id }) => folders.includes(id));
        const watchers = served.map(
          ({ id, path }) => new FolderWatcher(path, (paths) => onPart({ folder: id, paths })),
        );
        signal.addEventListener('abort', () => {
          for (const watcher of watchers) watcher.stop();
          resolve(null);
        });
        Promise.all(watchers.map((watcher) => watcher.start())).catch(reject);
      }),
  };

  private refused(request: Request): Response | null {
    const refusal =
      refusedBySite(request.headers, request.method, this.settings) ?? refusedByToken(request.headers, this.settings);
    return refusal && refusalOf(refusal);
  }

  /** Questions; their answers line by line, each as it is done. */
  async ask(request: Request): Promise<Response> {
    const body = this.refused(request) ?? (await bodyOf(request, askBody, ASK_BYTES_LIMIT));
    if (body instanceof Response) return body;
    if ('cancel' in body) {
      this.running.get(body.cancel)?.abort();
      return Response.json({});
    }
    const left = new AbortController();
    setMaxListeners(QUESTIONS_LIMIT + 1, left.signal); // each question hears it
    request.signal.addEventListener('abort', () => left.abort());
    const encoder = new TextEncoder();
    const stream = new ReadableStream<Uint8Array>({
      start: async (controller) => {
        // what is said at about the same time goes together: each piece of a stream costs more than a line
        let unsaid = '';
        const send = () => {
          if (!left.signal.aborted && unsaid !== '') controller.enqueue(encoder.encode(unsaid));
          unsaid = '';
        };
        const say = (line: HostLine) => {
          if (unsaid === '') setImmediate(send);
          unsaid += `${JSON.stringify(line)}\n`;
        };
        await Promise.all(body.asks.map((asked) => this.answerOne(asked, left.signal, say)));
        send();
        if (!left.signal.aborted) controller.close();
      },
      cancel: () => left.abort(),
    });
    return new Response(stream, { headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' } });
  }

  private async answerOne(
    { id, kind, order }: { id: string; kind: string; order?: unknown },
    left: AbortSignal,
    say: (line: HostLine) => void,
  ): Promise<void> {
    const controller = new AbortController();
    const leave = () => controller.abort();
    left.addEventListener('abort', leave, { once: true });
    this.running.set(id, controller);
    try {
      if (!Object.hasOwn(HOST_ORDERS, kind)) throw new DriveError('failed', '');
      say({ id, answer: await this.answered(kind as HostKind, order, id, controller.signal, say) });
    } catch (error) {
      say({ id, failure: toldFailure(error) });
    } finally {
      this.running.delete(id);
      left.removeEventListener('abort', leave);
    }
  }

  private answered(
    kind: HostKind,
    order: unknown,
    id: string,
    signal: AbortSignal,
    say: (line: HostLine) => void,
  ): Promise<unknown> {
    const read = HOST_ORDERS[kind].parse(order) as never;
    const onPart = (part: unknown) => say({ id, part });
    if (!isDiskKind(kind)) return this.desk[kind](read, { onPart, signal } as never);
    this.useLease(read);
    if (kind === 'copy') this.stores.stores.holdShare((read as ReadOrder<'copy'>).target.folder);
    return this.work(kind, read, { onBytes: (bytes) => say({ id, bytes }), onPart, signal }).then((done) => {
      this.noteSent(kind, read, done);
      return done;
    });
  }

  /** What went to a store that takes only so much in a day. */
  private noteSent(kind: DiskKind, order: unknown, done: unknown): void {
    if (kind === 'copy') {
      const { file, target } = order as ReadOrder<'copy'>;
      if ((done as HostAnswers['copy']).outcome === 'copied') this.stores.stores.noteSent(target.folder, file.size);
    } else if (kind === 'takeIn') {
      const { file, targets } = order as ReadOrder<'takeIn'>;
      (done as HostAnswers['takeIn']).placed.forEach((placed, index) => {
        const folder = targets[index]?.folder;
        if (folder && placed.state === 'placed' && placed.outcome === 'copied')
          this.stores.stores.noteSent(folder, file.size);
      });
    }
  }

  private useLease(order: { folder?: string; lease?: string | null }): void {
    if (order.folder && order.lease) this.locks.use(order.folder, order.lease);
  }

  /** Ranges of bytes, one after the other, each with its head. */
  async bytes(request: Request): Promise<Response> {
    const body = this.refused(request) ?? (await bodyOf(request, bytesBody, ASK_BYTES_LIMIT));
    if (body instanceof Response) return body;
    const pieces = this.rangesOf(body.ranges);
    return new Response(streamOf(together(pieces)), {
      headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
    });
  }

  private async *rangesOf(ranges: readonly AskedRange[]): AsyncGenerator<Uint8Array<ArrayBuffer>> {
    for (const { start, end, ...file } of ranges) {
      let part: LazyBytes;
      try {
        part = (await sameFile(file, this.reached)).slice(start, end);
      } catch (error) {
        const failure = new TextEncoder().encode(JSON.stringify(toldFailure(error)));
        yield rangeHead(0, failure.length);
        yield failure;
        continue;
      }
      yield rangeHead(1, part.size);
      yield* piecesOf(part);
    }
  }

  /** A piece of a part; after the last one all of it is on the disk. */
  async part(request: Request): Promise<Response> {
    const refusal = this.refused(request);
    if (refusal) return refusal;
    const head = partHead.safeParse(
      Object.fromEntries(
        Object.keys(partHead.shape).map((key) => {
          const value = request.headers.get(`x-wembo-${key}`);
          return [key, value === null ? null : decodeOr(value)];
        }),
      ),
    );
    if (!head.success) return Response.json({ error: 'not understood' }, { status: 400 });
    const { folder, path, part, at, isLast, modifiedMs } = head.data;
    try {
      const bytes = await boundedBody(request, PIECE_BYTES);
      const drive = await servedDrive(folder, this.reached);
      const { stores } = this.stores;
      if (part === '' && !isInFolder(path, [ARCHIVE_FOLDER])) stores.holdShare(folder);
      const made = await drive.writePiece(path, part, at, bytes);
      stores.noteSent(folder, bytes.length);
      const like = modifiedMs === null ? undefined : { lastModified: modifiedMs };
      return Response.json({ part: isLast === '1' ? await drive.endPart(made, at + bytes.length, like) : made });
    } catch (error) {
      return Response.json({ failure: toldFailure(error) });
    }
  }

  /** A file by its ticket, in ranges: for a player. RFC 9110, section 14. */
  async media(request: Request): Promise<Response> {
    const refusal = refusedBySite(request.headers, request.method, this.settings);
    if (refusal) return refusalOf(refusal);
    const ticket = this.tickets.get(new URL(request.url).searchParams.get('ticket') ?? '');
    if (!ticket || ticket.until < Date.now()) return refusalOf({ status: 401, reason: 'no ticket for it' });
    try {
      const file = await sameFile(ticket.file, this.reached);
      const [, from, to] = /^bytes=(\d+)-(\d*)$/.exec(request.headers.get('range') ?? '') ?? [];
      const start = from === undefined ? 0 : Number(from);
      const end = to ? Math.min(file.size, Number(to) + 1) : file.size;
      if (start >= end)
        return new Response(null, { status: 416, headers: { 'content-range': `bytes */${file.size}` } });
      return new Response(streamOf(piecesOf(file.slice(start, end))), {
        status: from === undefined ? 200 : 206,
        headers: {
          'accept-ranges': 'bytes',
          'cache-control': 'no-store',
          'content-type': 'application/octet-stream',
          'content-length': String(end - start),
          ...(from !== undefined && { 'content-range': `bytes ${start}-${end - 1}/${file.size}` }),
        },
      });
    } catch {
      return new Response(null, { status: 404 });
    }
  }
}

const refusalOf = ({ status, reason }: RefusedRequest): Response => Response.json({ error: reason }, { status });

/** Only what the page acts on: nothing of this machine's inside. */
function toldFailure(error: unknown): SentFailure {
  const { drive, picture } = failureOf(error);
  const isCancelled = error instanceof Error && error.name === 'AbortError';
  return {
    name: isCancelled ? 'AbortError' : 'Error',
    message: isCancelled ? 'cancelled' : 'the host could not do it',
    ...(drive ? { drive } : !isCancelled && !picture && { drive: { problem: 'failed', path: '' } }),
    ...(picture && { picture }),
  };
}

async function bodyOf<T>(request: Request, schema: z.ZodType<T>, limit: number): Promise<T | Response> {
  try {
    const text = new TextDecoder().decode(await boundedBody(request, limit));
    return schema.parse(JSON.parse(text));
  } catch {
    return Response.json({ error: 'not understood' }, { status: 400 });
  }
}

async function boundedBody(request: Request, limit: number): Promise<Uint8Array<ArrayBuffer>> {
  const chunks: Uint8Array[] = [];
  let length = 0;
  const reader = request.body?.getReader();
  for (;;) {
    const next = await reader?.read();
    if (!next || next.done) break;
    length += next.value.length;
    if (length > limit) throw new Error('longer than is taken');
    chunks.push(next.value);
  }
  return joinBytes(chunks);
}

function decodeOr(value: string): string {
  try {
    return decodeURIComponent(value);
  } catch {
    return '\0'; // refused as a name
  }
}

/** @param isRead 1, or 0 where a failure follows */
function rangeHead(isRead: 0 | 1, length: number): Uint8Array<ArrayBuffer> {
  const head = new DataView(new ArrayBuffer(RANGE_HEAD_BYTES));
  head.setUint8(0, isRead);
  head.setBigUint64(1, BigInt(length), true);
  return new Uint8Array(head.buffer);
}

/** Short pieces as one: each piece of a stream costs as much as reading a head. */
async function* together(pieces: AsyncGenerator<Uint8Array<ArrayBuffer>>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let held: Uint8Array[] = [];
  let length = 0;
  for await (const piece of pieces) {
    held.push(piece);
    length += piece.length;
    if (length < TOGETHER_BYTES) continue;
    yield joinBytes(held);
    [held, length] = [[], 0];
  }
  if (length > 0) yield joinBytes(held);
}

/** Kept where all of the server's modules find it, since each route may have its own copy of this one. */
const shared = globalThis as { wemboHost?: HostServer };

export function hostServer(): HostServer {
  shared.wemboHost ??= (() => {
    const locks = new HostLocks();
    const start = () => new Worker(new URL('./host.worker.ts', import.meta.url));
    return new HostServer(
      guardSettings(),
      new ServedFolders(undefined, foldersNamed()),
      locks,
      new HostThreads(start, (folder, act) => locks.alone(folder, act)),
      new StoreDesk(new KeptStores()),
    );
  })();
  return shared.wemboHost;
}
