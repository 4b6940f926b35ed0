// One at a time of what gives, takes or changes names in a folder: pages of any browser by a lease, and the host's own
// work. A browser lets only one of its tabs ask at a time; so a lease of the same browser is one that was left behind.

import { randomUUID } from 'node:crypto';
import { DriveError } from '@/storage/drives/drive';

/** A lease that nobody used for so long is one whose browser is gone. Hidden tabs are woken once a minute. */
const LEASE_MS = 90_000;
/** Who waits is answered after so long, and asks again. */
const WAIT_MS = 2000;

interface Holder {
  lease: string;
  /** Of a browser; `null` for the host itself, which always comes to its end. */
  owner: string | null;
  usedAt: number;
}

export class HostLocks {
  private readonly held = new Map<string, Holder>();
  private readonly waiting = new Map<string, (() => void)[]>();

  constructor(
    private readonly now: () => number = Date.now,
    private readonly waitMs = WAIT_MS,
  ) {}

  /** The host's own work on a folder. */
  async alone<T>(folder: string, act: () => Promise<T>): Promise<T> {
    let lease: string | null = null;
    while (lease === null) lease = await this.take(folder, null);
    try {
      return await act();
    } finally {
      this.give(folder, lease);
    }
  }

  /** A lease, or `null` where somebody else has it still. */
  async take(folder: string, owner: string | null): Promise<string | null> {
    if (!this.isFree(folder, owner)) {
      await this.turn(folder);
      if (!this.isFree(folder, owner)) return null;
    }
    const lease = randomUUID();
    this.held.set(folder, { lease, owner, usedAt: this.now() });
    return lease;
  }

  private isFree(folder: string, owner: string | null): boolean {
    const holder = this.held.get(folder);
    if (!holder) return true;
    return holder.owner !== null && (holder.owner === owner || this.now() - holder.usedAt > LEASE_MS);
  }

  /** Until it may be free. */
  private turn(folder: string): Promise<void> {
    return new Promise((resolve) => {
      const queue = this.waiting.get(folder) ?? [];
      this.waiting.set(folder, queue);
      const timer = setTimeout(() => {
        queue.splice(queue.indexOf(woken), 1);
        resolve();
      }, this.waitMs);
      const woken = () => {
        clearTimeout(timer);
        resolve();
      };
      queue.push(woken);
    });
  }

  /** @throws DriveError `changed-meanwhile` where it ran out and somebody else has it */
  use(folder: string, lease: string): void {
    const holder = this.held.get(folder);
    if (holder?.lease !== lease) throw new DriveError('changed-meanwhile', '');
    holder.usedAt = this.now();
  }

  give(folder: string, lease: string): void {
    if (this.held.get(folder)?.lease !== lease) return;
    this.held.delete(folder);
    this.waiting.get(folder)?.shift()?.();
  }
}
