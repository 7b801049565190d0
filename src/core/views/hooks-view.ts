/** What travels between the browser and the server about webhooks: addresses that are told what happens. */
import * as v from "valibot";
import { EVENTS } from "../review/families/table";

/** Kinds of events, as webhooks name them. */
export const HOOK_KINDS = Object.keys(EVENTS) as (keyof typeof EVENTS)[];

/** A webhook without its secret. */
export interface HookView {
  id: string;
  url: string;
  /** Empty: everything. */
  kinds: string[];
  madeAt: number;
  /** How many messages wait to be delivered. */
  waiting: number;
}

/** One message to one address. */
export interface DeliveryView {
  id: string;
  kind: string;
  at: number;
  tries: number;
  /** When it was taken; null while it was not. */
  doneAt: number | null;
  /** It is not tried again by itself. */
  givenUp: boolean;
  /** What was answered last, or why nothing was. */
  answer: string;
}

export const hookRequest = v.object({
  url: v.pipe(v.string(), v.trim(), v.maxLength(2_000)),
  kinds: v.pipe(v.array(v.picklist(HOOK_KINDS)), v.maxLength(100)),
});
export type HookRequest = v.InferOutput<typeof hookRequest>;
