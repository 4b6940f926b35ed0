import { SET_ASIDE_FOLDER } from '@/core/names/set-aside';
import type { Drive, DriveEntry, ListOptions } from './drive';

/** All files of the person's on a drive, those that are set aside included. */
export async function* listAll(drive: Drive, options: ListOptions): AsyncGenerator<DriveEntry> {
  yield* drive.list(options);
  yield* drive.list({ ...options, below: SET_ASIDE_FOLDER });
}
