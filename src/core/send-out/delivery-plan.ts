// What a delivery will do, before it does it: which photos go, as what file, and what a person should know or decide
// first. Nothing is looked up here: photos come with what is known of them.

import { correctedSize } from '../looks/geometry';
import { hasOpenBlank } from '../describe/blanks';
import type { FieldValues } from '../fields/registry';
import type { Format } from '../formats/containers/formats';
import { profileRemark } from '../metadata/reading/profile';
import { folderIn, joinedPath, nameIn, spelledEnding } from '../names/file-names';
import { giveNames } from '../names/naming';
import { type NameFacts, fillFolder } from '../names/pattern';
import { type DeliveryProfile, endingOfMade, estimatedBytes, notedAs } from './delivery-profile';
import { type OutputPixels, outputPixels } from './output-size';
import { type WordMarks, wordsOfPhoto, wordsToSend } from './words-policy';

export interface SendablePhoto {
  id: string;
  /** The file that would be read. */
  driveId: string;
  path: string;
  sizeBytes: number;
  /** `away`: no drive with it is connected. `damaged`: no file of it that is there is as it was measured. */
  state: 'here' | 'away' | 'damaged';
  /** Whether the drive it lies on may be written. */
  isWritable: boolean;
  format: Format;
  seconds: number | null;
  width: number | null;
  height: number | null;
  profile: string | null;
  fields: FieldValues;
  /** What the file itself says, which goes with it where it is sent untouched. */
  embedded: FieldValues;
  isSafe: boolean;
  sentTo: readonly string[];
  naming: Omit<NameFacts, 'blanks'>;
}

/** What is found on looking at the photos of a delivery; of each whether such a photo stays, is asked about, or told. */
export const FINDINGS = {
  away: 'stays',
  damaged: 'stays',
  video: 'stays',
  'read-only': 'stays',
  'words-in-file': 'stays',
  rejected: 'asks',
  embargo: 'asks',
  terms: 'asks',
  blank: 'asks',
  'no-rights': 'asks',
  'sent-before': 'asks',
  unsafe: 'tells',
  smaller: 'tells',
  'no-profile': 'tells',
  private: 'tells',
  renamed: 'tells',
  'long-path': 'tells',
} as const;

export type Finding = keyof typeof FINDINGS;
export type AskedFinding = { [F in Finding]: (typeof FINDINGS)[F] extends 'asks' ? F : never }[Finding];
export const isAskedAbout = (finding: Finding): finding is AskedFinding => FINDINGS[finding] === 'asks';
export type Answers = Partial<Record<AskedFinding, 'send' | 'leave'>>;

export interface OutgoingFile {
  photoId: string;
  /** The drive it goes to. */
  driveId: string;
  path: string;
  /** `null` for an original, or a photo whose size is not known. */
  pixels: OutputPixels | null;
  estimatedBytes: number;
}

export interface DeliveryPlan {
  files: OutgoingFile[];
  findings: { finding: Finding; photoIds: string[] }[];
  /** Findings that wait for an answer. */
  open: AskedFinding[];
  estimatedBytes: number;
}

export interface DeliveryContext {
  answers: Answers;
  blanks: NameFacts['blanks'];
  /** Base names in use where files go: `driveId/folder/base`, folded by `foldName`. */
  taken: ReadonlySet<string>;
  marks: WordMarks;
  /** ISO 8601 date. */
  today: string;
}

/** Linear in the number of photos. */
export function planDelivery(
  photos: readonly SendablePhoto[],
  profile: DeliveryProfile,
  context: DeliveryContext,
): DeliveryPlan {
  const found = new Map<Finding, string[]>();
  const find = (finding: Finding, photoId: string) => {
    const list = found.get(finding);
    if (list) list.push(photoId);
    else found.set(finding, [photoId]);
  };
  const going = photos.filter((photo) => {
    const findings = findingsOf(photo, profile, context);
    for (const finding of findings) find(finding, photo.id);
    return !findings.some(
      (finding) => FINDINGS[finding] === 'stays' || (isAskedAbout(finding) && context.answers[finding] === 'leave'),
    );
  });
  const files = filesOf(going, profile, context, find);
  const order = Object.keys(FINDINGS) as Finding[];
  return {
    files,
    findings: order.flatMap((finding) => {
      const photoIds = found.get(finding);
      return photoIds ? [{ finding, photoIds }] : [];
    }),
    open: order.filter(isAskedAbout).filter((asked) => found.has(asked) && context.answers[asked] === undefined),
    estimatedBytes: files.reduce((sum, file) => sum + file.estimatedBytes, 0),
  };
}

