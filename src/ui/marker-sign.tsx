// A marker's sign: a shape in a colour, both the person's. Drawn on a 12-unit grid, with a rim so that it holds on any
// picture.

import type { ReactNode } from 'react';
import type { MarkerShape } from '@/core/sift/judging';

const SHAPES: Record<MarkerShape, ReactNode> = {
  disc: <circle cx="6" cy="6" r="4.6" />,
  ring: (
    <path
      fillRule="evenodd"
      d="M6 1.2a4.8 4.8 0 1 0 0 9.6 4.8 4.8 0 0 0 0-9.6zm0 2.9a1.9 1.9 0 1 1 0 3.8 1.9 1.9 0 0 1 0-3.8z"
    />
  ),
  square: <path d="M1.8 1.8h8.4v8.4H1.8z" />,
  diamond: <path d="M6 .8L11.2 6 6 11.2.8 6z" />,
  wedge: <path d="M1.2 10.4h9.6L6 1.4z" />,
  cross: <path d="M4.2 1.2h3.6v3h3v3.6h-3v3H4.2v-3h-3V4.2h3z" />,
  wave: <path d="M.8 3.2c1.7-2 3.5-2 5.2 0s3.5 2 5.2 0v5.6c-1.7 2-3.5 2-5.2 0s-3.5-2-5.2 0z" />,
  gate: <path d="M1.2 10.8V4.6a4.8 3.8 0 0 1 9.6 0v6.2H8V5H4v5.8z" />,
};

export function MarkerSign({ shape, color, size = 12 }: { shape: MarkerShape; color: string; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 12 12"
      fill={color}
      stroke="rgb(0 0 0 / 55%)"
      strokeWidth=".7"
      aria-hidden
    >
      {SHAPES[shape]}
    </svg>
  );
}
