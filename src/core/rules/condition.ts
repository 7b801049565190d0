export const CONDITION_KEYS = [
  "draft",
  "moved-on",
  "conflicts",
  "approvals",
  "steward",
  "requests",
  "threads",
  "tasks",
  "check",
  "work-item",
  "title",
  "commits",
  "signed-off",
  "linear",
  "up-to-date",
  "load",
  "freeze",
] as const;
export type ConditionKey = (typeof CONDITION_KEYS)[number];

/** One thing that must be true before a change set merges, and how it stands. */
export interface Condition {
  /** Tells it from the others of the same gate. */
  id: string;
  key: ConditionKey;
  met: boolean;
  /** The condition and how it stands, in one or two sentences. */
  says: string;
  /** Ids of the people whose answer the condition is about: who approved, or who asks for changes. */
  people: string[];
  /** Who or what can meet it, in words; null when it is met. */
  who: string | null;
  /** Ids of the people who can meet it now. */
  canMeet: string[];
}

/** A condition about no person's answer. */
export function plain(key: ConditionKey, met: boolean, says: string, who: string | null, id: string = key): Condition {
  return { id, key, met, says, people: [], who: met ? null : who, canMeet: [] };
}
