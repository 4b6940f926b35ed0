'use client';

// The pictures at hand in this window, and how they are looked at: surround, scale, what lies over them.

import { useEffect, useSyncExternalStore } from 'react';
import { create } from 'zustand';
import { z } from 'zod';
import { keptChoice } from '@/ui/kept-choice';
import type { PhotoRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { PictureStore, type PicturePart, type Shown, type WantedPicture } from './picture-store';
import { type PictureView, type ViewBox, WHOLE, partInSight } from './view';
import { correctionsIn, isIdentity } from '@/core/looks/corrections';
import { useLooks } from './looks';
import { isLarge } from '@/storage/file-tasks/file-tasks';
import { useSession } from '@/features/parts/session/use-session';

/** Screens are rarely larger; a step, so that a window dragged by a pixel decodes nothing anew. */
const SCREEN_STEP = 640;
export const screenPixels = () =>
  Math.max(
    1280,
    Math.ceil((Math.max(window.innerWidth, window.innerHeight) * window.devicePixelRatio) / SCREEN_STEP) * SCREEN_STEP,
  );

export const pictureStore = new PictureStore(
  {
    photo: (id) => session.db.photos.get(id),
    original: (id) => session.original(id),
    preview: async (id) => (await session.db.previews.get(id))?.blob ?? null,
    largePreview: async (id) => (await session.db.largePreviews.get(id))?.blob ?? null,
    pictures: () => session.pictures,
    onSeen: (record, whole) => session.lookedAt(record, whole),
  },
  screenPixels,
);

const nothing: Shown = { picture: null, beneath: null, settled: false };

export const useShown = (photoId: string, page = 0): Shown =>
  useSyncExternalStore(
    pictureStore.subscribe,
    () => pictureStore.shown(photoId, page),
    () => nothing,
  );

/** Keeps these pictures at hand as long as the screen is there, and looks again when a drive comes or goes. */
export function useAtHand(list: readonly WantedPicture[]): void {
  const looks = useLooks(list.map(({ id }) => id));
  const looked = list.map((one, index) => ({ ...one, ...(looks[index] !== undefined && { look: looks[index] }) }));
  const key = JSON.stringify(looked);
  const connections = useSession((state) => state.connections);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the key says it all
  useEffect(() => pictureStore.want(looked), [key]);
  useEffect(() => pictureStore.again(), [connections]);
  useEffect(() => () => pictureStore.close(), []);
}

export const SURROUNDS = { paper: 'Paper', grey: 'Mid-grey', dark: 'Dark' } as const;
export type Surround = keyof typeof SURROUNDS;

export interface RoomChoices {
  surround: Surround;
}

export const useRoom = keptChoice<RoomChoices>(
  'wembo-room',
  z.object({ surround: z.enum(['paper', 'grey', 'dark']) }),
  { surround: 'dark' },
);

interface PictureViewState {
  view: PictureView;
  /** Histogram and clipped areas are asked for. */
  histogram: boolean;
  clipped: boolean;
  /** Of a file with several pages, from 0. */
  page: number;
}

/** Shared by all frames, so that the same spot is seen from one to the next, and side by side. */
export const usePictureView = create<PictureViewState>(() => ({
  view: WHOLE,
  histogram: false,
  clipped: false,
  page: 0,
}));

/** Left, the next picture begins whole again. */
export function useWholeAgain(left: boolean): void {
  useEffect(() => {
    if (left) setView(WHOLE);
  }, [left]);
}

export const setView = (view: PictureView): void => usePictureView.setState({ view });

/** What of a photo that is too large to be held whole is in sight, in steps; `undefined` for every other photo. */
export const pictureInSight = (
  photo: PhotoRecord | undefined,
  view: PictureView,
  stage: ViewBox,
): PicturePart | undefined =>
  photo?.width && photo.height && isLarge(photo) && isIdentity(correctionsIn(photo.fields.corrections))
    ? (partInSight(view, { width: photo.width, height: photo.height }, stage, window.devicePixelRatio) ?? undefined)
    : undefined;

export const setPage = (page: number): void => usePictureView.setState({ page, view: WHOLE });

/** The next photo begins with its first page. */
export function useFirstPage(photoId: string): void {
  useEffect(() => () => usePictureView.setState({ page: 0 }), [photoId]);
}
