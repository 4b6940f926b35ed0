import type { DriveFacts, DriveHolding, DriveStanding, Medium } from '@/core/fixity/drive-facts';
import type { Differences } from '@/core/fixity/differences';
import type { StayReason } from '@/core/fixity/leaving';
import type { SafeRule } from '@/core/fixity/safe';
import type { DriveLoss, YearOnDrive, YearSafety } from '@/core/search/drive-years';
import type { CopyPlan } from '@/core/fixity/copy-plan';
import { counted } from './plural';

export const MEDIUM_WORDS: Record<Medium, string> = {
  'hard-disk': 'hard disk',
  'solid-state': 'solid-state drive',
  stick: 'memory stick or card',
  disc: 'optical disc',
  tape: 'tape',
  network: 'network storage',
  store: 'store of a provider, or of one’s own',
};

const spanWords = (days: number): string => {
  if (days % 365 === 0) return days === 365 ? 'a year' : `${days / 365} years`;
  return days === 1 ? 'a day' : `${days} days`;
};

export function ruleSentence({ copies, elsewhere, verifiedWithinDays }: SafeRule): string {
  const far = elsewhere === 0 ? '' : `, ${elsewhere} of them elsewhere`;
  return `Safe is what has ${counted(copies, 'verified copy', 'verified copies')}${copies > 1 ? ' on different drives' : ''}${far}, read in full within ${spanWords(verifiedWithinDays)}.`;
}

/** What happens if the drive dies today. */
export function lossSentences({ photos, unverified, nowhere, unsafe }: DriveLoss): string[] {
  if (photos === 0) return ['Nothing: no photo lies on it.'];
  const lines: string[] = [];
  if (nowhere > 0)
    lines.push(
      `${counted(nowhere, 'photo')} would be lost: ${nowhere === 1 ? 'it lies' : 'they lie'} on no other drive.`,
    );
  const doubtful = unverified - nowhere;
  if (doubtful > 0)
    lines.push(
      `${counted(doubtful, 'photo')} ${doubtful === 1 ? 'lies' : 'lie'} on another drive too, but ${doubtful === 1 ? 'was' : 'were'} never verified there, or ${doubtful === 1 ? 'is' : 'are'} damaged or missing.`,
    );
  if (unverified === 0)
    lines.push(
      `Nothing is lost: all ${counted(photos, 'photo')} ${photos === 1 ? 'has' : 'have'} a verified copy on another drive.`,
    );
  if (unsafe > 0)
    lines.push(`${counted(unsafe, 'photo')} ${unsafe === 1 ? 'is' : 'are'} safe now and would not be any more.`);
  return lines;
}

export const STANDING_WORDS: Record<DriveStanding, string> = {
  'in-use': 'in use',
  retired: 'retired',
  lost: 'lost',
};

export const standingSentence = ({
  standing,
  standingSince,
}: Pick<DriveFacts, 'standing' | 'standingSince'>): string =>
  standing === 'in-use'
    ? ''
    : `${standing === 'retired' ? 'Retired' : 'Lost'}${standingSince === '' ? '' : ` since ${standingSince}`}: nothing on it counts as a copy.`;

export function holdingSentence(holding: Exclude<DriveHolding, null>): string {
  if (holding.kind === 'copies')
    return `${counted(holding.waiting, 'second copy', 'second copies')} for another drive ${holding.waiting === 1 ? 'waits' : 'wait'} to be made from it. Connect both first.`;
  return `${counted(holding.photoIds.length, 'photo')} of it ${holding.photoIds.length === 1 ? 'has' : 'have'} no verified copy on another drive in use. It stays in the catalog until ${holding.photoIds.length === 1 ? 'it has' : 'they have'}.`;
}

