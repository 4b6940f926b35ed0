import type { Change, FileMove, FileFinding, SavedChange, Origin, SavedKind, SavedItems } from '@/core/catalog/change';
import type { WordChange } from '@/core/vocabulary/plan';
import type { CollectionKind } from '@/core/catalog/collection';
import { COPY_ROUTINE_PREFIX, FACTS_PREFIX, RULE_SETTING } from '@/core/fixity/keeping';
import { folderIn } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import { fieldOf } from '@/core/fields/registry';
import type { SavedProblem } from '@/core/catalog/saved';

const ORIGINS = { person: '', sidecar: ', from a sidecar', file: ', from the image file' };

const KEPT: Record<SavedKind, string> = {
  collections: 'collection',
  deliveries: 'delivery',
  deliveryProfiles: 'delivery profile',
  kits: 'kit',
  patterns: 'name pattern',
  routines: 'routine',
  ladder: 'meanings of the rungs',
  markers: 'marker',
  rounds: 'round',
  leftOut: 'photo taken out',
  vocabulary: 'word',
  shorthand: 'shorthand list',
  learnt: 'learnt word',
  clocks: 'clock correction',
  spots: 'spot',
  settings: 'setting',
};
const DECIDED = { up: 'Lifted', leave: 'Left as it was', reject: 'Rejected' };

/** A change in a few words, for undo and redo. */
export function changeWords(change: Change): string {
  switch (change.kind) {
    case 'found':
      return FINDING_WORDS[change.of[0]?.what ?? 'damaged'];
    case 'drive-name':
      return `Name of the drive “${change.after}”`;
    case 'kept':
      return keptWords(change);
    case 'words':
      return wordsWords(change.changes);
    case 'together':
      return change.changes[0] ? changeWords(change.changes[0]) : 'Nothing';
    case 'aside':
      return `${change.moves.some(({ after }) => asideOf(after)) ? 'Setting aside' : 'Bringing back'} ${photos(new Set(change.moves.map(({ photoId }) => photoId)).size)}`;
    case 'left-out':
      return `${change.out ? 'Taking out of' : 'Bringing back into'} the catalog: ${photos(change.photos.length)}`;
    case 'gather':
      return gatherWords(change);
    case 'round':
      return `${change.decisions[0]?.after ? DECIDED[change.decisions[0].after.decision] : 'No longer decided'}: ${photos(change.decisions.length)}`;
    case 'decided':
      return `${change.open ? 'To be decided again' : 'Decided'}: ${change.conflicts.length === 1 ? 'two versions of one photo' : `two versions of ${change.conflicts.length} files`}`;
    case 'names':
      return movesWords(change.moves);
    case 'fields': {
      const labels = [...new Set(change.edits.map(({ key }) => fieldOf(key).label))];
      const what = labels.length > 2 ? `${labels.length} fields` : labels.join(' and ');
      return `${what} of ${photos(new Set(change.edits.map(({ photoId }) => photoId)).size)}${ORIGINS[change.origin]}`;
    }
  }
}

function movesWords(moves: readonly FileMove[]): string {
  const moved = photos(new Set(moves.map(({ photoId }) => photoId)).size);
  if (moves.some(({ before, after }) => asideOf(before) ?? asideOf(after))) return `Moving ${moved} to another drive`;
  return moves.every(({ before, after }) => folderIn(before) === folderIn(after))
    ? `New names of ${moved}`
    : `Moving ${moved}`;
}

const photos = (number: number) => (number === 1 ? 'one photo' : `${number} photos`);

function gatherWords({ name, gathering: { take, put } }: Change & { kind: 'gather' }): string {
  if (take.length > 0 && put.length > 0) return `Order of the collection “${name}”`;
  return put.length > 0
    ? `${photos(put.length)} into the collection “${name}”`
    : `${photos(take.length)} out of the collection “${name}”`;
}

const COLLECTION_KINDS: Record<CollectionKind, string> = {
  smart: 'smart collection',
  hand: 'collection',
  folder: 'folder of collections',
};

