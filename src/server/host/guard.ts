// Who may ask. The server listens on this machine alone; what else runs here, other pages in the same browser, other
// people's programs, is kept out by four things, each looked at on every request:
//
//   Host             is this server's own address, letter by letter: another name that leads here is another site's
//   Origin           is this server's, where there is one, and there must be one on all that is not read by GET
//   Sec-Fetch-Site   same-origin; or none, for an address that the person typed
//   token            in a header of its own, for everything about folders. Not in a cookie: cookies know no ports, and
//                    every other program's page on this address would send it, and be sent it (measured)
//
// The token is new at each start, so what an older one has learned is worth nothing.

import { timingSafeEqual } from 'node:crypto';
import { TOKEN_HEADER } from '@/storage/host/protocol';

export interface GuardSettings {
  /** `127.0.0.1:9362`. */
  host: string;
  /** `null`: nothing about folders is answered. */
  token: string | null;
}

/** The server's own port: W, E, M, B on the keys of a telephone. */
const PORT = '9362';

/** As the start (tools/setup/run.mjs) says it. */
export const guardSettings = (env: NodeJS.ProcessEnv = process.env): GuardSettings => ({
  host: env.WEMBO_HOST ?? `127.0.0.1:${env.PORT ?? PORT}`,
  token: env.WEMBO_TOKEN ?? null,
});

export type RefusedRequest = { status: 400 | 401 | 403 | 421; reason: string };

/**
 * Of every request, a page's or its files' too. `null` where nothing speaks against it.
 * @param isOpened a page is opened, whoever led there
 */
export function refusedBySite(
  headers: Headers,
  method: string,
  { host }: Pick<GuardSettings, 'host'>,
  isOpened = false,
): RefusedRequest | null {
  if (headers.get('host') !== host) return { status: 421, reason: 'not an address of this server' };
  const origin = headers.get('origin');
  if (origin !== null && origin !== `http://${host}`) return { status: 403, reason: 'from another site' };
  const reads = method === 'GET' || method === 'HEAD';
  if (!reads && origin === null) return { status: 403, reason: 'from no page' };
  const site = headers.get('sec-fetch-site');
  if (!isOpened && site !== null && site !== 'same-origin' && !(site === 'none' && reads))
    return { status: 403, reason: 'from another site' };
  return null;
}

/** Of a request about folders. */
export function refusedByToken(headers: Headers, { token }: Pick<GuardSettings, 'token'>): RefusedRequest | null {
  const given = headers.get(TOKEN_HEADER);
  return token !== null && given !== null && isSame(given, token)
    ? null
    : { status: 401, reason: 'open Wembo by the link that it printed at its start' };
}

/** In a time that does not tell how much of it is right. */
export function isSame(given: string, wanted: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}
