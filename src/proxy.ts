// Every request but those about folders, which look at it themselves (a body that passes here is cut at 10 MB without a
// word): from this server's own pages, or a page that is opened. And what a page may do, in a policy the browser
// enforces: nothing leaves this machine, no script but ours runs.

import { type NextRequest, NextResponse } from 'next/server';
import { guardSettings, refusedBySite } from '@/server/host/guard';

export const config = { matcher: '/((?!api/host/).*)' };

export function proxy(request: NextRequest): NextResponse {
  const settings = guardSettings();
  const { headers, method, nextUrl } = request;
  if (isOtherName(headers.get('host'), settings.host) && method === 'GET')
    return NextResponse.redirect(`http://${settings.host}${nextUrl.pathname}${nextUrl.search}`, 307);
  // a link somewhere leads here: the page opens, and has nothing that its own script does not bring
  const isOpened = method === 'GET' && headers.get('sec-fetch-dest') === 'document' && !isApi(nextUrl.pathname);
  const refusal = refusedBySite(headers, method, settings, isOpened);
  if (refusal) return NextResponse.json({ error: refusal.reason }, { status: refusal.status });
  if (isScript(nextUrl.pathname)) return withPolicy(NextResponse.next(), policyOf(WORKER_SCRIPTS));
  const nonce = btoa(crypto.randomUUID());
  const policy = policyOf(`'self' 'nonce-${nonce}' ${IS_BUILT ? "'wasm-unsafe-eval'" : "'unsafe-eval'"}`);
  const inner = new Headers(headers);
  inner.set('x-nonce', nonce);
  inner.set('content-security-policy', policy);
  return withPolicy(NextResponse.next({ request: { headers: inner } }), policy);
}

function withPolicy(response: NextResponse, policy: string): NextResponse {
  response.headers.set('content-security-policy', policy);
  return response;
}

/** While it is developed, the framework puts scripts together from text. */
const IS_BUILT = process.env.NODE_ENV === 'production';

/** What a script may do that runs as a worker is said with it; in a page the page's policy holds for it. */
const isScript = (path: string): boolean => path.startsWith('/_next/static/') || path.startsWith('/decoders/');

/** The decoders of pictures (Emscripten) put functions together from text, and run in workers only. */
const WORKER_SCRIPTS = "'self' 'unsafe-eval'";

const isApi = (path: string): boolean => path.startsWith('/api/');

/** The other name of this machine: its storage is another, so that one is led to the one that has the catalog. */
const isOtherName = (host: string | null, own: string): boolean =>
  host !== null && host !== own && host === own.replace('127.0.0.1', 'localhost');

/**
 * Content Security Policy Level 3. Styles may stand in the page, since the components write theirs there; WebAssembly is
 * what the decoders are made of.
 */
const policyOf = (scripts: string): string =>
  [
    "default-src 'none'",
    `script-src ${scripts}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "media-src 'self' blob:",
    "font-src 'self' data:",
    "connect-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