function keptWords({ savedKind, before, after }: SavedChange): string {
  const ofSetting = savedKind === 'settings' ? settingWords(after.id) : null;
  if (ofSetting) return ofSetting;
  const what = savedKind === 'collections' ? COLLECTION_KINDS[after.kind] : KEPT[savedKind];
  if (after.deleted) return `Removal of the ${what} “${nameOf(after)}”`;
  return `${before === null ? `New ${what}` : what.charAt(0).toUpperCase() + what.slice(1)} “${nameOf(after)}”`;
}

/** Settings that have a name of their own. */
function settingWords(id: string): string | null {
  if (id === RULE_SETTING) return 'The rule of safekeeping';
  if (id.startsWith(COPY_ROUTINE_PREFIX)) return 'A copy that is kept up to date';
  return id.startsWith(FACTS_PREFIX) ? 'What is said of a drive' : null;
}

const nameOf = (one: SavedItems[SavedKind]): string => ('name' in one ? one.name : 'word' in one ? one.word : one.id);

function wordsWords(changes: readonly WordChange[]): string {
  const [first] = changes;
  if (!first) return 'Nothing';
  if (changes.length > 1) return `${changes.length} words of the vocabulary`;
  const { before, after } = first;
  if (after.deleted) return `Removal of the word “${after.word}”`;
  if (before === null || before.deleted) return `New word “${after.word}”`;
  return before.word === after.word ? `The word “${after.word}”` : `“${before.word}” is now “${after.word}”`;
}

const MEMBERS: Record<string, string> = {
  name: 'name',
  word: 'word',
  scope: 'search',
  note: 'remark',
  meanings: 'meaning of a rung',
  entries: 'list of entries',
  photoIds: 'list of photos',
  synonyms: 'list of synonyms',
  id: 'name',
  value: 'value',
  words: 'words',
};

/** Why something cannot be kept, for the person who entered it. */
export function savedProblemSentence({ member, tooMany }: SavedProblem): string {
  const steps = member.split('.');
  const what = MEMBERS[steps.findLast((step) => step in MEMBERS) ?? ''] ?? 'content';
  return tooMany
    ? `The ${what} has ${tooMany.has} ${what.startsWith('list') ? 'entries' : 'letters'}; at most ${tooMany.most} can be kept. Shorten it and try again.`
    : `The ${what} cannot be kept as it is, because it could not be read back.`;
}

/** What was left as it is, because somebody else wrote it in the meantime. */
export const leftSentence = (left: number): string =>
  `${left === 1 ? 'One field was' : `${left} fields were`} left as ${left === 1 ? 'it is' : 'they are'}: another program or another catalog changed ${left === 1 ? 'it' : 'them'} meanwhile. The history of the photo shows both.`;

const ACTS: Record<Change['kind'], string> = {
  fields: 'changed',
  decided: 'two versions decided',
  names: 'new name',
  kept: 'kept',
  words: 'a word of the vocabulary',
  aside: 'set aside or brought back',
  'left-out': 'taken out of the catalog or brought back',
  round: 'judged in a round',
  together: 'changed',
  gather: 'into or out of a collection',
  'drive-name': 'the drive got another name',
  found: 'a file of it was looked at',
};

export const FINDING_WORDS: Record<FileFinding, string> = {
  damaged: 'found damaged',
  doubt: 'found in doubt: two records give it different measures',
  'brought-back': 'brought back from a verified copy',
  right: 'settled: it is right as it is',
  gone: 'settled: it is gone for good',
  freed: 'removed to free room; its photo is safe without it',
};
const FROM = { person: '', sidecar: 'read from a sidecar: ', file: 'read from the image file: ' };

/** What happened to a photo in one act, in a few words. */
export function eventWords({
  act,
  from,
  how,
  elsewhere,
  about,
}: {
  act: Change['kind'];
  from: Origin;
  how: 'undo' | 'redo' | null;
  elsewhere: boolean;
  about: string;
}): string {
  const what =
    act === 'gather' || act === 'left-out'
      ? act === 'gather'
        ? `into or out of the collection “${about}”`
        : about === 'out'
          ? 'taken out of the catalog'
          : 'back in the catalog'
      : ACTS[act];
  const way = how === 'undo' ? 'taken back: ' : how === 'redo' ? 'done again: ' : FROM[from];
  return `${way}${what}${elsewhere ? ', in another catalog' : ''}`;
}
