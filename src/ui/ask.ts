import type { RefusalAnswer } from "@/core/api";

/** The server said no, or could not be reached; the message is a sentence for the person. */
export class Refused extends Error {}

/** It could not be asked, or the answer was lost: whether it happened is not known. */
export class Unreached extends Refused {}

interface Asking {
  method?: "GET" | "POST" | "PUT" | "DELETE";
  body?: unknown;
  signal?: AbortSignal;
  /** Let the request go through although the page is being closed. */
  keepalive?: boolean;
}

/** Asks the server and gives its JSON; throws {@link Refused} with the reason. */
export async function ask<T>(path: string, { method = "GET", body, signal, keepalive }: Asking = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      signal,
      keepalive,
      headers: body === undefined ? undefined : { "content-type": "application/json" },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new Unreached("The server cannot be reached just now.");
  }
  if (response.status === 401 && !path.startsWith("/api/sign-in")) window.location.assign(signInAddress());
  if (!response.ok) throw new Refused(await reasonOf(response));
  return response.status === 204 ? (undefined as T) : ((await response.json()) as T);
}

function signInAddress(): string {
  return `/sign-in?next=${encodeURIComponent(window.location.pathname + window.location.search)}`;
}

async function reasonOf(response: Response): Promise<string> {
  const answer = (await response.json().catch(() => null)) as RefusalAnswer | null;
  return answer?.refusal?.reason ?? `The server answered ${response.status} without a reason.`;
}

/** What to show of anything that was thrown. */
export function reasonFrom(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
