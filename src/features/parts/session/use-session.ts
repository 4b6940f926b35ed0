'use client';

import { sessionState } from '@/engine/session';
import { boundStore } from '@/ui/bound-store';

/** What the running application says of itself, as it changes. */
export const useSession = boundStore(sessionState);
