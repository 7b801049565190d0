import { randomBytes } from "node:crypto";
import { type NextRequest, NextResponse } from "next/server";

/** Gives every page a strict policy: scripts and styles only of our own making, nothing from elsewhere, no framing. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = randomBytes(16).toString("base64");
  const development = process.env.NODE_ENV !== "production";
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${development ? " 'unsafe-eval'" : ""}`,
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
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", policy);
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "same-origin");
  response.headers.set("cross-origin-opener-policy", "same-origin");
  return response;
}

/** Pages only: a request that passes here is held whole in memory first, and cut at ten megabytes. The API has headers of its own. */
export const config = { matcher: ["/((?!_next/static|icon.svg|api/).*)"] };
