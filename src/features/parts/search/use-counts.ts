'use client';

import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';

/** How many photos each of these scopes has now. */
export function useCounts(scopes: readonly string[], calmMs = 0): readonly number[] {
  return useAsked(scopes.join('\n'), () => session.search.count([...scopes]), calmMs)?.answer ?? NO_COUNTS;
}

const NO_COUNTS: readonly number[] = [];
