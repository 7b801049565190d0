/** Kinds of refusals, with the status by which HTTP tells them. */
export const REFUSALS = {
  invalid: 422,
  unauthenticated: 401,
  forbidden: 403,
  conflict: 409,
  missing: 404,
  "too-large": 413,
  "too-many": 429,
  internal: 500,
  unavailable: 503,
} as const;

/** Why something was not done, in a sentence for the person who asked. */
export interface Refusal {
  /**
   * Which kind of no: it must be asked differently, by someone who is signed in, by someone else, of another state, of something that
   * exists, with less, or later; or it is our fault, for now (unavailable) or altogether (internal).
   */
  code: keyof typeof REFUSALS;
  reason: string;
}

/** What an attempt gives: a value, or a refusal. Errors that a person can act on are values, never exceptions. */
export type Outcome<T> = { ok: true; value: T } | { ok: false; refusal: Refusal };

export function done<T>(value: T): Outcome<T> {
  return { ok: true, value };
}

export function refuse(code: Refusal["code"], reason: string): { ok: false; refusal: Refusal } {
  return { ok: false, refusal: { code, reason } };
}
