// What the host tells of changes in the folders it serves. One tab listens, since the listening holds one of the six
// connections a browser has for all its tabs; when it is closed the next one does.

import type { HostClient } from '@/storage/host/host-client';

export interface HostWatchPorts {
  host: () => HostClient | null;
  /** Works while no other tab does, and until it is done. */
  alone: (work: () => Promise<void>) => void;
  /** Paths that changed; a folder with its `/`. */
  onChange: (driveId: string, paths: readonly string[]) => void;
}

/** The host was ended, or the machine slept. */
const AGAIN_MS = 15_000;

export class HostWatch {
  private readonly drives = new Map<string, string>();
  private listening: AbortController | null = null;
  private isWaiting = false;

  constructor(private readonly ports: HostWatchPorts) {}

  /** Listens to what happens in the folder of a drive, too. */
  add(driveId: string, folder: string): void {
    if (this.drives.get(folder) === driveId) return;
    this.drives.set(folder, driveId);
    if (this.listening) return this.listening.abort(); // it listens anew, to all of them
    if (this.isWaiting) return;
    this.isWaiting = true;
    this.ports.alone(() => this.lead());
  }

  private async lead(): Promise<void> {
    for (;;) {
      const stop = new AbortController();
      this.listening = stop;
      await this.listen(stop.signal);
      if (!stop.signal.aborted) await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }

  private async listen(signal: AbortSignal): Promise<void> {
    const { host, onChange } = this.ports;
    await host()
      ?.ask(
        'watch',
        { folders: [...this.drives.keys()] },
        {
          signal,
          onPart: ({ folder, paths }) => {
            const driveId = this.drives.get(folder);
            if (driveId) onChange(driveId, paths);
          },
        },
      )
      .catch(() => undefined); // it is asked again
  }
}
