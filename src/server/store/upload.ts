// A file on its way into a store: sent at once where it is short, else in parts. Parts that an upload before this one
// left in the store, and that are the same bytes, are not sent again.

import { joinBytes } from '@/core/bytes/join';
import { nameIn } from '@/core/names/file-names';
import { DriveError, isLeftover, wholeOf } from '@/storage/drives/drive';
import { PART_BYTES, type SentPart, type Store, md5Of } from './store';

/** An upload that was broken off is gone on with for so long. */
const PENDING_MS = 7 * 24 * 60 * 60 * 1000;

export class StoreUpload {
  private readonly held: Uint8Array[] = [];
  private heldBytes = 0;
  private readonly parts: SentPart[] = [];
  private begun: { id: string; there: ReadonlyMap<number, SentPart> } | null = null;

  /**
   * @param key of the part; another where one that was begun before goes on
   * @param all what all keys of this drive begin with
   * @param pathOf the path a key stands for
   */
  constructor(
    private readonly store: Store,
    public key: string,
    private readonly all: string,
    private readonly pathOf: (key: string) => string | null,
  ) {}

  async push(piece: Uint8Array): Promise<void> {
    for (let at = 0; at < piece.length;) {
      const taken = piece.subarray(at, at + PART_BYTES - this.heldBytes);
      // a copy: the piece may be memory that is used again
      this.held.push(taken.slice());
      this.heldBytes += taken.length;
      at += taken.length;
      if (this.heldBytes === PART_BYTES) await this.sendPart();
    }
  }

  /** All of it is in the store, under the key of the part. */
  async end(): Promise<void> {
    if (!this.begun) return this.store.put(this.key, this.taken());
    if (this.heldBytes > 0) await this.sendPart();
    await this.store.complete(this.key, this.begun.id, this.parts);
  }

  private taken(): Uint8Array<ArrayBuffer> {
    const all = joinBytes(this.held);
    this.held.length = 0;
    this.heldBytes = 0;
    return all;
  }

  private async sendPart(): Promise<void> {
    this.begun ??= await this.begin();
    const bytes = this.taken();
    const number = this.parts.length + 1;
    const there = this.begun.there.get(number);
    const isThere = there?.sizeBytes === bytes.length && there.etag === md5Of(bytes);
    this.parts.push(isThere ? there : await this.store.putPart(this.key, this.begun.id, number, bytes));
  }

  /** What an earlier one left goes on; what is left of very early ones is taken away. */
  private async begin() {
    const wholeAt = (key: string): string => wholeOf(this.pathOf(key) ?? '');
    const wanted = wholeAt(this.key);
    const ours = (await this.store.pending(this.all)).filter(({ key }) => isLeftover(nameIn(this.pathOf(key) ?? '')));
    const old = ours.filter(({ begunMs }) => Date.now() - begunMs > PENDING_MS);
    for (const { key, id } of old) await this.store.abort(key, id).catch(() => undefined);
    const [last] = ours
      .filter((one) => !old.includes(one) && wholeAt(one.key) === wanted)
      .sort((a, b) => b.begunMs - a.begunMs);
    if (!last) return { id: await this.store.begin(this.key), there: new Map<number, SentPart>() };
    this.key = last.key;
    const parts = await this.store.partsOf(last);
    return { id: last.id, there: new Map(parts.map((part) => [part.number, part])) };
  }
}

/** Pieces that come from elsewhere, each given on when the one before it was taken. */
class Channel implements AsyncIterable<Uint8Array<ArrayBuffer>> {
  private offered: { piece: Uint8Array<ArrayBuffer> | null; taken: () => void } | null = null;
  private wake: () => void = () => undefined;
  private isAbandoned = false;

  /** @param piece `null`: there are no more */
  give(piece: Uint8Array<ArrayBuffer> | null): Promise<void> {
    return new Promise((taken) => {
      this.offered = { piece, taken };
      this.wake();
    });
  }

  /** Nobody gives any more. */
  abandon(): void {
    this.isAbandoned = true;
    this.wake();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array<ArrayBuffer>> {
    for (;;) {
      if (!this.offered) await new Promise<void>((resolve) => (this.wake = resolve));
      if (this.isAbandoned) throw new DriveError('changed-meanwhile', '');
      const { piece = null, taken } = this.offered ?? {};
      this.offered = null;
      taken?.();
      if (!piece) return;
      yield piece;
    }
  }
}

interface OpenUpload {
  channel: Channel;
  done: Promise<string>;
  sentBytes: number;
  usedAt: number;
}

/** Who sends no more is gone. */
const IDLE_MS = 60 * 60 * 1000;

/** Uploads whose pieces come from a page, by what it knows them by. */
export class StoreUploads {
  private readonly open = new Map<string, OpenUpload>();

  /** @param send answers with where the part lies */
  begin(name: string, send: (pieces: AsyncIterable<Uint8Array<ArrayBuffer>>) => Promise<string>): void {
    for (const [old, { usedAt, channel }] of this.open)
      if (Date.now() - usedAt > IDLE_MS) {
        this.open.delete(old);
        channel.abandon();
      }
    const channel = new Channel();
    const done = send(channel);
    done.catch(() => undefined); // it is told to who sends the next piece
    this.open.set(name, { channel, done, sentBytes: 0, usedAt: Date.now() });
  }

  /** @throws DriveError `changed-meanwhile` where it is not what was begun: the server was started anew since */
  async push(name: string, at: number, piece: Uint8Array<ArrayBuffer>): Promise<void> {
    const one = this.open.get(name);
    if (one?.sentBytes !== at) throw new DriveError('changed-meanwhile', name);
    one.sentBytes += piece.length;
    one.usedAt = Date.now();
    if (piece.length > 0) await Promise.race([one.channel.give(piece), one.done]);
  }

  async end(name: string, size: number): Promise<string> {
    const one = this.open.get(name);
    if (one?.sentBytes !== size) throw new DriveError('changed-meanwhile', name);
    this.open.delete(name);
    await Promise.race([one.channel.give(null), one.done]);
    return one.done;
  }
}
