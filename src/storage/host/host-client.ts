// Asking the host. What is asked at the same time goes in one request, since a request costs more than most answers
// (measured: 8 ms of both sides); the answers come line by line as they are done. A browser has six connections to one
// address, for all its tabs together: questions that take long have three of them, short ones two, bytes two, what waits
// until nobody else gives names on a drive one, and what changes is listened to on one. What is more than six waits, and
// all but that one come to an end. Whoever gives names asks short questions meanwhile: those must never wait for a
// connection that is held by what waits for him.

import { DriveError } from '../drives/drive';
import { type SentFailure, errorOf } from '../drives/failure';
import {
  type AskedRange,
  HOST_ADDRESS,
  type HostAnswers,
  type HostKind,
  type HostLine,
  type HostOrder,
  type HostPart,
  type Lane,
  type PartHead,
  QUESTIONS_LIMIT,
  RANGES_LIMIT,
  RANGE_HEAD_BYTES,
  TOKEN_HEADER,
  laneOf,
} from './protocol';

const CONNECTIONS = { long: 3, short: 2, waits: 1, watch: 1, bytes: 2 };
/** Bytes asked for in one request, unless a single range is longer. */
const BATCH_BYTES = 4 * 1024 * 1024;

/** How the host is reached; it can be handed to a worker. */
export interface HostAccess {
  origin: string;
  token: string;
  /** Of this browser, the same in all its tabs and workers. */
  owner: string;
}

type Fetch = (request: Request) => Promise<Response>;

export interface AskOptions<K extends HostKind> {
  signal?: AbortSignal | undefined;
  onBytes?: ((bytes: number) => void) | undefined;
  onPart?: (part: HostPart<K>) => void;
}

interface Asked {
  id: string;
  kind: HostKind;
  order: unknown;
  onBytes: ((bytes: number) => void) | undefined;
  onPart: ((part: never) => void) | undefined;
  settle: (outcome: { answer: unknown } | { error: unknown }) => void;
}

interface AskedBytes {
  range: AskedRange;
  resolve: (bytes: Uint8Array<ArrayBuffer>) => void;
  reject: (error: unknown) => void;
}

export class HostClient {
  private readonly waiting: Record<Lane, Asked[]> = { long: [], short: [], waits: [], watch: [] };
  private waitingBytes: AskedBytes[] = [];
  private readonly open = { long: 0, short: 0, waits: 0, watch: 0, bytes: 0 };
  private readonly prefix = crypto.randomUUID().slice(0, 8);
  private asked = 0;
  private readonly isSoon = new Set<() => void>();
  private readonly senders = {
    long: () => this.send('long'),
    short: () => this.send('short'),
    waits: () => this.send('waits'),
    watch: () => this.send('watch'),
    bytes: () => this.sendBytes(),
  };

  constructor(
    readonly access: HostAccess,
    private readonly fetch: Fetch = (request) => globalThis.fetch(request),
  ) {}

  /**
   * Rejects with the host's `DriveError`; with `host-gone` where it cannot be reached, and `host-closed` where it does not
   * know this page. One that is cancelled rejects when the host has stopped.
   */
  ask<K extends HostKind>(kind: K, order: HostOrder<K>, options: AskOptions<K> = {}): Promise<HostAnswers[K]> {
    const { signal, onBytes, onPart } = options;
    return new Promise((resolve, reject) => {
      if (signal?.aborted) return reject(signal.reason as Error);
      const id = `${this.prefix}-${(this.asked += 1)}`;
      const cancel = () => void this.cancel(id);
      signal?.addEventListener('abort', cancel, { once: true });
      const settle: Asked['settle'] = (outcome) => {
        signal?.removeEventListener('abort', cancel);
        if ('answer' in outcome) resolve(outcome.answer as HostAnswers[K]);
        else reject((signal?.aborted ? signal.reason : outcome.error) as Error);
      };
      const lane = laneOf(kind);
      this.waiting[lane].push({ id, kind, order, onBytes, onPart, settle });
      this.soon(this.senders[lane]);
    });
  }

