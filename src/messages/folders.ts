// What moving photos and folders would do, in words.

import { counted } from './plural';

const PROBLEMS = {
  'no-name': 'Give the folder a name.',
  'bad-name':
    'Some drive does not take this name: no part of it may be empty, end with a dot or a blank, or hold any of < > : " \\ | ? *',
  'inside-itself': 'A folder cannot be moved into itself.',
  ours: 'A name that begins with a dot, or with _wembo, is not looked into.',
} as const;

export const folderProblemSentence = (problem: keyof typeof PROBLEMS): string => PROBLEMS[problem];

interface Plan {
  moves: readonly unknown[];
  photos: number;
  companions: number;
  drives: readonly string[];
  renamed: readonly { before: string; after: string }[];
  elsewhere: number;
  absent: readonly unknown[];
  emptied: readonly string[];
}

/** Names that are told one by one. */
const TOLD = 5;

const more = (count: number) => (count > TOLD ? ` and ${count - TOLD} more` : '');

const renamedSentence = (renamed: Plan['renamed']): string =>
  `${renamed
    .slice(0, TOLD)
    .map(({ before, after }) => `${before} becomes ${after}`)
    .join(', ')}${more(renamed.length)}: the name is taken there.`;

export function folderPlanSentences(plan: Plan, driveId: string, nameOf: (id: string) => string): string[] {
  const others = plan.drives.filter((id) => id !== driveId).map((id) => `“${nameOf(id)}”`);
  const { renamed, emptied } = plan;
  const absent = plan.absent.length;
  return [
    plan.moves.length === 0
      ? absent === 0 && 'Nothing is to be moved: all lie there already.'
      : `${counted(plan.photos, 'photo')} ${plan.photos === 1 ? 'goes' : 'go'} there, with sidecars and what lies beside.`,
    plan.companions > 0 &&
      `${counted(plan.companions, 'companion')} of the same name ${plan.companions === 1 ? 'comes' : 'come'} along.`,
    others.length > 0 && `The copies on ${others.join(', ')} follow.`,
    plan.elsewhere > 0 &&
      `${counted(plan.elsewhere, 'copy', 'copies')} on other drives ${plan.elsewhere === 1 ? 'lies in another folder there, and stays' : 'lie in other folders there, and stay'}.`,
    absent > 0 && `${counted(absent, 'photo')} ${absent === 1 ? 'has' : 'have'} no file on this drive.`,
    renamed.length > 0 && renamedSentence(renamed),
    emptied.length > 0 &&
      `No photo is left then in ${emptied.slice(0, TOLD).join(', ')}${more(emptied.length)}. The folder stays, with what else is in it.`,
  ].filter((sentence) => sentence !== false);
}

interface OverPlan {
  photoIds: readonly unknown[];
  places: readonly unknown[];
  companions: number;
  there: number;
  stays: number;
  renamed: Plan['renamed'];
}

interface OverWords {
  /** Whether they are moved; else they are copied. */
  leaves: boolean;
  /** Names of the drives. */
  from: string;
  to: string;
  /** All bytes of the files, in words. */
  size: string;
}

export function overPlanSentences(plan: OverPlan, words: OverWords): string[] {
  const { photoIds, places, companions, there, stays, renamed } = plan;
  const { leaves, from, to } = words;
  return [
    photoIds.length === 0 && `Nothing can go from “${from}”.`,
    places.length > 0 &&
      `${counted(places.length, 'file')}, ${words.size}, ${places.length === 1 ? 'is' : 'are'} copied to “${to}” with sidecars and what lies beside, read back and compared by SHA-256.`,
    companions > 0 &&
      `${counted(companions, 'companion')} of the same name ${companions === 1 ? 'comes' : 'come'} along.`,
    there > 0 && `${counted(there, 'photo')} ${there === 1 ? 'has' : 'have'} a verified copy there already.`,
    leaves &&
      photoIds.length > 0 &&
      `Then what lies on “${from}” is set aside there; Undo brings it back, and erasing it in Safekeep makes room.`,
    stays > 0 &&
      `${counted(stays, 'photo')} ${stays === 1 ? 'is' : 'are'} damaged or in doubt here, and ${stays === 1 ? 'stays' : 'stay'}.`,
    renamed.length > 0 && renamedSentence(renamed),
  ].filter((sentence) => sentence !== false);
}
