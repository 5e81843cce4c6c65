import { timingSafeEqual } from 'node:crypto';
import type { IncomingHttpHeaders } from 'node:http';
import type { Tokens } from './state-folder.js';

/** Why a request is not answered: a status of HTTP, and a sentence. */
export interface Refusal {
  readonly status: 401 | 403 | 405 | 411 | 413;
  readonly message: string;
}

/** What a body may have at most, in bytes: only pictures have one. */
const BODY = 64 * 1024;
export const LARGEST_PICTURE = 64 * 1024 * 1024;

/**
 * Who may ask at all. The server listens on loopback, but a browser brings strangers there: a page of another site (its
 * Origin is another), or a site whose name was made to mean this machine (its Host is another).
 *
 * @param origins others that may ask, too
 */
export function refusalOf(
  method: string,
  headers: IncomingHttpHeaders,
  port: number,
  path = '',
  origins: readonly string[] = [],
): Refusal | undefined {
  const hosts = ['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port}`);
  if (!hosts.includes(headers.host ?? ''))
    return {
      status: 403,
      message: `unknown host ${headers.host ?? '(none)'}. Use the address that the workbench printed`,
    };
  const { origin } = headers;
  if (origin !== undefined && !origins.includes(origin) && !hosts.some((host) => origin === `http://${host}`))
    return { status: 403, message: `requests from ${origin} are not allowed` };
  const isPicture = method === 'PUT' && path.startsWith('/api/pictures/');
  // Its length is known before it is read: a stream without an end is not taken.
  if (isPicture && headers['content-length'] === undefined)
    return { status: 411, message: 'a picture needs a content-length' };
  if (Number(headers['content-length'] ?? 0) > (isPicture ? LARGEST_PICTURE : BODY))
    return { status: 413, message: `a body of ${headers['content-length']} bytes is not allowed` };
  if (method !== 'GET' && method !== 'HEAD' && !isPicture)
    return { status: 405, message: `${method} is not allowed. Reels are edited over the page's connection` };
  return undefined;
}

/** Returns whether a token is valid. */
export function isToken(given: string | undefined, { present, last }: Pick<Tokens, 'present' | 'last'>): boolean {
  return isSame(given, present) || (last !== undefined && isSame(given, last));
}

function isSame(given: string | undefined, token: string): boolean {
  const [a, b] = [Buffer.from(given ?? ''), Buffer.from(token)];
  return a.length === b.length && timingSafeEqual(a, b);
}

/**
 * The Content Security Policy of the page: nothing is loaded from other sites, no text becomes a script, and no site
 * can frame it. Scripts set styles; pictures are created from fetched data.
 */
export const HEADERS: Readonly<Record<string, string>> = {
  'content-security-policy': [
    "default-src 'none'",
    "script-src 'self'",
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "connect-src 'self'",
    "worker-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; '),
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'no-referrer',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'cache-control': 'no-cache',
};
