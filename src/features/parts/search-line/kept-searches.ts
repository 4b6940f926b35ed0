'use client';

// Scopes that were used before, the last first, and those that are pinned.

import { z } from 'zod';
import { archiveChoice } from '@/engine/archive-choice';
import { boundStore } from '@/ui/bound-store';
import { keptChoice } from '@/ui/kept-choice';

const RECENT = 8;
const scopes = z.array(z.string().max(5000)).max(200);

/** Of this browser. */
export const useRecentScopes = keptChoice<{ recent: string[] }>('wembo-scopes', z.object({ recent: scopes }), {
  recent: [],
});

/** Of the archive. */
export const usePinnedScopes = boundStore(
  archiveChoice<{ pinned: string[] }>('pinned', z.object({ pinned: scopes }), { pinned: [] }, 'wembo-scopes'),
);

export function rememberScope(text: string): void {
  const scope = text.trim();
  if (scope.length > 1)
    useRecentScopes.setState(({ recent }) => ({
      recent: [scope, ...recent.filter((one) => one !== scope)].slice(0, RECENT),
    }));
}

export const togglePinned = (scope: string): void =>
  usePinnedScopes.setState(({ pinned }) => ({
    pinned: pinned.includes(scope) ? pinned.filter((one) => one !== scope) : [scope, ...pinned],
  }));
