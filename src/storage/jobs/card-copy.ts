// The card as it is: every file in its own folders under its own name, whether it is a photo or not, known from before or
// left out; with a list of checksums that `sha256sum -c` reads. It lies in the archive folder of its drive, byte for byte,
// is no part of the catalog, and counts as no copy. Files that are taken in are written here from the same reading.

import { CARD_COPIES, cardCopyFolder, cardCopyList } from '@/core/take-in/accession';
import { manifestLine } from '@/core/fixity/manifest';
import { clearParts } from '../drives/clear-parts';
import { type Drive, type DriveEntry, DriveError } from '../drives/drive';
import type { PlacedCopy, Target } from '../file-tasks/verified-copy';
import { readIfThere, replaceFile } from '../drives/safe-write';
import type { JobReport } from '../catalog/records';
import { type JobTools, forEachItem, itemProblemOf } from './job-tools';

export class CardCopy {
  private readonly placed = new Map<string, { path: string; sha256: string; sizeBytes: number }>();
  private entries: DriveEntry[] = [];

  constructor(
    private readonly tools: JobTools,
    private readonly source: Drive,
    private readonly drive: Drive,
    private readonly number: string,
    private readonly report: JobReport & { kind: 'take-in' },
  ) {}

  /** Looks at what is on the card. Answers with its bytes, each counted for reading and for reading back. */
  async begin(): Promise<number> {
    for await (const entry of this.source.list({
      signal: this.tools.control.signal,
      onUnlisted: (path, error) => this.report.problems.push(itemProblemOf(path, error)),
    }))
      this.entries.push(entry);
    return this.entries.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  }

  target(from: string): Target {
    return { drive: this.drive, path: `${cardCopyFolder(this.number)}/${from}` };
  }

  /** A file that was taken in was to be placed here too. */
  note(from: string, sizeBytes: number, sha256: string | undefined, copy: PlacedCopy | undefined): void {
    if (copy?.state === 'placed' && sha256 !== undefined) this.placed.set(from, { path: copy.path, sha256, sizeBytes });
    else if (copy?.state === 'failed' && copy.problem === 'full') throw new DriveError('full', from);
  }

  /** What was not taken in, or was before; then the list. */
  async finish(onBytes: (bytes: number) => void): Promise<void> {
    const { control, fileTasks } = this.tools;
    const one = async ({ path: from, sizeBytes }: DriveEntry) => {
      const file = await this.source.open(from);
      const order = { ...this.target(from), file, name: from, expected: null };
      const { path, sha256 } = await fileTasks.copy(order, onBytes, control.signal);
      this.placed.set(from, { path, sha256, sizeBytes });
    };
    const rest = this.entries.filter(({ path }) => !this.placed.has(path));
    await forEachItem(rest, control, one, ({ path }, error) => this.report.problems.push(itemProblemOf(path, error)));
    await this.writeList();
    const all = [...this.placed.values()];
    this.report.asItIs = { files: all.length, bytes: all.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) };
  }

  private async writeList(): Promise<void> {
    const lines = [...this.placed.values()]
      .map(({ path, sha256 }) => manifestLine({ path: path.slice(CARD_COPIES.length + 1), sha256 }))
      .sort();
    const path = cardCopyList(this.number);
    const bytes = new TextEncoder().encode(lines.join(''));
    await replaceFile(this.drive, path, bytes, await readIfThere(this.drive, path));
  }

  /** Takes away what an interruption left. */
  async clearParts(): Promise<void> {
    const paths = this.entries.map(({ path }) => this.target(path).path);
    await clearParts(this.drive, paths).catch(() => undefined);
  }
}
