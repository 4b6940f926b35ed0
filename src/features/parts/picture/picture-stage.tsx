'use client';

// One picture on its stage: drawn from what is at hand for this photo and nothing else; scaled at the pointer, moved by
// hand, by keys and by fingers. The preview stands in at the place and size of the original until that is there.

import { type PointerEvent, type WheelEvent, useCallback, useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import { correctedSize, cutOf } from '@/core/looks/geometry';
import type { PhotoRecord } from '@/storage/catalog/records';
import { useSize } from '@/ui/use-size';
import { type Developed, useCorrecting } from './correcting';
import { CropFrame } from './crop-frame';
import { ClippedAreas } from './histogram';
import styles from './picture.module.css';
import type { Picture } from './picture-store';
import { setView, usePictureView, useShown } from './pictures';
import { type ViewBox, type PictureView, WHOLE, cornerOf, drawnSize, movedBy, scaledAt } from './view';

interface Props {
  photoId: string;
  photo: PhotoRecord | undefined;
  words: string;
  onClose?: () => void;
  /** A finger that wipes across the whole picture leafs. */
  onSwipe?: (step: 1 | -1) => void;
}

const SWIPE_PX = 60;

export interface StageHandle {
  box: ViewBox;
  picture: ViewBox;
  pointer: { x: number; y: number };
}

/** The stage the pointer was on last: what Space and the keys act on. */
export const lastStage: { current: StageHandle | null } = { current: null };

/** 100 % where the pointer is, or the whole picture again. */
export function toggleScale(): void {
  const { view } = usePictureView.getState();
  const stage = lastStage.current;
  if (view.scale !== 'fit' || !stage) return setView(WHOLE);
  setView(scaledAt(view, 1, stage.pointer, stage.picture, stage.box, window.devicePixelRatio));
}

export function moveView(x: number, y: number): void {
  const stage = lastStage.current;
  const { view } = usePictureView.getState();
  if (stage && view.scale !== 'fit')
    setView(movedBy(view, { x, y }, stage.picture, stage.box, window.devicePixelRatio));
}

export function PictureStage({ photoId, photo, words, onClose, onSwipe }: Props) {
  const stage = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useSize(stage);
  const page = usePictureView((state) => state.page);
  const { picture, beneath, settled } = useShown(photoId, page);
  const developed = useCorrecting((state) => (state.developed?.photoId === photoId ? state.developed : null));
  const view = usePictureView((state) => state.view);
  const clipped = usePictureView((state) => state.clipped);
  // the original's size, so that the preview stands where the original will
  const known = page === 0 ? sizeShown(photo, developed) : picture?.full;
  const width = known?.width ?? picture?.full?.width ?? picture?.bitmap.width ?? 3;
  const height = known?.height ?? picture?.full?.height ?? picture?.bitmap.height ?? 2;
  const size = useMemo(() => ({ width, height }), [width, height]);

  useLayoutEffect(() => {
    if (canvas.current && box.width > 0)
      draw(canvas.current, developed ? [developed] : beneath ? [beneath, picture] : [picture], view, size, box);
  });
  const note = useCallback(
    (event: { clientX: number; clientY: number }) => {
      const bounds = stage.current?.getBoundingClientRect();
      if (bounds)
        lastStage.current = {
          box: { width: bounds.width, height: bounds.height },
          picture: size,
          pointer: { x: event.clientX - bounds.left, y: event.clientY - bounds.top },
        };
    },
    [size],
  );
  useLayoutEffect(() => {
    if (!lastStage.current && box.width > 0)
      lastStage.current = { box, picture: size, pointer: { x: box.width / 2, y: box.height / 2 } };
    else if (lastStage.current) lastStage.current = { ...lastStage.current, picture: size };
  });
  useEffect(() => () => void (lastStage.current = null), []);
  const fileTasks = usePointer(size, box, note, onSwipe);
  const corner = cornerOf(view, size, box, densityNow());
  const drawn = drawnSize(view, size, box, densityNow());
  return (
    <div
      ref={stage}
      className={styles.stage}
      data-zoomed={view.scale !== 'fit'}
      {...fileTasks}
      onDoubleClick={onClose}
      data-photo-shown={picture ? photoId : ''}
      data-size={picture?.size ?? 'none'}
      data-settled={settled}
    >
      <canvas ref={canvas} className={styles.canvas} role="img" aria-label={words} />
      {photo && developed && (
        <CropFrame photo={photo} picture={size} box={{ ...corner, width: drawn.width, height: drawn.height }} />
      )}
      {clipped && (
        <ClippedAreas photoId={photoId} left={corner.left} top={corner.top} width={drawn.width} height={drawn.height} />
      )}
      {!picture && settled && (
        <p className={styles.nothing}>
          There is nothing to show of this photo: no preview, and no picture in the file that this browser can decode.
        </p>
      )}
    </div>
  );
}

/** Of what remains of it. */
function sizeShown(photo: PhotoRecord | undefined, developed: Developed | null): ViewBox | undefined {
  if (!photo?.width || !photo.height) return undefined;
  const full = { width: photo.width, height: photo.height };
  return developed ? cutOf(full, developed.corrections) : correctedSize(full, photo.fields);
}

const densityNow = () => (typeof window === 'undefined' ? 1 : window.devicePixelRatio);

function draw(
  canvas: HTMLCanvasElement,
  layers: readonly ((Pick<Picture, 'bitmap'> & Partial<Pick<Picture, 'part'>>) | null)[],
  view: PictureView,
  picture: ViewBox,
  stage: ViewBox,
): void {
  const density = densityNow();
  const width = Math.round(stage.width * density);
  const height = Math.round(stage.height * density);
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
  const context = canvas.getContext('2d', { colorSpace: screenColours() });
  if (!context) return;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, width, height);
  const { left, top } = cornerOf(view, picture, stage, density);
  const size = drawnSize(view, picture, stage, density);
  const [across, down] = [(size.width * density) / picture.width, (size.height * density) / picture.height];
  for (const layer of layers) {
    if (!layer || layer.bitmap.width === 0) continue;
    const { left: x, top: y, ...extent } = layer.part?.region ?? { left: 0, top: 0, ...picture };
    const isReal = view.scale !== 'fit' && layer.bitmap.width >= extent.width;
    context.imageSmoothingEnabled = !(isReal && typeof view.scale === 'number' && view.scale >= 1);
    context.imageSmoothingQuality = 'medium';
    context.drawImage(
      layer.bitmap,
      Math.round(left * density + x * across),
      Math.round(top * density + y * down),
      Math.round(extent.width * across),
      Math.round(extent.height * down),
    );
  }
}

