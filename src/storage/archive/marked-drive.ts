// A drive that is known by its mark, not by where it is plugged in: before anything on it gets, loses or changes a name
// the mark is read, and whoever has read something in full asks once more before he believes that it was on this drive.

import { readDriveFile } from './archive-files';
import { type Drive, DriveError, type DriveProblem, type LazyBytes, type PartFile } from '../drives/drive';

/** Who cannot be asked says nothing of the drive. */
const SILENT: readonly DriveProblem[] = ['host-gone', 'host-closed', 'store-silent', 'store-refuses', 'no-bucket'];

export class MarkedDrive implements Drive {
  constructor(
    readonly inner: Drive,
    readonly id: string,
  ) {}

  async confirm(): Promise<void> {
    const mark = await readDriveFile(this.inner).catch((error: unknown) => {
      if (error instanceof DriveError && SILENT.includes(error.problem)) throw error;
      throw new DriveError('other-drive', '', { cause: error });
    });
    if (mark?.id !== this.id) throw new DriveError('other-drive', '');
  }

  alone<T>(act: () => Promise<T>): Promise<T> {
    return this.inner.alone(async () => {
      await this.confirm();
      return act();
    });
  }

  /** Nothing is put on another drive, not even a part of a file. */
  async createPart(path: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>, like?: LazyBytes): Promise<PartFile> {
    await this.confirm();
    return this.inner.createPart(path, pieces, like);
  }

  replace: NonNullable<Drive['replace']> = async (path, bytes, expected) =>
    (await this.inner.replace?.(path, bytes, expected, this.id)) ?? 'too-long';

  get atOnce(): number | undefined {
    return this.inner.atOnce;
  }

  get openListed(): Drive['openListed'] {
    return this.inner.openListed?.bind(this.inner);
  }

  list: Drive['list'] = (options) => this.inner.list(options);
  open: Drive['open'] = (path) => this.inner.open(path);
  remove: Drive['remove'] = (path) => this.inner.remove(path);
  move: Drive['move'] = (from, to) => this.inner.move(from, to);
  makeFolder: Drive['makeFolder'] = (path) => this.inner.makeFolder(path);
}
