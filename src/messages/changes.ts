import type { Change } from '@/core/changes/change';
import { fieldOf } from '@/core/fields/registry';

const ORIGINS = { person: '', sidecar: ', from a sidecar', file: ', from the image file' };

/** A change in a few words, for undo and redo. */
export function changeWords(change: Change): string {
  if (change.kind === 'drive-name') return `Name of the drive “${change.after}”`;
  if (change.kind === 'collection') return `${change.before === null ? 'New smart collection' : change.after.deleted ? 'Removal of the smart collection' : 'Smart collection'} “${change.after.name}”`;
  const photos = new Set(change.edits.map(({ photoId }) => photoId)).size;
  const labels = [...new Set(change.edits.map(({ key }) => fieldOf(key).label))];
  const what = labels.length > 2 ? `${labels.length} fields` : labels.join(' and ');
  return `${what} of ${photos === 1 ? 'one photo' : `${photos} photos`}${ORIGINS[change.origin]}`;
}
