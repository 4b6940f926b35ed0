'use client';

// The photos of the scope, asked from the search worker whenever the scope or the index changes. An older answer
// that comes late is dropped.

import { useEffect } from 'react';
import { create } from 'zustand';
import type { SearchAnswer } from '@/workers/search-client';
import { session } from '@/engine/session';
import { useSession } from '@/features/parts/session/use-session';

interface ResultState {
  result: SearchAnswer | null;
  /** The scope `result` answers. */
  of: string | null;
}

/** How the wall takes what it is given. */
export interface Viewing {
  /** One photo for each set. */
  setsClosed: boolean;
  /** Sets that are open all the same, by any photo of theirs. */
  opened: string[];
  /**
   * Whether a photo that no longer fits the scope after an edit leaves at once, or stays until the scope is looked at
   * anew.
   */
  leaving: 'at-once' | 'later';
}

export const useViewing = create<Viewing>(() => ({ setsClosed: false, opened: [], leaving: 'later' }));
export const useResult = create<ResultState>(() => ({ result: null, of: null }));

const report = (error: unknown) => console.error(error);

/** One question at a time: of those typed meanwhile only the last is asked. */
let asking = false;
let next: { scope: string; anew: boolean } | null = null;

async function ask(scope: string, anew: boolean): Promise<void> {
  if (asking) {
    next = { scope, anew: anew || (next?.anew ?? false) };
    return;
  }
  asking = true;
  try {
    const { setsClosed, opened, leaving } = useViewing.getState();
    const before = useResult.getState();
    // who asks for something else is answered from what holds now, not from what held before the last key
    if (before.of !== scope) await session.indexIsFed();
    const stay =
      leaving === 'later' && !anew && before.of === scope && before.result ? before.result.order.asSlots : null;
    const result = await session.search.search({ scope, closed: setsClosed, opened, stay });
    if (!next) useResult.setState({ result, of: scope });
  } finally {
    asking = false;
    const then = next;
    next = null;
    if (then) void ask(then.scope, then.anew).catch(report);
  }
}

/** Looks at the scope anew: what no longer fits leaves. */
export const searchAnew = (): void => void ask(useResult.getState().of ?? '', true).catch(report);

export function setViewing(viewing: Partial<Viewing>): void {
  useViewing.setState(viewing);
  searchAnew();
}

export function useKeepResult(scope: string): void {
  const stage = useSession((state) => state.stage.state);
  const version = useSession((state) => state.indexVersion);
  useEffect(() => {
    if (stage === 'ready') ask(scope, false).catch(report);
  }, [scope, stage, version]);
}
