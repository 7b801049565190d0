import * as v from "valibot";
import { type Outcome, REFUSALS, type Refusal, refuse } from "@/core/outcome";
import { listed } from "@/core/words";
import type { Doer } from "../access/audit";
import type { Person } from "../access/people";
import { COOKIE, personOfSession } from "../access/sessions";
import { bearerOf } from "../access/tokens";
import { FROM } from "../access/whence";
import { type Lens, lens } from "./lens";
import { troubleOf } from "./trouble";

const LARGEST_BODY = 4 * 1024 * 1024;

/** What a handler is given: the request, the parts of its address, the installation, and who asks. */
export interface Asked<Parts> {
  request: Request;
  url: URL;
  parts: Parts;
  lens: Lens;
  person: Person;
  /** Who asks and from where, for the audit log. */
  doer: Doer;
}

/** How Next calls a route handler. */
export type Route<Parts> = (request: Request, context: { params: Promise<Parts> }) => Promise<Response>;

/** A route for people who are signed in. Every write is checked for where it comes from. */
export function signedIn<Parts>(handler: (asked: Asked<Parts>) => Promise<Response>): Route<Parts> {
  return forEveryone<Parts>(async (asked) => {
    const { lens: installation, request } = asked;
    const person = await personOfSession(installation, cookieOf(request));
    if (person) return handler({ ...asked, person, doer: { person: person.id, address: asked.from } });
    const bearer = await bearerOf(installation, request.headers.get("authorization"));
    if (!bearer) return refused({ code: "unauthenticated", reason: "Sign in first." });
    const needed = request.method === "GET" || request.method === "HEAD" ? "read" : "write";
    if (!bearer.scopes.includes(needed))
      return refused({
        code: "forbidden",
        reason: `This token may not ${needed}: it is for ${listed(bearer.scopes)}.`,
      });
    return handler({ ...asked, person: bearer.person, doer: { person: bearer.person.id, address: asked.from } });
  });
}

/** A route for people in a browser: what a token must not do, such as making others. */
export function inBrowser<Parts>(handler: (asked: Asked<Parts>) => Promise<Response>): Route<Parts> {
  return forEveryone<Parts>(async (asked) => {
    const person = await personOfSession(asked.lens, cookieOf(asked.request));
    if (!person) {
      const byToken = await bearerOf(asked.lens, asked.request.headers.get("authorization"));
      return byToken
        ? refused({ code: "forbidden", reason: "A token cannot do this: sign in with your password." })
        : refused({ code: "unauthenticated", reason: "Sign in first." });
    }
    return handler({ ...asked, person, doer: { person: person.id, address: asked.from } });
  });
}

/** A route for administrators in a browser. Others are told the same as if it did not exist. */
export function forAdministrators<Parts>(handler: (asked: Asked<Parts>) => Promise<Response>): Route<Parts> {
  return inBrowser<Parts>(async (asked) =>
    asked.person.administrator === 1
      ? handler(asked)
      : refused({ code: "missing", reason: "There is nothing here that you may see." }),
  );
}

/** A route for everyone. What goes wrong unforeseen is logged whole and answered with a sentence. */
export function forEveryone<Parts>(
  handler: (asked: Omit<Asked<Parts>, "person" | "doer"> & { from: string }) => Promise<Response>,
): Route<Parts> {
  return async (request, context) => guardedAnswer(await answerTo(request, context));

  async function answerTo(request: Request, context: { params: Promise<Parts> }): Promise<Response> {
    const installation = await lens();
    const url = new URL(request.url);
    try {
      const foreign = fromElsewhere(request, installation.settings.address);
      return foreign
        ? refused(foreign)
        : await handler({
            ...{ request, url, parts: await context.params, lens: installation },
            from: request.headers.get(FROM) ?? "",
          });
    } catch (error) {
      const known = troubleOf(error);
      if (known) {
        installation.log.error({ err: error, method: request.method, path: url.pathname }, known);
        return refused({ code: "unavailable", reason: known });
      }
      const reference = installation.newId();
      installation.log.error({ err: error, reference, method: request.method, path: url.pathname }, "request failed");
      return refused({
        code: "internal",
        reason: `Something went wrong here. The server’s log has it under ${reference}.`,
      });
    }
  }
}

const GUARDS = {
  "content-security-policy": "default-src 'none'; frame-ancestors 'none'; sandbox",
  "x-content-type-options": "nosniff",
  "referrer-policy": "same-origin",
};

/** What the API answers is read by programs: nothing in it runs, whoever opens it. A route may say so in stricter words. */
function guardedAnswer(response: Response): Response {
  for (const [name, value] of Object.entries(GUARDS))
    if (!response.headers.has(name)) response.headers.set(name, value);
  return response;
}

/**
 * Writes must come from our own pages. Browsers name the page they come from in Origin, or say in Sec-Fetch-Site how it relates; a
 * client that is no browser sends neither and carries no one else's cookie.
 */
export function fromElsewhere(request: Request, address: string | null): Refusal | null {
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

/** Reads and checks the body of a write; JSON only, so that no plain form of another site can make one. */
export async function bodyOf<S extends v.GenericSchema>(
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
  const [issue] = parsed.issues;
  return refuse("invalid", `${v.getDotPath(issue) ?? "The request"}: ${issue.message}`);
}

/** An outcome as an answer: its value as JSON, or its refusal with the matching status. */
export function answer<T>(outcome: Outcome<T>): Response {
  return outcome.ok ? Response.json(outcome.value, { headers: PRIVATE }) : refused(outcome.refusal);
}

export function refused(refusal: Refusal, status: number = REFUSALS[refusal.code]): Response {
  return Response.json({ refusal }, { status, headers: PRIVATE });
}

/** JSON that is ready made. What was computed from contents alone never changes, and may be kept by the browser of who may see it. */
export function readyJson(json: string, forever: boolean): Response {
  const headers = {
    "content-type": "application/json",
    "cache-control": forever ? "private, max-age=31536000, immutable" : "no-store",
  };
  return new Response(json, { headers });
}

const PRIVATE = { "cache-control": "no-store" };

export function cookieOf(request: Request): string | undefined {
  for (const part of request.headers.get("cookie")?.split(";") ?? []) {
    const [name, value] = part.trim().split("=");
    if (name === COOKIE) return value;
  }
  return undefined;
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
