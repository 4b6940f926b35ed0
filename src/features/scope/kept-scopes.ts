'use client';

// Scopes that were used before, the last first, and those that are pinned.

import { z } from 'zod';
import { keptChoice } from '../session/kept-choice';

const RECENT = 8;
const scopes = z.array(z.string().max(5000)).max(200);

export const useKeptScopes = keptChoice<{ recent: string[]; pinned: string[] }>('wembo-scopes', z.object({ recent: scopes, pinned: scopes }), { recent: [], pinned: [] });

export function rememberScope(text: string): void {
  const scope = text.trim();
  if (scope.length > 1) useKeptScopes.setState(({ recent }) => ({ recent: [scope, ...recent.filter((one) => one !== scope)].slice(0, RECENT) }));
}

export const togglePinned = (scope: string): void => useKeptScopes.setState(({ pinned }) => ({ pinned: pinned.includes(scope) ? pinned.filter((one) => one !== scope) : [scope, ...pinned] }));