/** More colours than sRGB has where the screen shows them. */
const screenColours = (): PredefinedColorSpace =>
  window.matchMedia('(color-gamut: p3)').matches ? 'display-p3' : 'srgb';

/** Mouse, wheel and fingers. */
function usePointer(
  picture: ViewBox,
  box: ViewBox,
  note: (event: { clientX: number; clientY: number }) => void,
  onSwipe?: (step: 1 | -1) => void,
) {
  const fingers = useRef(new Map<number, { x: number; y: number; startX: number }>());
  const pinch = useRef<{ distance: number; scale: number } | null>(null);
  const density = densityNow();
  const scaleNow = () => {
    const { view } = usePictureView.getState();
    return view.scale === 'fit' ? (drawnSize(view, picture, box, density).width / picture.width) * density : view.scale;
  };
  const at = (event: { clientX: number; clientY: number; currentTarget: Element }) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const scaleTo = (scale: number, point: { x: number; y: number }) => {
    const fits = scale <= (drawnSize(WHOLE, picture, box, density).width / picture.width) * density;
    setView(fits ? WHOLE : scaledAt(usePictureView.getState().view, scale, point, picture, box, density));
  };
  const spread = () => {
    const [a, b] = [...fingers.current.values()];
    return a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0;
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLDivElement>) => {
      note(event);
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      fingers.current.set(event.pointerId, { ...at(event), startX: event.clientX });
      if (fingers.current.size === 2) pinch.current = { distance: spread(), scale: scaleNow() };
    },
    onPointerMove: (event: PointerEvent<HTMLDivElement>) => {
      note(event);
      const finger = fingers.current.get(event.pointerId);
      if (!finger) return;
      const now = at(event);
      const by = { x: now.x - finger.x, y: now.y - finger.y };
      fingers.current.set(event.pointerId, { ...finger, ...now });
      const { view } = usePictureView.getState();
      if (pinch.current && fingers.current.size === 2)
        scaleTo((pinch.current.scale * spread()) / Math.max(1, pinch.current.distance), now);
      else if (view.scale !== 'fit') setView(movedBy(view, by, picture, box, density));
    },
    onPointerUp: (event: PointerEvent<HTMLDivElement>) => {
      const finger = fingers.current.get(event.pointerId);
      fingers.current.delete(event.pointerId);
      const pinched = pinch.current !== null;
      if (fingers.current.size === 0) pinch.current = null;
      const way = finger ? event.clientX - finger.startX : 0;
      if (
        event.pointerType === 'touch' &&
        !pinched &&
        usePictureView.getState().view.scale === 'fit' &&
        Math.abs(way) > SWIPE_PX
      )
        onSwipe?.(way < 0 ? 1 : -1);
    },
    onPointerCancel: (event: PointerEvent<HTMLDivElement>) => {
      fingers.current.delete(event.pointerId);
      pinch.current = null;
    },
    onWheel: (event: WheelEvent<HTMLDivElement>) => {
      note(event);
      scaleTo(scaleNow() * (event.deltaY < 0 ? 1.25 : 0.8), at(event));
    },
  };
}
