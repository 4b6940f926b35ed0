'use client';

// The pictures at hand in this window, and how they are looked at: surround, scale, what lies over them.

import { useEffect, useSyncExternalStore } from 'react';
import { create } from 'zustand';
import { z } from 'zod';
import { keptChoice } from '@/ui/kept-choice';
import { session } from '@/engine/session';
import { PictureStore, type Shown, type PictureSize } from './picture-store';
import { type PictureView, WHOLE } from './view';
import { useSession } from '@/features/parts/session/use-session';

/** Screens are rarely larger; a step, so that a window dragged by a pixel decodes nothing anew. */
const SCREEN_STEP = 640;
const screenPixels = () =>
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

const nothing: Shown = { picture: null, settled: false };

export const useShown = (photoId: string): Shown =>
  useSyncExternalStore(
    pictureStore.subscribe,
    () => pictureStore.shown(photoId),
    () => nothing,
  );

/** Keeps these pictures at hand as long as the screen is there, and looks again when a drive comes or goes. */
export function useAtHand(list: readonly { id: string; sizes: readonly PictureSize[] }[]): void {
  const key = list.map(({ id, sizes }) => `${id} ${sizes.join()}`).join('|');
  const connections = useSession((state) => state.connections);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the key says it all
  useEffect(() => pictureStore.want(list), [key]);
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
}

/** Shared by all frames, so that the same spot is seen from one to the next, and side by side. */
export const usePictureView = create<PictureViewState>(() => ({ view: WHOLE, histogram: false, clipped: false }));

/** Left, the next picture begins whole again. */
export function useWholeAgain(left: boolean): void {
  useEffect(() => {
    if (left) setView(WHOLE);
  }, [left]);
}

export const setView = (view: PictureView): void => usePictureView.setState({ view });