export function differencesSentence({ sizes: [damaged, good], bytes, runCount, runs }: Differences): string {
  if (bytes === 0)
    return 'Read now, both are the same, byte for byte: what was wrong is not wrong any more. Check it again.';
  const length =
    damaged === good
      ? ''
      : ` It is ${counted(Math.abs(good - damaged), 'byte')} ${damaged < good ? 'shorter' : 'longer'} than the copy.`;
  const [first] = runs;
  return `${counted(bytes, 'byte')} ${bytes === 1 ? 'differs' : 'differ'}, in ${counted(runCount, 'place')}, from byte ${first?.start ?? 0} on.${length}`;
}

const STAY_WORDS: Record<StayReason, string> = {
  copies: 'Too few verified copies on other drives',
  elsewhere: 'Too few copies elsewhere',
  check: 'Their copies were read too long ago',
  away: 'Their copies are on drives that are away',
  waits: 'Words, moves or copies still wait, or two versions are to be decided',
  settle: 'Damaged, in doubt or not readable',
};
export const stayWords = (why: StayReason): string => STAY_WORDS[why];

interface PlanWords {
  bytes: (value: number) => string;
  /** Room on the target; `null` where nobody tells it. */
  free: number | null;
}

/** What a copy would do. */
export function copyPlanSentences(plan: CopyPlan, { bytes, free }: PlanWords): string[] {
  const lines: string[] = [];
  if (plan.photos > 0)
    lines.push(
      `${counted(plan.photos, 'photo')}, ${bytes(plan.bytes)}, will be copied with ${plan.photos === 1 ? 'its sidecar' : 'their sidecars'}, read back and compared by SHA-256. Nothing on either drive is replaced.`,
    );
  else if (plan.there > 0) lines.push(`All ${counted(plan.there, 'photo')} have a verified copy there already.`);
  else lines.push('None of these photos is on the drive to copy from.');
  if (plan.example) lines.push(`${plan.example.from} will lie there as ${plan.example.to}.`);
  const parts: string[] = [];
  if (plan.photos > 0 && plan.there > 0) parts.push(`${plan.there} there already`);
  if (plan.elsewhereThere > 0)
    parts.push(`${plan.elsewhereThere} there under another name or folder, which costs no copying`);
  if (plan.unreadThere > 0)
    parts.push(`${plan.unreadThere} there but never read: read first, and copied only if other`);
  if (plan.renamed > 0) parts.push(`${plan.renamed} under a number, since another photo has the name there`);
  if (plan.doubtful > 0) parts.push(`${plan.doubtful} damaged or in doubt: not copied`);
  if (plan.away > 0 && plan.photos + plan.there > 0)
    parts.push(`${plan.away} on drives that are not chosen or not connected`);
  if (parts.length > 0) lines.push(`${parts.join('; ')}.`);
  if (free !== null)
    lines.push(
      plan.bytes > free
        ? `There is room for ${bytes(free)} only: it will stop when the drive is full, and can be resumed.`
        : `Room left there: ${bytes(free)}.`,
    );
  return lines;
}

/** What a cell of the picture says, for whoever does not see it. */
export function yearSentence({ photos, safe, overdue, fewCopies, noneElsewhere, fewest, most }: YearSafety): string {
  const parts = [`${safe} of ${counted(photos, 'photo')} safe`];
  if (fewCopies > 0) parts.push(`${fewCopies} with too few copies`);
  if (noneElsewhere > 0) parts.push(`${noneElsewhere} with none elsewhere`);
  if (overdue > 0) parts.push(`${overdue} to be read again`);
  parts.push(`verified copies: ${fewest === most ? fewest : `${fewest} to ${most}`}`);
  return parts.join(', ');
}

export function yearOnDriveSentence(
  { photos, fresh, overdue, unread, problems, oldest }: YearOnDrive,
  dayWords: (milliseconds: number) => string,
): string {
  const parts = [counted(photos, 'photo')];
  if (fresh > 0) parts.push(`${fresh} verified`);
  if (overdue > 0) parts.push(`${overdue} verified too long ago`);
  if (unread > 0) parts.push(`${unread} never read in full`);
  if (problems > 0) parts.push(`${problems} damaged, missing or in doubt`);
  if (oldest !== null) parts.push(`read last ${dayWords(oldest)}`);
  return parts.join(', ');
}
