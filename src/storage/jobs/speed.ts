// How fast a job may go, so that a drive or a line is left for other work: so many bytes a second on average, held
// between one file and the next.

/** A limit that is changed is heard of after this. */
const ASKED_EVERY_MS = 250;

export class Speed {
  private bytes = 0;
  private since = { bytes: 0, at: performance.now() };

  /** @param limit bytes a second; `null` for all there are */
  constructor(private limit: number | null) {}

  limitTo(limit: number | null): void {
    this.limit = limit;
    this.since = { bytes: this.bytes, at: performance.now() };
  }

  /** Of all bytes since the job began, or since a part of it did. */
  hear(doneBytes: number): void {
    if (doneBytes < this.bytes) this.since = { bytes: doneBytes, at: performance.now() };
    this.bytes = doneBytes;
  }

  /** Waits as long as it was too fast. Rejects on cancelling. */
  async hold(signal: AbortSignal): Promise<void> {
    for (;;) {
      if (this.limit === null) return;
      const early = ((this.bytes - this.since.bytes) / this.limit) * 1000 - (performance.now() - this.since.at);
      if (early <= 0) return;
      await new Promise((resolve) => setTimeout(resolve, Math.min(early, ASKED_EVERY_MS)));
      signal.throwIfAborted();
    }
  }
}
