'use client';

// Why photos are not safe by the person's rule: live lists, each a search.

import type { SafeRule } from '@/core/fixity/safe';
import { quoted } from '@/core/query/write-scope';
import type { DriveRecord } from '@/storage/catalog/records';
import { useCounts } from '@/features/parts/search/use-counts';
import { findAddress } from '@/features/parts/search/use-scope';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import type { Need } from './need-list';

type Reason = Omit<Need, 'count' | 'to'> & { scope: string };

const CHECK = { to: '/safekeep#check', words: 'Check' };
const SETTLE = { to: '/safekeep#to-settle', words: 'Settle' };
const DOUBLES = { to: '/safekeep#doubles', words: 'See' };
const copyOf = (scope: string) => ({
  to: `/safekeep?q=${encodeURIComponent(scope)}&what=search#second-copy`,
  words: 'Copy',
});

function reasonsOf({ elsewhere }: SafeRule, connected: readonly string[]): Reason[] {
  const lacking = (scope: string, words: string): Reason => ({ scope, words, level: 'attention', act: copyOf(scope) });
  return [
    { scope: 'copies:0', words: 'no verified copy', level: 'attention', act: CHECK },
    lacking('copies:1', 'one verified copy only'),
    lacking('unsafe:copies', 'too few copies by your rule'),
    ...(elsewhere > 0 ? [lacking('unsafe:elsewhere', 'too few elsewhere')] : []),
    { scope: 'unsafe:check', words: 'check overdue', level: 'caution', act: CHECK },
    { scope: 'state:unread', words: 'never read in full on some drive', level: 'caution', act: CHECK },
    { scope: 'state:damaged', words: 'damaged on some drive', level: 'attention', act: SETTLE },
    { scope: 'state:doubt', words: 'in doubt', level: 'attention', act: SETTLE },
    { scope: 'state:missing', words: 'missing on some drive', level: 'attention', act: SETTLE },
    { scope: 'state:twice', words: 'twice on one drive', level: 'caution', act: DOUBLES },
    {
      scope: connected.map((name) => `-drive=${quoted(name)}`).join(' '),
      words: 'on no connected drive',
      level: 'caution',
      act: null,
    },
  ];
}

/** How many photos there are, how many of them are safe, and why the rest is not. */
export function useUnsafe(drives: readonly DriveRecord[]): { all: number; safe: number; needs: Need[] } {
  const { rule } = useKeeping();
  const connections = useSession((state) => state.connections);
  const connected = drives.filter(({ id }) => connections[id]?.state === 'connected').map(({ name }) => name);
  const reasons = reasonsOf(rule, connected);
  const [all = 0, safe = 0, ...counts] = useCounts(['', 'safe:yes', ...reasons.map(({ scope }) => scope)]);
  return {
    all,
    safe,
    needs: reasons.map(({ scope, ...reason }, at) => ({ ...reason, to: findAddress(scope), count: counts[at] ?? 0 })),
  };
}
