'use client';

// How wide the panels beside the photos are, and which are folded: the person's, from one visit to the next.

import { z } from 'zod';
import { keptChoice } from '@/ui/kept-choice';

export const PANELS = {
  shelves: { label: 'Shelves', width: 204, least: 150, most: 420 },
  card: { label: 'Record card', width: 292, least: 240, most: 560 },
} as const;
export type Panel = keyof typeof PANELS;

const panel = ({ least, most }: (typeof PANELS)[Panel]) =>
  z.object({ width: z.number().min(least).max(most), folded: z.boolean() });
const choices = z.object({ shelves: panel(PANELS.shelves), card: panel(PANELS.card), almanacFolded: z.boolean() });
type Choices = z.infer<typeof choices>;

export const usePanels = keptChoice<Choices>('wembo-panels', choices, {
  shelves: { width: PANELS.shelves.width, folded: false },
  card: { width: PANELS.card.width, folded: false },
  almanacFolded: false,
});

export const allFolded = ({ shelves, card, almanacFolded }: Choices): boolean =>
  shelves.folded && card.folded && almanacFolded;

/** All of them folded, or none. */
export const folded = ({ shelves, card }: Choices, isFolded = true): Choices => ({
  shelves: { ...shelves, folded: isFolded },
  card: { ...card, folded: isFolded },
  almanacFolded: isFolded,
});

/** All of them, or all back. */
export const foldAll = (): void => usePanels.setState((now) => folded(now, !allFolded(now)));

export const foldPanel = (of: Panel): void =>
  usePanels.setState((now) => ({ [of]: { ...now[of], folded: !now[of].folded } }));

export const widenPanel = (of: Panel, width: number): void =>
  usePanels.setState(() => ({
    [of]: { width: Math.round(Math.min(PANELS[of].most, Math.max(PANELS[of].least, width))), folded: false },
  }));
