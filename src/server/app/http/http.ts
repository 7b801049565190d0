import { parse as parseCookies } from "cookie";
import * as v from "valibot";
import { type Outcome, REFUSALS, type Refusal, refuse } from "@/core/plain/outcome";
import { wrongIn } from "@/core/plain/shape";

const LARGEST_BODY = 4 * 1024 * 1024;

export const GUARDS = {
  "content-security-policy": "default-src 'none'; frame-ancestors 'none'; sandbox",
  "x-content-type-options": "nosniff",
  "referrer-policy": "same-origin",
};

/** What the API answers is read by programs: nothing in it runs, whoever opens it. A route may say so in stricter words. */
export function guardedAnswer(response: Response): Response {
  for (const [name, value] of Object.entries(GUARDS))
    if (!response.headers.has(name)) response.headers.set(name, value);
  return response;
}

/**
 * Writes must come from our own pages. Browsers name the page they come from in Origin, or say in Sec-Fetch-Site how it relates; a
 * client that is no browser sends neither and carries no one else's cookie.
 */
export function forbiddenElsewhere(request: Request, address: string | null): Refusal | null {
  if (request.method === "GET" || request.method === "HEAD") return null;
  const refusal: Refusal = {
    code: "forbidden",
    reason: "This request came from a page of another site, so it was not carried out.",
  };
  const origin = request.headers.get("origin");
  if (origin !== null) {
    if (address !== null) return origin === address ? null : refusal;
    const host = request.headers.get("host");
    return URL.canParse(origin) && new URL(origin).host === host ? null : refusal;
  }
  const site = request.headers.get("sec-fetch-site");
  return site === null || site === "same-origin" || site === "none" ? null : refusal;
}

/** Where this installation is reached: as it is set, or as the request came. Without a slash at its end. */
export function addressOf(request: Request, address: string | null): string {
  if (address !== null) return address;
  const proto = request.headers.get("x-forwarded-proto") ?? "http";
  return `${proto}://${request.headers.get("host") ?? new URL(request.url).host}`;
}

/** Reads and checks the body of a write; JSON only, so that no plain form of another site can make one. */
export async function jsonOf<S extends v.GenericSchema>(
  request: Request,
  schema: S,
): Promise<Outcome<v.InferOutput<S>>> {
  if (!request.headers.get("content-type")?.startsWith("application/json"))
    return refuse("invalid", "The body must be JSON, with its content type.");
  const bytes = await bytesOf(request, LARGEST_BODY);
  if (!bytes.ok) return bytes;
  const text = new TextDecoder().decode(bytes.value);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return refuse("invalid", "The body is not JSON.");
  }
  return checked(schema, json);
}

/** The bytes of a body, up to a size; larger ones are refused as soon as that shows. */
export async function bytesOf(request: Request, most: number): Promise<Outcome<Uint8Array>> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    size += part.value.length;
    if (size > most) {
      await reader?.cancel();
      return refuse("too-large", `That is too large: ${Math.floor(most / 1024 / 1024)} MB are the most.`);
    }
    chunks.push(part.value);
  }
  return { ok: true, value: Buffer.concat(chunks) };
}

/** What was asked, if it has the right shape; else what is wrong with it. */
export function checked<S extends v.GenericSchema>(schema: S, asked: unknown): Outcome<v.InferOutput<S>> {
  const parsed = v.safeParse(schema, asked);
  if (parsed.success) return { ok: true, value: parsed.output };
  return refuse("invalid", wrongIn(parsed.issues, "The request"));
}

/** An outcome as an answer: its value as JSON, or its refusal with the matching status. */
export function answer<T>(outcome: Outcome<T>, status = 200): Response {
  return outcome.ok ? jsonAnswer(outcome.value, { status }) : refused(outcome.refusal);
}

export function refused(refusal: Refusal, status: number = REFUSALS[refusal.code]): Response {
  return jsonAnswer({ refusal }, { status });
}

/** A value as JSON that nobody keeps. */
export function jsonAnswer(
  value: unknown,
  { status = 200, headers }: { status?: number; headers?: Record<string, string> } = {},
): Response {
  const json = JSON.stringify(value);
  return new Response(json, { status, headers: { ...headersOf(json, "no-store"), ...headers } });
}

/** JSON that is ready made. What was computed from contents alone never changes, and may be kept by the browser of who may see it. */
export function readyJson(json: string, forever: boolean): Response {
  const kept = forever ? "private, max-age=31536000, immutable" : "no-store";
  return new Response(json, { headers: headersOf(json, kept) });
}

/** Characters up to which it takes longer to pack an answer than to send it: three packets of a network, which go out together. */
const SHORT = 4_000;

function headersOf(json: string, kept: string): Record<string, string> {
  return {
    "content-type": "application/json",
    "cache-control": json.length <= SHORT ? `${kept}, no-transform` : kept,
  };
}

/** The value of a cookie. */
export function cookieOf(request: Request, name: string): string | undefined {
  return parseCookies(request.headers.get("cookie") ?? "")[name];
}

/** Whether the browser came by https, straight or by way of a proxy. */
export function bySecureWay(request: Request, address: string | null): boolean {
  return (
    address?.startsWith("https:") ||
    request.headers.get("x-forwarded-proto") === "https" ||
    new URL(request.url).protocol === "https:"
  );
}

/** A whole number above zero from a part of an address. */
export function numberOf(text: string): number {
  return /^[1-9]\d{0,8}$/.test(text) ? Number(text) : 0;
}

/** An image that someone put in: nothing in it may run, whatever it is opened as. */
export function imageAnswer({ type, bytes }: { type: string; bytes: Uint8Array }): Response {
  return new Response(Uint8Array.from(bytes), {
    headers: {
      "content-type": type,
      "content-security-policy": "default-src 'none'; sandbox",
      "x-content-type-options": "nosniff",
      "cache-control": "private, max-age=31536000, immutable",
    },
  });
}
