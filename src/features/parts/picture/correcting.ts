'use client';

// A photo that is being corrected: what its sliders say now, and its picture developed by that while they move. The
// picture is decoded once, as it lies in the file; each movement develops it anew in a worker, in steps small enough to
// follow the hand, and at rest at the size of the screen.

import { useEffect, useMemo, useRef, useState } from 'react';
import { create } from 'zustand';
import {
  type Corrections,
  type Crop,
  NO_CORRECTIONS,
  correctionsIn,
  correctionsValue,
  tidyCorrections,
} from '@/core/looks/corrections';
import { WHOLE_CROP } from '@/core/looks/crop';
import { cutOf } from '@/core/looks/geometry';
import type { Edges } from '@/core/picture/print-size';
import type { PhotoRecord } from '@/storage/catalog/records';
import { OF_PREVIEW } from '@/storage/file-tasks/file-tasks';
import { session } from '@/engine/session';
import { setField } from '@/engine/set-field';

/** What becomes of a photo's corrections. */
export type CorrectingAct = (own: Corrections) => Corrections;

interface CorrectingState {
  /** The sliders are on the screen. */
  isOpen: boolean;
  /** It is shown as it lies in the file. */
  isBefore: boolean;
  /** What a slider says that has not come to rest. */
  draft: { photoId: string; act: CorrectingAct } | null;
  /** What the stage shows instead of what the store has. */
  developed: Developed | null;
  /** The frame of a crop lies over the picture. */
  cropping: Cropping | null;
}

interface Cropping {
  photoId: string;
  crop: Crop;
  /** Width by height, in pixels; `null` for any. */
  shape: number | null;
}

export interface Developed {
  photoId: string;
  bitmap: ImageBitmap;
  corrections: Corrections;
}

export const useCorrecting = create<CorrectingState>(() => ({
  isOpen: false,
  isBefore: false,
  draft: null,
  developed: null,
  cropping: null,
}));

export const toggleCorrecting = (): void =>
  useCorrecting.setState(({ isOpen }) => ({ isOpen: !isOpen, isBefore: false, cropping: null }));

export const toggleBefore = (): void => useCorrecting.setState(({ isBefore }) => ({ isBefore: !isBefore }));

/** While a slider moves. */
export const moveSlider = (photoId: string, act: CorrectingAct): void =>
  useCorrecting.setState({ draft: { photoId, act }, isBefore: false });

let lastAct: Promise<void> = Promise.resolve();

/**
 * It has come to rest: one change, which one undo takes back. Acts follow one another, each upon what is kept when its
 * turn comes: one that the screen does not show yet is not lost by the next.
 */
export function keepCorrections(photoId: string, act: CorrectingAct): void {
  // a slider stays where the hand left it; what is not moved by hand is shown when it is kept, not acted out before
  useCorrecting.setState(({ draft }) => ({ isBefore: false, ...(draft && { draft: { photoId, act } }) }));
  lastAct = lastAct
    .then(async () => {
      const photo = await session.db.photos.get(photoId);
      if (photo)
        await setField('corrections', correctionsValue(act(correctionsIn(photo.fields.corrections))), [photoId]);
    })
    .catch((error: unknown) => console.error(error)) // the next one has its turn all the same
    .finally(() => useCorrecting.setState(({ draft }) => (draft?.act === act ? { draft: null } : {})));
}

/** What holds of a photo: what its sliders say now, else what is kept. */
export function useCorrectionsOf(photo: PhotoRecord | undefined): Corrections {
  const draft = useCorrecting((state) => state.draft);
  const kept = photo?.fields.corrections;
  return useMemo(() => {
    const own = correctionsIn(kept);
    return draft && draft.photoId === photo?.id ? tidyCorrections(draft.act(own)) : own;
  }, [draft, photo?.id, kept]);
}

export function withoutCrop({ crop: _, ...others }: Corrections): Corrections {
  return others;
}

/** What a crop is a part of: the picture turned and straightened. */
export const frameOf = ({ width, height }: Edges, corrections: Corrections): Edges =>
  cutOf({ width, height }, withoutCrop(corrections));

export const beginCrop = (photoId: string, { crop }: Corrections): void =>
  useCorrecting.setState({ cropping: { photoId, crop: crop ?? WHOLE_CROP, shape: null }, isBefore: false });

export const setCrop = (crop: Crop, shape?: number | null): void =>
  useCorrecting.setState(({ cropping }) => ({
    cropping: cropping && { ...cropping, crop, shape: shape === undefined ? cropping.shape : shape },
  }));

export const leaveCrop = (): void => useCorrecting.setState({ cropping: null });

