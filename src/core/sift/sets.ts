// Which frames belong together. Found from what the cameras wrote, and corrected by hand.
//
//   companion  a raw and a picture of the same base name in the same folder: one frame from then on
//   bracket    frames of one camera within seconds, focal length and aperture or speed kept, each with another exposure
//   burst      frames of one camera, each about a second after the one before at most; two alone only where they surely
// are
//   panorama   at least three frames with the same exposure and focal length, short gaps, each overlapping the next at
// an edge
//   chosen     what a person put together; what a person took apart is in no set
//
// A photo is in at most one set, of the first rule above that holds; a raw brings its companion along. The limits are
// common practice, no source. Linear after sorting.

import { numbered } from '../text/natural';

export type SetKind = 'companion' | 'bracket' | 'burst' | 'panorama' | 'chosen';

export interface Shot {
  /** The body, not only the model. */
  body: string;
  /** Seconds of the camera's clock, with its fraction; `null` without a time. */
  at: number | null;
  /** Whether the clock wrote fractions of a second. */
  fraction: boolean;
  seconds: number | null;
  fNumber: number | null;
  iso: number | null;
  focalMm: number | null;
  biasEv: number | null;
  /** Drive, folder and base name of each of its files, without regard to case. */
  stems: string[];
  raw: boolean;
  /** The set it was put into by hand, `alone` for one that was taken out, `null` where nobody decided. */
  given: string | null;
  /** Photos whose picture was compared with this one's, and whether they overlap at an edge. */
  overlaps: Record<string, boolean>;
}

export interface Member {
  id: string;
  name: string;
  shot: Shot;
}

export interface FoundSet<T> {
  kind: SetKind;
  /** In clock order; a companion behind its raw. */
  members: T[];
}

export const ALONE = 'alone';

export const SET_LIMITS = {
  /** From the end of one frame of a bracket to the beginning of the next. */
  bracketGapSeconds: 3,
  bracketFrames: { least: 3, most: 9 },
  /** Half a third of a stop: what is nearer is the same exposure, written with other rounding. */
  sameEv: 0.17,
  burstGapSeconds: 1.05,
  panoramaGapSeconds: 20,
  panoramaLeast: 3,
  /** Longer exposures count as this: a figure a camera never meant must not hold a day's frames together. */
  exposureSeconds: 3600,
} as const;

/** A frame: one photo, or a raw with its companion. */
interface Frame<T> {
  members: T[];
  /** In the form that sorts as numbered. */
  name: string;
  /** As the camera gave it. */
  number: string;
  shot: Shot & { at: number };
}

export function findSets<T extends Member>(photos: readonly T[]): FoundSet<T>[] {
  const { chosen, free } = apart(photos);
  const frames = framesOf(free);
  const found: FoundSet<T>[] = chosen;
  for (const run of runsOf(frames)) {
    for (const { kind, frames: of } of setsOfRun(run))
      found.push({ kind, members: of.flatMap(({ members }) => members) });
  }
  const inSet = new Set(found.flatMap(({ members }) => members));
  for (const { members } of allFrames(free))
    if (members.length > 1 && !members.some((member) => inSet.has(member))) found.push({ kind: 'companion', members });
  return found;
}

/** Pairs whose pictures must be compared before it is known whether they are of a panorama. */
export function panoramaQuestions<T extends Member>(photos: readonly T[]): [T, T][] {
  const questions: [T, T][] = [];
  for (const run of runsOf(framesOf(apart(photos).free))) {
    const taken = new Set(
      setsOfRun(run)
        .filter(({ kind }) => kind !== 'panorama')
        .flatMap(({ frames }) => frames),
    );
    for (const part of runsWhere(
      run.filter((frame) => !taken.has(frame)),
      mayOverlap,
    )) {
      if (part.length < SET_LIMITS.panoramaLeast) continue;
      for (const [a, b] of pairs(part)) {
        const [first, second] = [a.members[0], b.members[0]];
        if (first && second && first.shot.overlaps[second.id] === undefined) questions.push([first, second]);
      }
    }
  }
  return questions;
}

