// Judging: what a key, a click or a drag makes of the rating and marker of photos. It goes to the frames, or to the
// whole sets they are in, as the person chose. Rejecting some frames of a bracket or panorama, which is of no use
// without them, is asked about.

import { create } from 'zustand';
import type { Described, FieldEdit } from '@/core/fields/edits';
import { planSet } from '@/core/fields/edits';
import type { FieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import type { PhotoSet } from '@/workers/search-client';
import { inTurn } from '@/engine/in-turn';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import { markersInOrder } from './markers';

interface Judging {
  to: 'frame' | 'set';
  /** A question that waits for the person. */
  question: SetQuestion | null;
}

export interface SetQuestion {
  kind: 'bracket' | 'panorama';
  /** Frames of the set, and how many of them are meant. */
  frames: number;
  meant: number;
  answer: (answer: 'these' | 'all' | 'none') => void;
}

export const useJudging = create<Judging>(() => ({ to: 'frame', question: null }));

export const ratingOf = ({ fields }: Described): number => (typeof fields.rating === 'number' ? fields.rating : 0);

/** Unrated is written as no rating, so that clearing one leaves the sidecar as it was before. */
export const ratingValue = (rating: number): FieldValue | undefined => (rating === 0 ? undefined : rating);

/** Sets about which the person has answered; they are not asked about again as long as the page is open. */
const answered = new Set<string>();

const setsOf = async (ids: readonly string[]): Promise<PhotoSet[]> => {
  const sets = new Map<string, PhotoSet>();
  for (const set of await session.search.setsOf([...ids])) sets.set(set.ids[0] ?? '', set);
  return [...sets.values()];
};

/** The photos a judgement of these is of: themselves, or their whole sets. */
export async function meant(ids: readonly string[]): Promise<string[]> {
  if (useJudging.getState().to === 'frame') return [...ids];
  return [...new Set((await setsOf(ids)).flatMap((set) => set.ids))];
}

async function edit(
  ids: readonly string[],
  key: FieldKey,
  valueOf: (photo: Described) => FieldValue | undefined,
): Promise<void> {
  const edits: FieldEdit[] = (await recordsOf(await meant(ids))).flatMap((photo) =>
    planSet([photo], key, valueOf(photo)),
  );
  await session.change({ kind: 'fields', origin: 'person', edits });
}

/**
 * Whether these photos may be rejected, set aside or taken out, and which: `null` when the person says no.
 * Asks once for each bracket and panorama of which only some frames are meant.
 */
export async function mayGo(ids: readonly string[]): Promise<string[] | null> {
  const going = new Set(await meant(ids));
  for (const { kind, ids: frames } of await setsOf([...going])) {
    const chosen = frames.filter((id) => going.has(id));
    const key = frames.join();
    if ((kind !== 'bracket' && kind !== 'panorama') || chosen.length === frames.length || answered.has(key)) continue;
    const answer = await new Promise<'these' | 'all' | 'none'>((resolve) =>
      useJudging.setState({ question: { kind, frames: frames.length, meant: chosen.length, answer: resolve } }),
    );
    useJudging.setState({ question: null });
    if (answer === 'none') return null;
    answered.add(key);
    if (answer === 'all') for (const id of frames) going.add(id);
  }
  return [...going];
}

/** One rung up or down the ladder: rejected, unrated, 1 to 5. */
async function climbNow(ids: readonly string[], step: 1 | -1): Promise<void> {
  const falls = step === -1 && (await recordsOf(ids)).some((photo) => ratingOf(photo) === 0);
  const going = falls ? await mayGo(ids) : ids;
  if (going) await edit(going, 'rating', (photo) => ratingValue(Math.min(5, Math.max(-1, ratingOf(photo) + step))));
}

async function setRungNow(ids: readonly string[], rung: number): Promise<void> {
  const going = rung === -1 ? await mayGo(ids) : ids;
  if (going) await edit(going, 'rating', () => ratingValue(rung));
}

/** Rejects; where all are rejected already, takes it back. */
async function toggleRejectedNow(ids: readonly string[]): Promise<void> {
  const all = (await recordsOf(ids)).every((photo) => ratingOf(photo) === -1);
  await setRungNow(ids, all ? 0 : -1);
}

/** Gives a marker, or takes it back where all have it. */
async function toggleMarkerNow(ids: readonly string[], name: string): Promise<void> {
  const all = (await recordsOf(ids)).every(({ fields }) => fields.label === name);
  await edit(ids, 'label', () => (all || name === '' ? undefined : name));
}

/** This one climbs a rung, the others are rejected: one change. */
async function keepOneNow(id: string, ids: readonly string[]): Promise<void> {
  const photos = await recordsOf(ids);
  const edits = photos.flatMap((photo) =>
    planSet([photo], 'rating', photo.id === id ? ratingValue(Math.max(1, ratingOf(photo))) : -1),
  );
  await session.change({ kind: 'fields', origin: 'person', edits });
}

// each in its turn: a key pressed twice is two judgements, the second of what the first made
export const climb = (ids: readonly string[], step: 1 | -1): Promise<void> => inTurn(() => climbNow(ids, step));
export const setRung = (ids: readonly string[], rung: number): Promise<void> => inTurn(() => setRungNow(ids, rung));
export const toggleRejected = (ids: readonly string[]): Promise<void> => inTurn(() => toggleRejectedNow(ids));
export const toggleMarker = (ids: readonly string[], name: string): Promise<void> =>
  inTurn(() => toggleMarkerNow(ids, name));
/** A marker that comes with the program, and into the list with its first use. */
export const FAVOURITE = 'favourite';
export const toggleFavourite = (ids: readonly string[]): Promise<void> =>
  inTurn(async () => {
    const markers = await markersInOrder();
    if (!markers.some(({ name }) => name === FAVOURITE))
      await session.keep('markers', {
        name: FAVOURITE,
        color: '#a9781a',
        shape: 'wave',
        order: Math.max(0, ...markers.map(({ order }) => order)) + 1,
      });
    await toggleMarkerNow(ids, FAVOURITE);
  });
export const keepOne = (id: string, ids: readonly string[]): Promise<void> => inTurn(() => keepOneNow(id, ids));
