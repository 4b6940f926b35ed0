// Track files that a person hands over, wherever they do.

import { trackProblemSentence } from '@/messages/tracks';
import { addTrack } from '@/storage/catalog/tracks';
import { plural } from '@/ui/format';
import type { Say } from './connect-drive';
import { session } from '@/engine/session';

/** Reads them one after the other; one that is wrong is told and the others go on. Returns how many are new. */
export async function addTracks(files: readonly File[], say: Say): Promise<number> {
  let added = 0;
  for (const file of files) {
    try {
      const { record, isNew } = await addTrack(session.db, await session.fileTasks.readTrack(file), file, Date.now());
      if (record.problem) say.warning(`${file.name}: ${trackProblemSentence(record.problem)}`);
      else if (!isNew) say.info(`${file.name} is in the catalog already.`);
      added += isNew ? 1 : 0;
    } catch (error) {
      say.error(`${file.name} could not be read: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
  if (added > 0)
    say.info(`${plural(added, 'track')} added; they are kept on your drives, in the folder _wembo/tracks.`);
  session.wakeOutbox();
  return added;
}