/** The frame as it lies becomes the crop. */
export function keepCrop(photoId: string): void {
  const { cropping } = useCorrecting.getState();
  leaveCrop();
  if (cropping) keepCorrections(photoId, (own) => tidyCorrections({ ...own, crop: cropping.crop }));
}

/** Followed by hand at this long edge: a slider is answered in the time of a frame or two. */
const FOLLOWED_PIXELS = 800;

interface Base {
  photoId: string;
  large: ImageBitmap;
  small: ImageBitmap;
  full: Edges;
}

/** Develops the photo that is corrected, as long as the sliders are there. */
export function useDeveloping(photo: PhotoRecord | undefined, screenPixels: number): { problem: string | null } {
  const isOpen = useCorrecting((state) => state.isOpen);
  const isMoving = useCorrecting((state) => state.draft !== null);
  const isBefore = useCorrecting((state) => state.isBefore);
  const kept = useCorrectionsOf(photo);
  const cropsIt = useCorrecting(({ cropping }) => cropping !== null && cropping.photoId === photo?.id);
  // while it is cropped all of it is seen
  const corrections = useMemo(
    () => (isBefore ? NO_CORRECTIONS : cropsIt ? withoutCrop(kept) : kept),
    [isBefore, cropsIt, kept],
  );
  const [base, setBase] = useState<Base | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const id = isOpen ? photo?.id : undefined;
  const latest = useRef(photo);
  useEffect(() => {
    latest.current = photo;
  });
  useEffect(() => {
    const current = latest.current;
    if (id === undefined || !current) return;
    let isCurrent = true;
    let opened: Base | null = null;
    openBase(current, screenPixels).then(
      (made) => {
        if (!isCurrent) return closeBase(made);
        opened = made;
        setBase(made);
        setProblem(made ? null : 'There is no picture of it to be seen here.');
      },
      (error: unknown) => isCurrent && setProblem(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      isCurrent = false;
      closeBase(opened);
      setBase(null);
      setProblem(null);
      show(null);
    };
  }, [id, screenPixels]);
  const developer = useRef<Developer | null>(null);
  useEffect(() => {
    if (!base || base.photoId !== id) return;
    developer.current ??= new Developer();
    developer.current.ask(base, isMoving ? base.small : base.large, corrections);
  }, [base, id, corrections, isMoving]);
  return { problem };
}

async function openBase(photo: PhotoRecord, screenPixels: number): Promise<Base | null> {
  const found = await session.original(photo.id);
  const preview = async () =>
    (await session.db.largePreviews.get(photo.id))?.blob ?? (await session.db.previews.get(photo.id))?.blob ?? null;
  const pixels = screenPixels;
  const ofFile = found && session.pictures.show(found.file, photo, { pixels, quick: true });
  const opened = await ofFile?.catch(() => null);
  const blob = opened ? null : await preview();
  const shown = opened ?? (blob && (await session.pictures.show(blob, OF_PREVIEW, { pixels })));
  if (!shown) return null;
  const { bitmap } = shown;
  const scale = Math.min(1, FOLLOWED_PIXELS / Math.max(bitmap.width, bitmap.height));
  const small = await createImageBitmap(bitmap, {
    resizeWidth: Math.max(1, Math.round(bitmap.width * scale)),
    resizeHeight: Math.max(1, Math.round(bitmap.height * scale)),
    resizeQuality: 'medium',
  });
  const full = photo.width && photo.height ? { width: photo.width, height: photo.height } : bitmap;
  return { photoId: photo.id, large: bitmap, small, full: { width: full.width, height: full.height } };
}

function closeBase(base: Base | null): void {
  base?.large.close();
  base?.small.close();
}

function show(next: Developed | null): void {
  const { developed } = useCorrecting.getState();
  useCorrecting.setState({ developed: next });
  developed?.bitmap.close();
}

/** One at a time; of what is asked for meanwhile only the last. */
class Developer {
  private next: { base: Base; bitmap: ImageBitmap; corrections: Corrections } | null = null;
  private isBusy = false;

  ask(base: Base, bitmap: ImageBitmap, corrections: Corrections): void {
    this.next = { base, bitmap, corrections };
    if (!this.isBusy) void this.work();
  }

  private async work(): Promise<void> {
    this.isBusy = true;
    for (let one = this.next; one; one = this.next) {
      this.next = null;
      const { base, bitmap, corrections } = one;
      if (bitmap.width === 0) continue; // the photo was left
      const made = await session.pictures.correct(bitmap, corrections, base.full).catch(() => null);
      const isStill = useCorrecting.getState().isOpen && bitmap.width > 0;
      if (made && isStill) show({ photoId: base.photoId, bitmap: made, corrections });
      else made?.close();
    }
    this.isBusy = false;
  }
}
