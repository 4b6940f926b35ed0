// What a file that was found on a drive is. Pure: the scan reads what `mustRead` asks for, and carries out what
// `decide` says.
//
//   the catalog has a file at this path (known)
//     length and time as recorded, sound or already found damaged → as it was; nothing is read
//     its bytes match its measure                                   → as it was, verified; touched at most
//     its picture matches the picture's measure                     → described by another program
//     neither, or it cannot be read as a photo any more             → damaged: the measure stays, until the person
// settles it
//   the catalog has none, the drive's own record speaks of it (claim)
//     as recorded there, and verified then                          → the file of that record; its measure is the
// record's
//     as recorded there, and damaged then                           → damaged
//     its bytes match the record's measure, or its picture does     → the file of that record, verified
//     neither                                                       → damaged
//   nothing speaks of it
//     its bytes are those of a file that is gone from this drive   → moved
//     otherwise                                                     → new to this drive
//
// Which photo a file is of (`photoFor`): equal digests of all bytes, or of the picture where it says nothing else, make
// it a file of a photo the catalog has. The fingerprint only suggests: photos that share one and nothing else are
// different photos.

import type { FileDigests } from '../metadata/picture-digest/image-digest';

/** What a file is held against. */
export interface Measure {
  sha256: string;
  imageSha256: string | null;
}

export interface KnownFile {
  measure: Measure | null;
  /** Length and time are as recorded. */
  asRecorded: boolean;
  /** Missing and unreadable ones are looked at again. */
  isSettled: boolean;
}

/** What the records on the drive itself say of a path. */
export interface Claim {
  measure: Measure;
  /** A second digest, where the drive's records were being written when they were interrupted. */
  also: string | null;
  /** Length and time are as when that was written. */
  asRecorded: boolean;
  /** `null` where it was not verified on this drive. */
  verifiedAt: number | null;
  state: 'sound' | 'damaged';
  photoId: string | null;
}

/** A photo that may be this one, by the fingerprint of one of its files. */
export interface Kin {
  photoId: string;
  sha256: string | null;
  imageSha256: string | null;
}

/**
 * Whether a photo cannot be what a file was measured as: neither their bytes nor their pictures are the same. A name in
 * a record is a claim; this refutes it.
 */
export const isOther = (photo: { sha256: string | null; imageSha256: string | null }, measure: Measure): boolean =>
  photo.sha256 !== null &&
  photo.sha256 !== measure.sha256 &&
  photo.imageSha256 !== null &&
  measure.imageSha256 !== null &&
  photo.imageSha256 !== measure.imageSha256;

export type ToRead = 'nothing' | 'head' | 'all';

/** How much of a file must be read; of what looks new it turns out once its fingerprint is known (`needsProof`). */
export function mustRead(known: KnownFile | null, claim: Claim | null): ToRead {
  if (known) return known.isSettled && known.asRecorded ? 'nothing' : known.measure ? 'all' : 'head';
  return claim && !claim.asRecorded ? 'all' : 'head';
}

/** Whether all bytes must be read before it can be said which photo this is. */
export const needsProof = (kin: readonly Kin[], goneAlike: number, claim: Claim | null): boolean =>
  goneAlike > 0 || (kin.length > 0 && !claim?.asRecorded);

export type FoundDecision =
  | { kind: 'as-it-was' }
  | { kind: 'described' }
  | { kind: 'damaged'; measure: Measure }
  | { kind: 'claimed'; measure: Measure; verifiedAt: number | 'now' | null }
  | { kind: 'moved'; from: number }
  | { kind: 'new' }
  | { kind: 'unreadable' };

interface Reading {
  /** `null` where only the head was read. */
  digests: FileDigests | null;
  isPhoto: boolean;
}

const sameImage = (a: string | null, b: string | null): boolean => a !== null && a === b;

/** @param gone measures of the files that are gone from the drive and share the fingerprint */
export function decideFound(
  known: KnownFile | null,
  claim: Claim | null,
  gone: readonly (Measure | null)[],
  { digests, isPhoto }: Reading,
): FoundDecision {
  if (known?.measure)
    return digests === null || digests.file === known.measure.sha256
      ? { kind: 'as-it-was' }
      : isPhoto && sameImage(digests.image, known.measure.imageSha256)
        ? { kind: 'described' }
        : { kind: 'damaged', measure: known.measure };
  if (claim) return decideClaim(claim, digests, isPhoto);
  if (!isPhoto) return { kind: 'unreadable' };
  const from = digests ? gone.findIndex((measure) => measure?.sha256 === digests.file) : -1;
  return from >= 0 ? { kind: 'moved', from } : { kind: 'new' };
}

function decideClaim(
  { measure, also, asRecorded, verifiedAt, state }: Claim,
  digests: FileDigests | null,
  isPhoto: boolean,
): FoundDecision {
  if (digests) {
    if (digests.file === measure.sha256 || digests.file === also)
      return { kind: 'claimed', measure: { sha256: digests.file, imageSha256: digests.image }, verifiedAt: 'now' };
    return isPhoto && sameImage(digests.image, measure.imageSha256)
      ? { kind: 'claimed', measure: { sha256: digests.file, imageSha256: digests.image }, verifiedAt: 'now' }
      : { kind: 'damaged', measure };
  }
  if (!isPhoto || (asRecorded && state === 'damaged')) return { kind: 'damaged', measure };
  return { kind: 'claimed', measure, verifiedAt: asRecorded ? verifiedAt : null };
}

/** Hexadecimal digits of its digest behind the fingerprint of a photo that shares it with another. */
const TOLD_APART_BY = 16;

/**
 * The id of the photo a file is of.
 * @param measure `null` where nothing is known but the fingerprint; then there is no kin
 * @param recorded what the drive's records call it
 * @param isTaken whether a photo has an id already
 */
export function photoFor(
  fingerprint: string,
  measure: Measure | null,
  kin: readonly Kin[],
  recorded: string | null,
  isTaken: (id: string) => boolean,
): string {
  const same = measure && kin.find(({ sha256 }) => sha256 === measure.sha256);
  if (same) return same.photoId;
  const picture = measure && kin.find(({ imageSha256 }) => sameImage(imageSha256, measure.imageSha256));
  if (picture) return picture.photoId;
  if (recorded !== null && !kin.some(({ photoId }) => photoId === recorded)) return recorded;
  return measure && isTaken(fingerprint) ? `${fingerprint}.${measure.sha256.slice(0, TOLD_APART_BY)}` : fingerprint;
}
