// Corrections in parts: what is copied to other photos, and what a look consists of.

import { type Corrections, tidyCorrections } from './corrections';

export type PartName = 'tone' | 'colour' | 'edges' | 'exposure' | 'balance' | 'turns' | 'frame';

interface CorrectionPart {
  name: PartName;
  label: string;
  members: readonly (keyof Corrections)[];
  /** Each picture has its own: not copied unless asked for. */
  isOwn: boolean;
}

export const PARTS: readonly CorrectionPart[] = [
  {
    name: 'tone',
    label: 'Shadows, highlights, points, contrast',
    members: ['black', 'white', 'shadows', 'highlights', 'contrast'],
    isOwn: false,
  },
  {
    name: 'colour',
    label: 'Vibrance, saturation, black and white',
    members: ['vibrance', 'saturation', 'blackAndWhite'],
    isOwn: false,
  },
  { name: 'edges', label: 'Corners, sharpening', members: ['vignette', 'sharpening'], isOwn: false },
  { name: 'exposure', label: 'Exposure', members: ['exposure'], isOwn: true },
  { name: 'balance', label: 'Temperature and tint', members: ['temperature', 'tint'], isOwn: true },
  { name: 'turns', label: 'Quarter turns, mirror', members: ['turns', 'mirrored'], isOwn: true },
  { name: 'frame', label: 'Straighten, crop', members: ['straighten', 'crop'], isOwn: true },
];

/** `to` with these parts of `from`, whatever they say; the others stay. */
export function withParts(to: Corrections, from: Corrections, parts: ReadonlySet<PartName>): Corrections {
  const made: Corrections = { ...to };
  for (const { name, members } of PARTS) {
    if (!parts.has(name)) continue;
    for (const member of members) {
      delete made[member];
      Object.assign(made, from[member] === undefined ? {} : { [member]: from[member] });
    }
  }
  return tidyCorrections(made);
}
