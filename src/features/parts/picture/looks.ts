'use client';

// How photos are corrected, for whatever shows them: as a text that is the same as long as nothing changed; empty for
// one that is shown as it is.

import { useEffect, useState } from 'react';
import { create } from 'zustand';
import { useLive } from '@/storage/catalog/live';
import { follow } from '@/storage/catalog/watch';
import { correctedPhotos, looksOf } from '@/engine/looks';

/** Of each of these. */
export function useLooks(photoIds: readonly string[]): readonly string[] {
  const key = photoIds.join(' ');
  const found = useLive(async () => ({ key, looks: await looksOf(photoIds) }), [key]);
  return found?.key === key ? found.looks : NO_LOOKS;
}

const NO_LOOKS: readonly string[] = [];

/** `undefined` until it is known. */
export const useLook = (photoId: string): string | undefined => useLooks([photoId])[0];

/** The few that are corrected at all: of all others nothing has to be asked. */
const useCorrectedPhotos = create<{ ids: ReadonlySet<string> }>(() => ({ ids: new Set() }));
let isFollowed = false;

export const isCorrected = (photoId: string): boolean => useCorrectedPhotos.getState().ids.has(photoId);

/** `undefined` until it is known; cheap for a photo that is not corrected. */
export function useLookOfCorrected(photoId: string): string | undefined {
  const corrected = useCorrectedPhotos(({ ids }) => ids.has(photoId));
  const [found, setFound] = useState<{ photoId: string; look: string } | null>(null);
  useEffect(() => {
    if (isFollowed) return;
    isFollowed = true;
    follow(
      () => correctedPhotos(),
      (ids) => useCorrectedPhotos.setState({ ids: new Set(ids) }),
    );
  }, []);
  useEffect(() => {
    if (!corrected) return;
    return follow(
      () => looksOf([photoId]),
      ([look = '']) => setFound({ photoId, look }),
    );
  }, [photoId, corrected]);
  if (!corrected) return '';
  return found?.photoId === photoId ? found.look : undefined;
}
