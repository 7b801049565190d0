import type { InferOutput } from "valibot";
import type { EVENTS } from "./families/table";

export type EventName = keyof typeof EVENTS;

/** What an entry of each kind tells. */
export type EventData = { [K in EventName]: InferOutput<(typeof EVENTS)[K]["data"]> };

/** One entry of the log. `id` is globally unique and sorts by time; `at` is milliseconds since 1970. */
export type ReviewEvent = {
  [K in EventName]: { id: string; stream: string; kind: K; version: 1; by: string; at: number; data: EventData[K] };
}[EventName];

/** An event before it is written: what the decision gives. */
export type NewEvent = { [K in EventName]: { kind: K; data: EventData[K] } }[EventName];