  /** What is asked in the same turn goes together: what follows from the answers that came together, above all. */
  private soon(send: () => void): void {
    if (this.isSoon.has(send)) return;
    this.isSoon.add(send);
    nextTurn(() => {
      this.isSoon.delete(send);
      send();
    });
  }

  private send(lane: Lane): void {
    const free = CONNECTIONS[lane] - this.open[lane];
    const waiting = this.waiting[lane];
    if (free <= 0 || waiting.length === 0) return;
    const batch = waiting.splice(0, lane === 'long' ? Math.ceil(waiting.length / free) : QUESTIONS_LIMIT);
    this.open[lane] += 1;
    void this.carry(batch).finally(() => {
      this.open[lane] -= 1;
      this.send(lane);
    });
    this.send(lane);
  }

  private async carry(batch: Asked[]): Promise<void> {
    const open = new Map(batch.map((asked) => [asked.id, asked]));
    const finish = (id: string, outcome: Parameters<Asked['settle']>[0]) => {
      const asked = open.get(id);
      open.delete(id);
      asked?.settle(outcome);
    };
    try {
      const response = await this.post(HOST_ADDRESS.ask, {
        body: JSON.stringify({ asks: batch.map(({ id, kind, order }) => ({ id, kind, order })) }),
      });
      for await (const line of linesOf(response)) {
        const asked = open.get(line.id);
        if ('bytes' in line) asked?.onBytes?.(line.bytes);
        else if ('part' in line) asked?.onPart?.(line.part as never);
        else if ('answer' in line) finish(line.id, { answer: line.answer });
        else finish(line.id, { error: errorOf(line.failure) });
      }
      for (const id of [...open.keys()]) finish(id, { error: new DriveError('host-gone', '') });
    } catch (error) {
      for (const id of [...open.keys()]) finish(id, { error: asGone(error) });
    }
  }

  /** Asked for by its own name: the connections may all be taken by what is to be cancelled. */
  private async cancel(id: string): Promise<void> {
    const lane = Object.values(this.waiting).find((asked) => asked.some((one) => one.id === id));
    const [unsent] =
      lane?.splice(
        lane.findIndex((one) => one.id === id),
        1,
      ) ?? [];
    if (unsent) return unsent.settle({ error: new DOMException('cancelled', 'AbortError') });
    await this.post(HOST_ADDRESS.ask, { body: JSON.stringify({ cancel: id }) }).catch(() => undefined);
  }

  /** The bytes of a file from `start` to before `end`. */
  bytes(range: AskedRange): Promise<Uint8Array<ArrayBuffer>> {
    return new Promise((resolve, reject) => {
      this.waitingBytes.push({ range, resolve, reject });
      this.soon(this.senders.bytes);
    });
  }

  private sendBytes(): void {
    if (this.open.bytes >= CONNECTIONS.bytes || this.waitingBytes.length === 0) return;
    let total = 0;
    const count = this.waitingBytes.findIndex(({ range }, index) => {
      total += range.end - range.start;
      return index >= RANGES_LIMIT || (index > 0 && total > BATCH_BYTES);
    });
    const batch = this.waitingBytes.splice(0, count < 0 ? this.waitingBytes.length : count);
    this.open.bytes += 1;
    void this.fetchBytes(batch).finally(() => {
      this.open.bytes -= 1;
      this.sendBytes();
    });
    this.sendBytes();
  }

  private async fetchBytes(batch: readonly AskedBytes[]): Promise<void> {
    let at = 0;
    try {
      const response = await this.post(HOST_ADDRESS.bytes, {
        body: JSON.stringify({ ranges: batch.map(({ range }) => range) }),
      });
      const reader = new StreamReader(response.body);
      for (; at < batch.length; at++) {
        const head = new DataView((await reader.take(RANGE_HEAD_BYTES)).buffer);
        const bytes = await reader.take(Number(head.getBigUint64(1, true)));
        const asked = batch[at];
        if (head.getUint8(0) === 1) asked?.resolve(bytes);
        else asked?.reject(errorOf(JSON.parse(new TextDecoder().decode(bytes)) as SentFailure));
      }
    } catch (error) {
      for (const { reject } of batch.slice(at)) reject(asGone(error));
    }
  }

