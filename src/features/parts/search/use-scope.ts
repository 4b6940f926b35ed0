'use client';

// The scope lives in the address bar (`?q=`), and with it the photo shown large (`?photo=`).

import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useCallback } from 'react';

export interface ScopeInAddress {
  scope: string;
  /**
   * The scope to be, or what it becomes from the one that is asked for by now: the screen may still show an earlier
   * one.
   */
  setScope: (next: string | ((now: string) => string)) => void;
  photo: string | null;
  setPhoto: (photoId: string | null) => void;
}

/** The scope that is asked for by now; what the router has brought round may still be an earlier one. */
export const scopeInAddress = (): string => new URLSearchParams(window.location.search).get('q') ?? '';

export const findAddress = (scope: string): string => (scope === '' ? '/find' : `/find?q=${encodeURIComponent(scope)}`);

/** The address as it is, with another scope. */
function withScope(path: string, scope: string): string {
  const address = new URLSearchParams(window.location.search);
  if (scope === '') address.delete('q');
  else address.set('q', scope);
  return `${path}${address.size > 0 ? `?${address}` : ''}`;
}

export function useScope(): ScopeInAddress {
  const params = useSearchParams();
  const path = usePathname();
  const router = useRouter();
  const scope = params.get('q') ?? '';
  const photo = params.get('photo');

  const setScope = useCallback(
    (change: string | ((now: string) => string)) => {
      const next = typeof change === 'string' ? change : change(scopeInAddress());
      // narrowing happens on the wall, in sifting, describing and locating; from another place the wall is opened
      if (path === '/sift')
        window.history.replaceState(null, '', `/sift${next === '' ? '' : `?q=${encodeURIComponent(next)}`}`);
      else if (path === '/describe' || path === '/locate') window.history.replaceState(null, '', withScope(path, next));
      else if (path !== '/find') router.push(findAddress(next));
      else window.history.replaceState(null, '', findAddress(next));
    },
    [path, router],
  );

  const setPhoto = useCallback(
    (photoId: string | null) => {
      const next = new URLSearchParams(window.location.search);
      const wasOpen = next.has('photo');
      if (photoId === null) next.delete('photo');
      else next.set('photo', photoId);
      const address = `${path}${next.size > 0 ? `?${next}` : ''}`;
      // opening is a step the back button takes back; leafing through is not
      if (photoId !== null && !wasOpen) window.history.pushState(null, '', address);
      else window.history.replaceState(null, '', address);
    },
    [path],
  );
  return { scope, setScope, photo, setPhoto };
}
