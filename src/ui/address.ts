// What stands in the address behind the question mark, changed without leaving the place.

/** The address of a place, with what stands behind the question mark. */
export function addressOf(path: string, parts: URLSearchParams): string {
  return parts.size > 0 ? `${path}?${parts}` : path;
}

/**
 * Sets some of the parts; `null` and nothing take one away, the others stay. `push` makes it a step that the back
 * button takes back.
 */
export function changeAddress(changes: Readonly<Record<string, string | null>>, how: 'replace' | 'push' = 'replace') {
  const parts = new URLSearchParams(window.location.search);
  for (const [name, value] of Object.entries(changes)) {
    if (value === null || value === '') parts.delete(name);
    else parts.set(name, value);
  }
  const address = addressOf(window.location.pathname, parts);
  if (how === 'push') window.history.pushState(null, '', address);
  else window.history.replaceState(null, '', address);
}

/** What stands there by now; what the router has brought round may still be an earlier one. */
export const inAddress = (name: string): string | null => new URLSearchParams(window.location.search).get(name);