  /** The same as the browser's own bytes, which it keeps on its disk where they are many. */
  async blob(range: AskedRange): Promise<Blob> {
    const response = await this.post(HOST_ADDRESS.bytes, { body: JSON.stringify({ ranges: [range] }) });
    const whole = await response.blob().catch((error: unknown) => {
      throw asGone(error);
    });
    const head = new DataView(await whole.slice(0, RANGE_HEAD_BYTES).arrayBuffer());
    const blob = whole.slice(RANGE_HEAD_BYTES);
    if (head.getUint8(0) !== 1) throw errorOf(JSON.parse(await blob.text()) as SentFailure);
    if (blob.size !== Number(head.getBigUint64(1, true))) throw new DriveError('failed', range.path);
    return blob;
  }

  /** Where the part lies. */
  async sendPiece(head: PartHead, bytes: Uint8Array<ArrayBuffer>): Promise<string> {
    const headers = Object.entries(head)
      .filter(([, value]) => value !== null)
      .map(([key, value]) => [`x-wembo-${key}`, encodeURIComponent(String(value))] as [string, string]);
    const response = await this.post(HOST_ADDRESS.part, { body: bytes, headers });
    const answer = (await response.json()) as { part: string } | { failure: SentFailure };
    if ('failure' in answer) throw errorOf(answer.failure);
    return answer.part;
  }

  private async post(
    address: string,
    { body, headers = [] }: { body: BodyInit; headers?: [string, string][] },
  ): Promise<Response> {
    const { origin, token } = this.access;
    const request = new Request(origin + address, {
      method: 'POST',
      body,
      headers: [[TOKEN_HEADER, token], ...headers],
      cache: 'no-store',
    });
    const response = await this.fetch(request).catch((error: unknown) => {
      throw asGone(error);
    });
    if (response.ok) return response;
    throw new DriveError(response.status === 401 ? 'host-closed' : 'host-gone', '');
  }
}

/** What breaks off an answer is the end of the server, or of the way to it. */
const asGone = (error: unknown): DriveError =>
  error instanceof DriveError ? error : new DriveError('host-gone', '', { cause: error });

/** After all that follows from what is at hand; a timer would wait for milliseconds. */
const nextTurn: (act: () => void) => void =
  typeof setImmediate === 'function' ? setImmediate : byMessage(new MessageChannel());

function byMessage({ port1, port2 }: MessageChannel): (act: () => void) => void {
  const acts: (() => void)[] = [];
  port1.onmessage = () => acts.shift()?.();
  return (act) => {
    acts.push(act);
    port2.postMessage(null);
  };
}

async function* linesOf(response: Response): AsyncGenerator<HostLine> {
  const decoder = new TextDecoder();
  let rest = '';
  for await (const chunk of chunksOf(response.body)) {
    const lines = (rest + decoder.decode(chunk, { stream: true })).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) yield JSON.parse(line) as HostLine;
  }
}

async function* chunksOf(
  body: ReadableStream<Uint8Array<ArrayBuffer>> | null,
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const reader = body?.getReader();
  for (;;) {
    const next = await reader?.read();
    if (!next || next.done) return;
    yield next.value;
  }
}

/** A stream from which so many bytes are taken at a time. */
class StreamReader {
  private held: Uint8Array<ArrayBuffer> = new Uint8Array();
  private readonly chunks: AsyncGenerator<Uint8Array<ArrayBuffer>>;

  constructor(body: ReadableStream<Uint8Array<ArrayBuffer>> | null) {
    this.chunks = chunksOf(body);
  }

  /** Rejects where the stream ends before. */
  async take(length: number): Promise<Uint8Array<ArrayBuffer>> {
    const taken = new Uint8Array(length);
    for (let at = 0; at < length;) {
      if (this.held.length === 0) {
        const next = await this.chunks.next();
        if (next.done) throw new Error(`the answer ends ${length - at} bytes too early`);
        this.held = next.value;
      }
      const part = this.held.subarray(0, length - at);
      taken.set(part, at);
      at += part.length;
      this.held = this.held.subarray(part.length);
    }
    return taken;
  }
}
