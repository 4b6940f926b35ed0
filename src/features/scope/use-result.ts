'use client';

// The photos of the scope, asked from the search worker whenever the scope or the index changes. An older answer
// that comes late is dropped.

import { useEffect } from 'react';
import { create } from 'zustand';
import type { SearchResult } from '@/core/search/search-index';
import { withTerm } from '@/core/scope/scope';
import { session, useSession } from '../session/session';

interface ResultState {
  result: SearchResult | null;
  /** Photos by month without regard to the dates in the scope: the ground of the almanac. */
  months: Map<number, number>;
  /** The scope `result` answers. */
  of: string | null;
}

export const useResult = create<ResultState>(() => ({ result: null, months: new Map(), of: null }));

let latest = 0;

async function ask(scope: string): Promise<void> {
  const mine = ++latest;
  const undated = withTerm(scope, 'taken', null);
  const [result, ground] = await Promise.all([session.search.search(scope), undated === scope.trim() ? null : session.search.search(undated)]);
  if (mine === latest) useResult.setState({ result, months: (ground ?? result).months, of: scope });
}

export function useKeepResult(scope: string): void {
  const stage = useSession((state) => state.stage);
  const version = useSession((state) => state.indexVersion);
  useEffect(() => {
    if (stage === 'ready') ask(scope).catch((error: unknown) => console.error(error));
  }, [scope, stage, version]);
}
