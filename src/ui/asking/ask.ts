import type { Answer, AskOf, EndpointName } from "@/core/doors/endpoints/table";
import type { Refusal } from "@/core/plain/outcome";
import type { RefusalAnswer } from "@/core/views/api";

/** The server said no, or could not be reached; the message is a sentence for the person. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly code?: Refusal["code"],
  ) {
    super(message);
  }
}

/** It could not be asked, or the answer was lost: whether it happened is not known. */
export class Unreached extends Refused {}

/** Told to the page when the server knows of no session any more. */
export const SIGNED_OUT = "lens-signed-out";

/** A change set, as the addresses of the server name it. */
export interface ChangePlace {
  repo: string;
  number: string;
}

interface How {
  signal?: AbortSignal;
  /** Let the request go through although the page is being closed. */
  keepalive?: boolean;
}

interface Given {
  parts?: Record<string, string>;
  query?: Record<string, string | undefined>;
  body?: unknown;
}

type Rest<K extends EndpointName> =
  Record<never, never> extends AskOf<K> ? [given?: AskOf<K> & How] : [given: AskOf<K> & How];

/** The address of an endpoint, with its parts and its query filled in: for what is not asked by {@link ask}, such as streams and images. */
export function addressOf<K extends EndpointName>(name: K, ...[given]: Rest<K>): string {
  const { parts = {}, query = {} } = (given ?? {}) as Given;
  const path = name.slice(name.indexOf(" ") + 1).replace(/\{(\w+)\}/g, (_, part) => encodeURIComponent(parts[part]));
  const said = Object.entries(query).filter((entry): entry is [string, string] => entry[1] !== undefined);
  return said.length > 0 ? `${path}?${new URLSearchParams(said)}` : path;
}

/**
 * Asks the server for what the table of endpoints names and gives the answer; throws {@link Refused} with the reason.
 *
 * @example await ask("GET /api/repos/{repo}/changes/{number}/sizes", { parts: { repo: "harbour", number: "3" } })
 */
export async function ask<K extends EndpointName>(name: K, ...[given]: Rest<K>): Promise<Answer<K>> {
  const response = await answerTo(name, ...([given] as Rest<K>));
  return response.status === 204 ? (null as Answer<K>) : ((await response.json()) as Answer<K>);
}

/** So often, in milliseconds, are lines handed over while more of them come. */
const TOGETHER = 100;

/**
 * Asks for what is answered with lines of JSON, and hands them over as they come: the first at once, others together. Throws {@link Refused} with the
 * reason, also where the answer breaks off with one.
 *
 * @example await askLines("GET /api/repos/{repo}/changes/{number}/counts", (lines: CountsLine[]) => { … }, { parts, query })
 */
export async function askLines<K extends EndpointName, Line>(
  name: K,
  take: (lines: Line[]) => void,
  ...[given]: Rest<K>
): Promise<void> {
  const response = await answerTo(name, ...([given] as Rest<K>));
  if (!response.body) return;
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  let lines: Line[] = [];
  let last = 0;
  for (;;) {
    const { value, done } = await reader.read();
    const parts = (rest + (value ?? "")).split("\n");
    rest = parts.pop() ?? "";
    for (const part of parts) {
      if (part === "") continue;
      const line: Line | RefusalAnswer = JSON.parse(part);
      if (isRefusal(line)) throw new Refused(line.refusal.reason, line.refusal.code);
      lines.push(line);
    }
    if (lines.length > 0 && (done || performance.now() - last > TOGETHER)) {
      take(lines);
      lines = [];
      last = performance.now();
    }
    if (done) return;
  }
}

function isRefusal(line: unknown): line is RefusalAnswer {
  return typeof line === "object" && line !== null && "refusal" in line;
}

async function answerTo<K extends EndpointName>(name: K, ...[given]: Rest<K>): Promise<Response> {
  const { signal, keepalive } = (given ?? {}) as How;
  const { body } = (given ?? {}) as Given;
  const isJson = body !== undefined && !(body instanceof Blob);
  let response: Response;
  try {
    response = await fetch(addressOf(name, ...([given] as Rest<K>)), {
      method: name.slice(0, name.indexOf(" ")),
      signal,
      keepalive,
      headers: isJson ? { "content-type": "application/json" } : undefined,
      body: isJson ? JSON.stringify(body) : (body as Blob | undefined),
    });
  } catch (error) {
    if (signal?.aborted && signal.reason?.name !== "TimeoutError") throw error;
    throw new Unreached("The server cannot be reached just now.");
  }
  if (response.status === 401 && !name.includes("/api/sign-in")) window.dispatchEvent(new Event(SIGNED_OUT));
  if (!response.ok) throw await refusedBy(response);
  return response;
}

/** Where who is signed out signs in, and comes back from. */
export function signInAddress(): string {
  return `/sign-in?next=${encodeURIComponent(window.location.pathname + window.location.search)}`;
}

async function refusedBy(response: Response): Promise<Refused> {
  const answer = (await response.json().catch(() => null)) as RefusalAnswer | null;
  const { reason, code } = answer?.refusal ?? {};
  return new Refused(reason ?? `The server answered ${response.status} without a reason.`, code);
}

/** What to show of anything that was thrown. */
export function reasonFrom(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
