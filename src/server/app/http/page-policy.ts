import { randomBytes } from "node:crypto";
import type { IncomingMessage, ServerResponse } from "node:http";

/** What never changes needs none. */
const IS_FILE = /^\/(?:_next\/static\/|icon\.svg$)/;
/** The API has headers of its own; who wants a page there is shown the one that says that there is none. */
const IS_API = /^\/api\//;
/** By which the page that is made hears what its scripts and styles are known by. */
export const NONCE = "x-nonce";

/**
 * Gives every page a strict policy: scripts and styles only of our own making, nothing from elsewhere, no framing. What the framework makes of the page it reads
 * from the headers of the request, so that a browser's own under these names are never heard.
 */
export function setPagePolicy(request: IncomingMessage, response: ServerResponse, path: string, dev: boolean): void {
  for (const name of [NONCE, "content-security-policy", "content-security-policy-report-only"])
    delete request.headers[name];
  if (IS_FILE.test(path) || (IS_API.test(path) && !request.headers.accept?.includes("text/html"))) return;
  const nonce = randomBytes(16).toString("base64");
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${dev ? " 'unsafe-eval'" : ""}`,
    // Heights and places of rows and cards are style attributes; style sheets must be ours.
    `style-src 'self' 'nonce-${nonce}'`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join("; ");
  request.headers[NONCE] = nonce;
  request.headers["content-security-policy"] = policy;
  response.setHeader("content-security-policy", policy);
  response.setHeader("x-content-type-options", "nosniff");
  response.setHeader("referrer-policy", "same-origin");
  response.setHeader("cross-origin-opener-policy", "same-origin");
}
