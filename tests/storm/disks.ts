// Disks in memory, the places they can be plugged in at, and the drive a program sees at a place: the disk that is
// there at that moment. Every step a program takes on a drive goes through its process, which may end at any of them.

import { createHash } from 'node:crypto';
import { type Drive, type DriveEntry, DriveError, type ListOptions } from '@/storage/drives/drive';
import { MemoryDrive, type NameTraits } from '@/storage/drives/memory-drive';

export interface Disk {
  name: string;
  drive: MemoryDrive;
}

export const newDisk = (name: string, traits: NameTraits): Disk => ({ name, drive: new MemoryDrive(traits) });

const digests = new WeakMap<Uint8Array, string>();

export function sha256Of(bytes: Uint8Array): string {
  const known = digests.get(bytes) ?? createHash('sha256').update(bytes).digest('hex');
  digests.set(bytes, known);
  return known;
}

/** What a program is while it runs: it ends at the step it was given, and never does anything after. */
export class Process {
  steps = 0;
  private ended = false;
  private tellEnd: () => void = () => {};
  readonly end = new Promise<void>((resolve) => (this.tellEnd = resolve));
  readonly locks = new Map<string, Promise<unknown>>();

  private endsAt: number | null = null;

  /** From here on it ends after so many steps. */
  arm(steps: number | null): void {
    this.endsAt = steps === null ? null : this.steps + steps;
  }

  get isAlive(): boolean {
    return !this.ended;
  }

  kill(): void {
    this.ended = true;
    this.tellEnd();
  }

  /** Whether the process is still there to take this step. */
  takes(): boolean {
    if (this.ended) return false;
    this.steps += 1;
    if (this.steps === this.endsAt) this.kill();
    return !this.ended;
  }

  /** Resolves when the step may be taken; never, where the process has ended. */
  step(): Promise<void> {
    return this.takes() ? Promise.resolve() : new Promise(() => {});
  }
}

/** Where disks are plugged in. A place below another one is a folder of the disk that is there. */
export class Places {
  private readonly plugged = new Map<string, Disk>();
  /** Hears of every step on a drive, before it is taken: here cables are pulled in the middle of work. */
  onStep: () => void = () => {};
  /** Where names are given right now, under a mark just read: nobody swaps a disk between two steps of that. */
  readonly held = new Map<string, number>();

  hold(place: string, by: number): void {
    this.held.set(place, (this.held.get(place) ?? 0) + by);
  }

  plug(place: string, disk: Disk | null): void {
    if (disk) this.plugged.set(place, disk);
    else this.plugged.delete(place);
  }

  at(place: string): { disk: Disk; below: string } | null {
    const [root = '', ...folders] = place.split('/');
    const disk = this.plugged.get(root);
    return disk ? { disk, below: folders.map((folder) => `${folder}/`).join('') } : null;
  }

  get all(): [place: string, disk: Disk][] {
    return [...this.plugged];
  }
}

/** The drive at a place, as one process sees it. */
export class PlaceDrive implements Drive {
  constructor(
    private readonly process: Process,
    private readonly places: Places,
    readonly place: string,
  ) {}

  private async there(path: string, underMark = false): Promise<{ drive: MemoryDrive; full: string }> {
    if (!underMark) this.places.onStep();
    await this.process.step();
    const at = this.places.at(this.place);
    if (!at) throw new DriveError('not-found', path);
    return { drive: at.disk.drive, full: at.below + path };
  }

  async *list(options: ListOptions = {}): AsyncGenerator<DriveEntry> {
    const { drive, full } = await this.there('');
    const below = full + (options.below ?? '');
    const { onArchive, onFolder, onLeftover, onUnlisted } = options;
    const own = (path: string) => path.slice(full.length);
    const inner: ListOptions = {
      ...options,
      below: below.replace(/\/$/, ''),
      ...(onArchive && { onArchive: (path: string) => onArchive(own(path)) }),
      ...(onFolder && { onFolder: (path: string) => onFolder(own(path)) }),
      ...(onLeftover && { onLeftover: (path: string) => onLeftover(own(path)) }),
      ...(onUnlisted && { onUnlisted: (path: string, error: DriveError) => onUnlisted(own(path), error) }),
    };
    for await (const entry of drive.list(inner)) {
      yield { ...entry, path: own(entry.path) };
      // the disk may be another one by now
      if ((await this.there('')).drive !== drive) throw new DriveError('not-found', '');
    }
  }

  async open(path: string): Promise<File> {
    const { drive, full } = await this.there(path);
    return drive.open(full);
  }

  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>) {
    // begun under a mark that was read in the step before: nobody swaps a disk between the two
    const { drive, full } = await this.there(path, true);
    const part = await drive.createPart(full, pieces);
    return {
      path: part.path.slice(full.length - path.length),
      open: async () => {
        await this.there(path);
        return part.open();
      },
      finish: async (to: string, over: 'free' | 'old') => {
        const now = await this.there(to);
        if (now.drive !== drive) throw new DriveError('not-found', to);
        await part.finish(now.full, over);
      },
      remove: async () => {
        await this.there(path);
        return part.remove();
      },
    };
  }

  async remove(path: string): Promise<void> {
    const { drive, full } = await this.there(path);
    return drive.remove(full);
  }

  async move(from: string, to: string): Promise<void> {
    const { drive, full } = await this.there(from);
    return drive.move(full, full.slice(0, full.length - from.length) + to);
  }

  async makeFolder(): Promise<void> {
    await this.there('');
  }

  alone<T>(act: () => Promise<T>): Promise<T> {
    const { locks } = this.process;
    const held = async () => {
      this.places.hold(this.place, 1);
      try {
        return await act();
      } finally {
        this.places.hold(this.place, -1);
      }
    };
    const mine = (locks.get(this.place) ?? Promise.resolve()).catch(() => undefined).then(held);
    locks.set(this.place, mine);
    return mine;
  }

  async confirm(): Promise<void> {
    // a place has no mark by itself: `MarkedDrive` reads it
  }
}
