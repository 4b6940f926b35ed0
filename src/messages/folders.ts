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
  notThere: number;
  emptied: readonly string[];
}

/** Names that are told one by one. */
const TOLD = 5;

export function folderPlanSentences(plan: Plan, driveId: string, nameOf: (id: string) => string): string[] {
  const others = plan.drives.filter((id) => id !== driveId).map((id) => `“${nameOf(id)}”`);
  const { renamed, emptied } = plan;
  const more = (count: number) => (count > TOLD ? ` and ${count - TOLD} more` : '');
  return [
    plan.moves.length === 0
      ? 'Nothing is to be moved: all lie there already.'
      : `${counted(plan.photos, 'photo')} ${plan.photos === 1 ? 'goes' : 'go'} there, with sidecars and what lies beside.`,
    plan.companions > 0 &&
      `${counted(plan.companions, 'companion')} of the same name ${plan.companions === 1 ? 'comes' : 'come'} along.`,
    others.length > 0 && `The copies on ${others.join(', ')} follow.`,
    plan.elsewhere > 0 &&
      `${counted(plan.elsewhere, 'copy', 'copies')} on other drives ${plan.elsewhere === 1 ? 'lies in another folder there, and stays' : 'lie in other folders there, and stay'}.`,
    plan.notThere > 0 &&
      `${counted(plan.notThere, 'photo')} ${plan.notThere === 1 ? 'has' : 'have'} no file on this drive, and ${plan.notThere === 1 ? 'stays' : 'stay'}.`,
    renamed.length > 0 &&
      `${renamed
        .slice(0, TOLD)
        .map(({ before, after }) => `${before} becomes ${after}`)
        .join(', ')}${more(renamed.length)}: the name is taken there.`,
    emptied.length > 0 &&
      `No photo is left then in ${emptied.slice(0, TOLD).join(', ')}${more(emptied.length)}. The folder stays, with what else is in it.`,
  ].filter((sentence) => sentence !== false);
}
