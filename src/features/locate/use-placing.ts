'use client';

import { useEffect, useState } from 'react';
import type { Placing } from '@/core/search/placing';
import { session, useSession } from '../session/session';

/** The clocks and positions of the photos of a scope, asked for anew when something has changed; `null` at first. */
export function usePlacing(scope: string): Placing | null {
  const stage = useSession((state) => state.stage);
  const version = useSession((state) => state.indexVersion);
  const [placing, setPlacing] = useState<Placing | null>(null);
  useEffect(() => {
    if (stage !== 'ready') return;
    let current = true;
    session.search.placing(scope).then((found) => current && setPlacing(found), (error: unknown) => console.error(error));
    return () => {
      current = false;
    };
  }, [scope, stage, version]);
  return placing;
}