function apart<T extends Member>(photos: readonly T[]): { chosen: FoundSet<T>[]; free: T[] } {
  const chosen = new Map<string, T[]>();
  const free: T[] = [];
  for (const photo of photos) {
    const { given } = photo.shot;
    if (given === null) free.push(photo);
    else if (given !== ALONE) chosen.set(given, [...(chosen.get(given) ?? []), photo]);
  }
  const inOrder = (a: T, b: T) => (a.shot.at ?? 0) - (b.shot.at ?? 0) || (a.name < b.name ? -1 : 1);
  return {
    chosen: [...chosen.values()]
      .filter(({ length }) => length > 1)
      .map((members) => ({ kind: 'chosen', members: members.sort(inOrder) })),
    free,
  };
}

/** Photos that share a base name in a folder, one of them a raw, are one frame. */
function allFrames<T extends Member>(photos: readonly T[]): { members: T[] }[] {
  const byStem = new Map<string, T[]>();
  for (const photo of photos)
    for (const stem of photo.shot.stems) {
      const others = byStem.get(stem);
      if (!others) byStem.set(stem, [photo]);
      else if (!others.includes(photo)) others.push(photo);
    }
  const done = new Set<T>();
  return photos.flatMap((photo) => {
    if (done.has(photo)) return [];
    const near = new Set([photo, ...photo.shot.stems.flatMap((stem) => byStem.get(stem) ?? [])]);
    const together = [...near].filter(
      (other) => other === photo || (other.shot.raw !== photo.shot.raw && !done.has(other)),
    );
    for (const member of together) done.add(member);
    return [{ members: together.sort((a, b) => Number(b.shot.raw) - Number(a.shot.raw)) }];
  });
}

function framesOf<T extends Member>(photos: readonly T[]): Frame<T>[] {
  return allFrames(photos).flatMap(({ members }) => {
    const first = members[0];
    const at = first?.shot.at ?? null;
    return !first || at === null
      ? []
      : [{ members, name: numbered(first.name), number: numberIn(first.name), shot: { ...first.shot, at } }];
  });
}

/** The frames of each body in the order in which it took them. */
function runsOf<T>(frames: Frame<T>[]): Frame<T>[][] {
  const byBody = new Map<string, Frame<T>[]>();
  for (const frame of frames) {
    const run = byBody.get(frame.shot.body);
    if (run) run.push(frame);
    else byBody.set(frame.shot.body, [frame]);
  }
  return [...byBody.values()].map((run) => run.sort((a, b) => a.shot.at - b.shot.at || (a.name < b.name ? -1 : 1)));
}

function setsOfRun<T>(run: Frame<T>[]): { kind: SetKind; frames: Frame<T>[] }[] {
  const found: { kind: SetKind; frames: Frame<T>[] }[] = [];
  const taken = new Set<Frame<T>>();
  const take = (kind: SetKind, frames: Frame<T>[]) => {
    found.push({ kind, frames });
    for (const frame of frames) taken.add(frame);
  };
  for (const part of runsWhere(run, mayBracket)) for (const bracket of bracketsIn(part)) take('bracket', bracket);
  const left = () => run.filter((frame) => !taken.has(frame));
  for (const part of runsWhere(left(), inBurst)) if (part.length > 2 || isPair(part)) take('burst', part);
  for (const part of runsWhere(left(), (a, b) => mayOverlap(a, b) && overlap(a, b)))
    if (part.length >= SET_LIMITS.panoramaLeast) take('panorama', part);
  return found;
}

const gap = <T>(a: Frame<T>, b: Frame<T>) =>
  b.shot.at - a.shot.at - Math.min(a.shot.seconds ?? 0, SET_LIMITS.exposureSeconds);
