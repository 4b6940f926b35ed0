'use client';

// The frame of a crop over the picture on its stage: moved and drawn by hand, or by keys.

import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { type Grip, drawnCrop, movedCrop } from '@/core/looks/crop';
import type { Crop } from '@/core/looks/corrections';
import type { Edges } from '@/core/picture/print-size';
import { keepCrop, setCrop, useCorrecting } from './correcting';
import type { PhotoRecord } from '@/storage/catalog/records';
import styles from './picture.module.css';

const GRIPS: readonly Grip[] = [
  { x: 'left', y: 'top' },
  { y: 'top' },
  { x: 'right', y: 'top' },
  { x: 'left' },
  { x: 'right' },
  { x: 'left', y: 'bottom' },
  { y: 'bottom' },
  { x: 'right', y: 'bottom' },
];

/** A key moves it by so much of the picture. */
const KEY_STEP = 0.01;
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-KEY_STEP, 0],
  ArrowRight: [KEY_STEP, 0],
  ArrowUp: [0, -KEY_STEP],
  ArrowDown: [0, KEY_STEP],
};

/** @param box where the picture lies on the stage, in its pixels */
export function CropFrame({ photo, picture, box }: { photo: PhotoRecord; picture: Edges; box: DrawnBox }) {
  const cropping = useCorrecting((state) => state.cropping);
  const held = useRef<{ from: Crop; grip: Grip; x: number; y: number } | null>(null);
  if (!cropping || cropping.photoId !== photo.id) return null;
  const { crop, shape } = cropping;
  const hold = (grip: Grip) => (event: PointerEvent<HTMLElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { from: crop, grip, x: event.clientX, y: event.clientY };
  };
  const draw = (event: PointerEvent<HTMLElement>) => {
    event.stopPropagation();
    if (!held.current) return;
    const { from, grip, x, y } = held.current;
    setCrop(drawnCrop(from, grip, (event.clientX - x) / box.width, (event.clientY - y) / box.height, shape, picture));
  };
  const letGo = (event: PointerEvent<HTMLElement>) => {
    event.stopPropagation();
    held.current = null;
  };
  const byKey = (event: KeyboardEvent) => {
    const by = ARROWS[event.key];
    if (by) {
      const [x, y] = by;
      setCrop(event.shiftKey ? drawnCrop(crop, gripOf(x), x, y, shape, picture) : movedCrop(crop, x, y));
    } else if (event.key === 'Enter') keepCrop(photo.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const hand = { onPointerMove: draw, onPointerUp: letGo, onPointerCancel: letGo };
  const { left, top, width, height } = crop;
  return (
    <div
      className={styles.crop}
      style={{
        left: box.left + left * box.width,
        top: box.top + top * box.height,
        width: width * box.width,
        height: height * box.height,
      }}
      role="group"
      aria-label={`Frame of the crop: ${percent(width)} by ${percent(height)}. Arrow keys move it, with Shift they draw it; Enter keeps it`}
      tabIndex={0}
      onKeyDown={byKey}
      onPointerDown={hold({})}
      onDoubleClick={(event) => event.stopPropagation()}
      {...hand}
    >
      {GRIPS.map((grip) => (
        <span
          key={`${grip.x ?? ''} ${grip.y ?? ''}`}
          aria-hidden
          className={styles.grip}
          data-x={grip.x}
          data-y={grip.y}
          onPointerDown={hold(grip)}
          {...hand}
        />
      ))}
    </div>
  );
}

export interface DrawnBox extends Edges {
  left: number;
  top: number;
}

/** With Shift the right and the lower side follow the arrows. */
const gripOf = (x: number): Grip => (x === 0 ? { y: 'bottom' } : { x: 'right' });

const percent = (part: number): string => `${Math.round(100 * part)} %`;
