'use client';

import { useMemo } from 'react';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { useSession } from './use-session';

/** The names of the drives that can be read now. */
export function useReachableDrives(): Set<string> {
  const drives = useLive(() => session.db.drives.toArray());
  const connections = useSession((state) => state.connections);
  return useMemo(
    () => new Set((drives ?? []).filter(({ id }) => connections[id]?.state === 'connected').map(({ name }) => name)),
    [drives, connections],
  );
}
