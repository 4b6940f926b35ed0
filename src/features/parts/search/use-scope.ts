'use client';

// The scope lives in the address bar (`?q=`), and with it the photo shown large (`?photo=`).

import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useCallback } from 'react';
import { addressOf, changeAddress, inAddress } from '@/ui/address';

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
export const scopeInAddress = (): string => inAddress('q') ?? '';

export const findAddress = (scope: string): string =>
  addressOf('/find', new URLSearchParams(scope === '' ? {} : { q: scope }));

/** A photo of a scope, shown large. */
export const photoAddress = (scope: string, photoId: string): string =>
  addressOf('/find', new URLSearchParams({ ...(scope !== '' && { q: scope }), photo: photoId }));

/** Where narrowing happens in the place, and what is closed by it there; from another place the wall is opened. */
const CLOSED_BY_SCOPE: Readonly<Record<string, Readonly<Record<string, null>>>> = {
  '/find': { photo: null },
  '/sift': { photo: null, round: null },
  '/describe': {},
  '/locate': {},
  '/send-out': {},
};

export function useScope(): ScopeInAddress {
  const params = useSearchParams();
  const path = usePathname();
  const router = useRouter();
  const scope = params.get('q') ?? '';
  const photo = params.get('photo');

  const setScope = useCallback(
    (change: string | ((now: string) => string)) => {
      const next = typeof change === 'string' ? change : change(scopeInAddress());
      const closed = CLOSED_BY_SCOPE[path];
      if (closed) changeAddress({ ...closed, q: next });
      else router.push(findAddress(next));
    },
    [path, router],
  );

  const setPhoto = useCallback((photoId: string | null) => {
    // opening is a step the back button takes back; leafing through is not
    changeAddress({ photo: photoId }, photoId !== null && inAddress('photo') === null ? 'push' : 'replace');
  }, []);
  return { scope, setScope, photo, setPhoto };
}

/** Where the selection is sent out; the search goes along. */
export const sendSelectionAddress = (scope: string): string =>
  addressOf('/send-out', new URLSearchParams({ what: 'selection', ...(scope !== '' && { q: scope }) }));