function findingsOf(photo: SendablePhoto, profile: DeliveryProfile, { marks, today }: DeliveryContext): Finding[] {
  const { picture, words } = profile;
  const { fields } = photo;
  const isUntouched = picture.kind === 'original';
  const held = isUntouched ? wordsToSend(photo.embedded, words, marks.marks).behind.length > 0 : false;
  const sent = wordsOfPhoto(fields, words, marks);
  const pixels = sizeOfMade(photo, profile);
  const checks: Record<Exclude<Finding, 'renamed' | 'long-path'>, boolean> = {
    away: photo.state === 'away',
    damaged: photo.state === 'damaged',
    video: !isUntouched && photo.seconds !== null,
    'read-only': profile.folder.kind === 'beside' && photo.state === 'here' && !photo.isWritable,
    'words-in-file': held,
    rejected: fields.rating === -1,
    embargo: isUnderEmbargo(fields, today),
    terms: termsOfUse(fields).length > 0,
    blank: words.which !== 'none' && hasOpenBlank(sent.fields),
    'no-rights': fields.copyrightNotice === undefined || fields.creator === undefined,
    'sent-before': photo.sentTo.includes(notedAs(profile)),
    unsafe: !photo.isSafe,
    smaller: pixels?.isSmaller ?? false,
    'no-profile': !isUntouched && profileRemark(photo) !== null,
    private: sent.behind.some(({ why }) => why === 'private'),
  };
  return (Object.keys(checks) as (keyof typeof checks)[]).filter((finding) => checks[finding]);
}

/** What a receiver is bound to, in the person's words. */
export const termsOfUse = ({ usageTerms, otherConstraints }: FieldValues): string[] =>
  [usageTerms, otherConstraints].filter((text) => typeof text === 'string');

const DATE = /\b(\d{4}-\d{2}-\d{2})\b/g;

/**
 * Whether an embargo is spoken of that has not ended for sure. There is no field for it in the standard's core; people
 * write it into instructions and terms (common practice).
 */
export function isUnderEmbargo(fields: FieldValues, today: string): boolean {
  const texts = [fields.instructions, fields.usageTerms, fields.otherConstraints].filter(
    (text): text is string => typeof text === 'string' && /embargo/i.test(text),
  );
  return texts.some((text) => {
    const dates = [...text.matchAll(DATE)].map(([, date]) => date ?? '').sort();
    return dates.length === 0 || (dates.at(-1) ?? '') > today;
  });
}

function sizeOfMade({ width, height, fields }: SendablePhoto, { picture }: DeliveryProfile): OutputPixels | null {
  if (picture.kind === 'original' || !width || !height) return null;
  return outputPixels(correctedSize({ width, height }, fields), picture.size, picture.ppi, picture.enlarge);
}

function filesOf(
  photos: readonly SendablePhoto[],
  profile: DeliveryProfile,
  { blanks, taken }: DeliveryContext,
  find: (finding: Finding, photoId: string) => void,
): OutgoingFile[] {
  const { picture, folder } = profile;
  const groups = photos.map((photo) => {
    const facts = { ...photo.naming, blanks };
    const [driveId, inside] =
      folder.kind === 'beside'
        ? [photo.driveId, joinedPath(folderIn(photo.path), folder.name)]
        : [folder.driveId ?? '', folder.kind === 'zip' ? '' : fillFolder(folder.parts, facts)];
    // the drive goes before the folder, so that names count apart on each
    return { facts, driveId, folder: joinedPath(driveId, inside) };
  });
  return giveNames(groups, { folder: null, names: profile.names, taken }).map(
    ({ folder: at, base, remarks }, index) => {
      const photo = photos[index] as SendablePhoto;
      const { driveId } = groups[index] as (typeof groups)[number];
      if (remarks.includes('taken')) find('renamed', photo.id);
      if (remarks.includes('long')) find('long-path', photo.id);
      const pixels = sizeOfMade(photo, profile);
      const ending =
        picture.kind === 'original' ? spelledEnding(nameIn(photo.path)) : `.${endingOfMade(picture.format)}`;
      return {
        photoId: photo.id,
        driveId,
        path: joinedPath(driveId === '' ? at : at.slice(driveId.length + 1), base + ending),
        pixels,
        estimatedBytes:
          picture.kind === 'original'
            ? photo.sizeBytes
            : estimatedBytes(picture, pixels ? pixels.width * pixels.height : 0),
      };
    },
  );
}
