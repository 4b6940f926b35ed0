// Which stores the server reaches: set up by the person, kept with what opens them in a file that only the person's own
// account reads. It lies beside the list of folders, and never on a drive.

import fs from 'node:fs';
import { z } from 'zod';
import { DriveError } from '@/storage/drives/drive';
import { statePlace, writeStateFile } from '../state-files';
import { type StorePlace, storeId, storePlace } from './place';

const FORMAT = 'wembo-stores';
const STORES_LIMIT = 100;

const keptStore = storePlace.extend({
  /** Whether a passphrase gets its key back from the store itself. */
  hasPassphrase: z.boolean(),
  /** Bytes sent in a day, at most; `null` for all there are. */
  dailyBytes: z.number().int().positive().nullable(),
  /** ISO date of this machine's day, and what was sent on it. */
  sentOn: z.string(),
  sentBytes: z.number().int().nonnegative(),
});
export type KeptStore = z.infer<typeof keptStore>;

const storesFile = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  stores: z.array(z.unknown()).max(STORES_LIMIT),
});

const dayOf = (now: Date): string => {
  const two = (number: number) => String(number).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
};

export class KeptStores {
  private stores: Map<string, KeptStore> | null = null;
  /** Entries that cannot be read here. They may hold a key that nobody can make again: they are written back as they are. */
  private unread: unknown[] = [];

  constructor(
    private readonly place: string = statePlace('stores.json'),
    private readonly now: () => Date = () => new Date(),
  ) {}

  private get known(): Map<string, KeptStore> {
    this.stores ??= new Map(this.read().map((store) => [storeId(store), store]));
    return this.stores;
  }

  /** A store that cannot be read costs itself alone. */
  private read(): KeptStore[] {
    let text: string;
    try {
      text = fs.readFileSync(this.place, 'utf8');
    } catch {
      return []; // none yet
    }
    try {
      const kept: KeptStore[] = [];
      for (const store of storesFile.parse(JSON.parse(text)).stores) {
        const read = keptStore.safeParse(store);
        if (read.success) kept.push(read.data);
        else this.unread.push(store);
      }
      return kept;
    } catch {
      // keys are in it that nobody can make again: it is kept aside
      fs.renameSync(this.place, `${this.place}.unreadable-${Date.now()}`);
      return [];
    }
  }

  private write(): void {
    writeStateFile(this.place, { format: FORMAT, version: 1, stores: [...this.known.values(), ...this.unread] });
  }

  all(): [id: string, store: KeptStore][] {
    return [...this.known];
  }

  placeOf(id: string): KeptStore | null {
    return this.known.get(id) ?? null;
  }

  /** From now on this store is reached, or by another key. */
  add(place: StorePlace, hasPassphrase: boolean): string {
    const id = storeId(place);
    const before = this.known.get(id);
    if (!before && this.known.size + this.unread.length >= STORES_LIMIT) throw new DriveError('full', '');
    this.known.set(id, { dailyBytes: null, sentOn: '', sentBytes: 0, ...before, ...place, hasPassphrase });
    this.write();
    return id;
  }

  remove(id: string): void {
    if (this.known.delete(id)) this.write();
  }

  setShare(id: string, dailyBytes: number | null): void {
    this.change(id, { dailyBytes });
  }

  private change(id: string, change: Partial<KeptStore>): void {
    const store = this.known.get(id);
    if (!store) throw new DriveError('no-permission', '');
    this.known.set(id, { ...store, ...change });
    this.write();
  }

  /** Sent on this day. */
  sentToday(id: string): number {
    const store = this.known.get(id);
    return store?.sentOn === dayOf(this.now()) ? store.sentBytes : 0;
  }

  /**
   * Asked before a file is sent. What was begun is sent to its end, so that the files at work may go beyond the share.
   * @throws DriveError `share-sent`
   */
  holdShare(id: string): void {
    const limit = this.known.get(id)?.dailyBytes ?? null;
    if (limit !== null && this.sentToday(id) >= limit) throw new DriveError('share-sent', '');
  }

  /** Told of what has a share alone: it is written down each time. */
  noteSent(id: string, bytes: number): void {
    const store = this.known.get(id);
    if (store && store.dailyBytes !== null)
      this.change(id, { sentOn: dayOf(this.now()), sentBytes: this.sentToday(id) + bytes });
  }
}
