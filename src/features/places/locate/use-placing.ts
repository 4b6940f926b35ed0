'use client';

import type { Placing } from '@/core/search/placing';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';

/** The clocks and positions of the photos of a scope, asked for anew when something has changed; `null` at first. */
export function usePlacing(scope: string): Placing | null {
  return useAsked(scope, () => session.search.placing(scope))?.answer ?? null;
}
