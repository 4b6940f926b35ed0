'use client';

import { type Keeping, NO_KEEPING } from '@/core/fixity/keeping';
import { readKeeping } from '@/storage/catalog/keeping';
import { useLive } from '@/storage/catalog/live';
import { session, sessionState } from '@/engine/session';
import { boundStore } from '@/ui/bound-store';

/** What the running application says of itself, as it changes. */
export const useSession = boundStore(sessionState);

/** What the catalog is kept by, as it is now: the rule, and what is said of the drives. */
export const useKeeping = (): Keeping => useLive(() => readKeeping(session.db)) ?? NO_KEEPING;
