/** Why something was not done, in a sentence for the person who asked. */
export interface Refusal {
  /** Which kind of no: it must be asked differently, by someone else, of another state or of something that exists, with less, or later. */
  code: "invalid" | "forbidden" | "conflict" | "missing" | "large" | "later";
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
