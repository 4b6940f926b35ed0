// How this page reaches the host. The link that the server prints at its start carries a key behind its `#`, which no
// log and no other site sees. The page keeps it with its own storage, which knows ports, and takes it out of the address.
// It is worth nothing after the server has ended.

import { HostClient } from '@/storage/host/host-client';

const KEY = 'wembo-key';
const BROWSER = 'wembo-browser';
const IN_ADDRESS = /^#key=([\w-]{16,200})$/;

/** `null` where this page was never opened by such a link. */
export function hostOfPage(): HostClient | null {
  if (typeof localStorage === 'undefined') return null; // pages are drawn on the server once
  // the link of a later start is opened where the page is open already: it begins anew with it
  addEventListener('hashchange', () => IN_ADDRESS.test(location.hash) && location.reload());
  const [, brought] = IN_ADDRESS.exec(location.hash) ?? [];
  if (brought) {
    localStorage.setItem(KEY, brought);
    history.replaceState(history.state, '', location.pathname + location.search);
  }
  const token = localStorage.getItem(KEY);
  if (token === null) return null;
  const owner = localStorage.getItem(BROWSER) ?? crypto.randomUUID();
  localStorage.setItem(BROWSER, owner);
  return new HostClient({ origin: location.origin, token, owner });
}