const same = (a: number | null, b: number | null) =>
  a === b || (a !== null && b !== null && Math.abs(a - b) <= 0.01 * Math.max(a, b));

function mayBracket<T>(a: Frame<T>, b: Frame<T>): boolean {
  const { shot: x } = a;
  const { shot: y } = b;
  return (
    x.seconds !== null &&
    y.seconds !== null &&
    gap(a, b) <= SET_LIMITS.bracketGapSeconds &&
    same(x.focalMm, y.focalMm) &&
    (same(x.fNumber, y.fNumber) || same(x.seconds, y.seconds))
  );
}

/** Edited versions of one frame bear its time too, and mostly its number: they are no burst. */
const inBurst = <T>(a: Frame<T>, b: Frame<T>): boolean =>
  (a.shot.fraction ? gap(a, b) : b.shot.at - a.shot.at) <= SET_LIMITS.burstGapSeconds && a.number !== b.number;

/** The number a camera gave: the longest run of digits, the last of several; the whole name where there is none. */
const numberIn = (name: string): string =>
  (name.match(/\d+/g) ?? [name]).reduce((longest, digits) => (digits.length >= longest.length ? digits : longest));

/** A clock of whole seconds that went on by one may have gone on by nearly two. */
const isPair = <T>([a, b]: Frame<T>[]): boolean =>
  a !== undefined && b !== undefined && (a.shot.fraction || a.shot.at === b.shot.at);

const mayOverlap = <T>(a: Frame<T>, b: Frame<T>): boolean =>
  gap(a, b) <= SET_LIMITS.panoramaGapSeconds &&
  a.shot.focalMm !== null &&
  same(a.shot.focalMm, b.shot.focalMm) &&
  a.shot.seconds !== null &&
  same(a.shot.seconds, b.shot.seconds) &&
  same(a.shot.fNumber, b.shot.fNumber) &&
  same(a.shot.iso, b.shot.iso);

const overlap = <T>(a: Frame<T>, b: Frame<T>): boolean =>
  a.members.some((member) =>
    b.members.some((other) => (member as Member).shot.overlaps[(other as Member).id] === true),
  );

/** How bright a frame is exposed, in stops: the more, the brighter. */
const exposureEv = ({ seconds, fNumber, iso }: Shot): number =>
  Math.log2(seconds ?? 1) - 2 * Math.log2(fNumber ?? 1) + Math.log2((iso ?? 100) / 100);

/** A run of brackets is cut where an exposure comes again; frames that all have one exposure are none. */
function bracketsIn<T>(part: Frame<T>[]): Frame<T>[][] {
  const { least, most } = SET_LIMITS.bracketFrames;
  const found: Frame<T>[][] = [];
  let open: Frame<T>[] = [];
  const close = () => {
    if (open.length >= least) found.push(open);
    open = [];
  };
  for (const frame of part) {
    const again = open.some((other) => sameExposure(other.shot, frame.shot));
    if (again || open.length === most) close();
    open.push(frame);
  }
  close();
  return found;
}

/** The camera's word where it says that it varied the exposure; else the figures themselves. */
function sameExposure(a: Shot, b: Shot): boolean {
  const varied = a.biasEv !== null && b.biasEv !== null && Math.abs(a.biasEv - b.biasEv) > SET_LIMITS.sameEv;
  return !varied && Math.abs(exposureEv(a) - exposureEv(b)) <= SET_LIMITS.sameEv;
}

function runsWhere<F>(run: F[], together: (a: F, b: F) => boolean): F[][] {
  const found: F[][] = [];
  for (const frame of run) {
    const last = found.at(-1);
    const before = last?.at(-1);
    if (last && before !== undefined && together(before, frame)) last.push(frame);
    else found.push([frame]);
  }
  return found;
}

const pairs = <F>(run: F[]): [F, F][] => run.slice(1).map((frame, index) => [run[index] as F, frame]);
