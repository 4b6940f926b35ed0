// Known folders are watched: files that appear in them are cataloged without anybody asking. Where the browser can
// observe a folder it does. That tells what this browser does and, on some systems, what other programs do; so the
// drives are also looked through when the person comes back to the window (measured: Chromium 156 on Linux told nothing
// of other programs).

import { isPhotoName } from '@/core/formats/containers/formats';
import type { CatalogDatabase } from '@/storage/catalog/database';
import { isDebris, isHiddenFolder, isLeftover } from '@/storage/drives/drive';

/**
 * The observer of the File System standard's editors' draft, in Chromium since 133; the type library does not know it
 * yet.
 */
interface FolderObserver {
  observe(handle: FileSystemDirectoryHandle, options: { recursive: boolean }): Promise<void>;
  disconnect(): void;
}

interface ObservedChange {
  changedHandle: FileSystemHandle | null;
  type: 'appeared' | 'disappeared' | 'modified' | 'moved' | 'unknown' | 'errored';
  relativePathComponents: string[];
}

type ObserverMaker = new (callback: (changes: ObservedChange[]) => void) => FolderObserver;

/** A copy that another program is still making comes to rest first. */
const REST_MS = 2500;
/** Coming back to the window looks through a drive again after this, or after so many times what the last look took. */
const FOCUS_EVERY_MS = 8000;
const FOCUS_EVERY_LOOKS = 20;

export interface WatchPorts {
  db: CatalogDatabase;
  /** Looks through a drive, as one in which something was noticed; resolves when it is done. */
  scanForChanges: (driveId: string) => Promise<unknown>;
}

export class FolderWatch {
  private readonly observed = new Map<string, { handle: FileSystemDirectoryHandle; observer: FolderObserver }>();
  private readonly noticed = new Map<string, Set<string>>();
  private readonly timers = new Map<string, ReturnType<typeof setTimeout>>();
  private readonly looks = new Map<string, { tookMs: number; endedAt: number }>();

  constructor(
    private readonly ports: WatchPorts,
    private readonly Observer = (globalThis as { FileSystemObserver?: ObserverMaker }).FileSystemObserver,
  ) {}

  /** Watches a drive's folder while it is connected. */
  async watch(driveId: string, handle: FileSystemDirectoryHandle): Promise<void> {
    const known = this.observed.get(driveId);
    if (!this.Observer || (known && (await known.handle.isSameEntry(handle)))) return;
    known?.observer.disconnect();
    const observer = new this.Observer((changes) => this.notice(driveId, changes));
    this.observed.set(driveId, { handle, observer });
    // a drive that cannot be observed is looked through like all others where there is no observer
    await observer.observe(handle, { recursive: true }).catch(() => this.observed.delete(driveId));
  }

  /** The person came back to the window. */
  async onFocus(driveIds: string[]): Promise<void> {
    for (const driveId of driveIds) {
      const last = this.looks.get(driveId) ?? {
        tookMs: 0,
        endedAt: (await this.ports.db.drives.get(driveId))?.scannedAt ?? Date.now(),
      };
      if (Date.now() - last.endedAt > Math.max(FOCUS_EVERY_MS, FOCUS_EVERY_LOOKS * last.tookMs))
        await this.look(driveId);
    }
  }

  private async look(driveId: string): Promise<void> {
    const began = Date.now();
    await this.ports.scanForChanges(driveId);
    this.looks.set(driveId, { tookMs: Date.now() - began, endedAt: Date.now() });
  }

  private notice(driveId: string, changes: ObservedChange[]): void {
    this.noticePaths(
      driveId,
      changes
        .filter(isOfInterest)
        .map(({ relativePathComponents: parts, changedHandle }) =>
          changedHandle?.kind === 'directory' ? `${parts.join('/')}/` : parts.join('/'),
        ),
    );
  }

  /** The host tells of folders, each with its `/`, and of files of all kinds. */
  noticeServed(driveId: string, paths: readonly string[]): void {
    this.noticePaths(
      driveId,
      paths.filter((path) => path.endsWith('/') || isPhotoName(path)),
    );
  }

  private noticePaths(driveId: string, paths: readonly string[]): void {
    if (paths.length === 0) return;
    const noticed = this.noticed.get(driveId) ?? new Set();
    this.noticed.set(driveId, noticed);
    for (const path of paths) noticed.add(path);
    const waiting = this.timers.get(driveId);
    if (waiting) clearTimeout(waiting);
    this.timers.set(
      driveId,
      setTimeout(() => void this.settle(driveId), REST_MS),
    );
  }

  /**
   * What was noticed and is not in the catalog when it has come to rest is new. Our own writing is in the catalog by
   * then, or its job still runs.
   */
  private async settle(driveId: string): Promise<void> {
    const { db } = this.ports;
    const busy = (await db.jobs.where('state').anyOf('running', 'paused').toArray()).some(
      (job) => job.driveId === driveId || job.targetDriveId === driveId,
    );
    const moving = (await db.outbox.where('driveId').equals(driveId).toArray()).some(
      ({ task }) => task.kind !== 'sidecar' && task.kind !== 'archive',
    );
    if (busy || moving) {
      this.timers.set(
        driveId,
        setTimeout(() => void this.settle(driveId), REST_MS),
      );
      return;
    }
    const paths = [...(this.noticed.get(driveId) ?? [])];
    this.noticed.delete(driveId);
    for (const path of paths) {
      if (path === '/') return this.look(driveId);
      // of a folder that appeared, what was put into it at the same time is not always told
      const known = path.endsWith('/')
        ? await db.files.where('id').startsWith(`${driveId}/${path}`).count()
        : await db.files.where('id').equals(`${driveId}/${path}`).count();
      if (known === 0) return this.look(driveId);
    }
  }
}

/**
 * A folder or a photo, not one of ours in the making, nor below a folder that is not looked into. Sidecars of other
 * programs come with a photo, or when a drive is looked through.
 */
function isOfInterest({ type, relativePathComponents: parts, changedHandle }: ObservedChange): boolean {
  const name = parts.at(-1) ?? '';
  if (type === 'disappeared' || name === '' || parts.slice(0, -1).some(isHiddenFolder)) return false;
  if (changedHandle?.kind === 'directory') return type === 'appeared' && !isHiddenFolder(name);
  return isPhotoName(name) && !isLeftover(name) && !isDebris(name);
}
