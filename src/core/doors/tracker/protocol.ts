import * as v from "valibot";

/** How a tracker of others is asked by HTTP: docs/tracker.md. What comes from there is of others, and held against these shapes. */
const text = (most: number) => v.pipe(v.string(), v.maxLength(most));

/** What an item is called: a number, or letters, numbers and hyphens. */
export const itemName = v.pipe(v.string(), v.regex(/^[A-Za-z0-9][A-Za-z0-9-]{0,39}$/, "That is no name of an item."));

const state = v.picklist(["open", "done"]);

/** An item as a tracker tells it. */
export const trackedItem = v.object({
  item: itemName,
  title: text(1_000),
  body: v.optional(text(100_000), ""),
  state,
  /** Whose it is, in words. */
  person: v.optional(v.nullable(text(200)), null),
  /** The number of the change set whose merge ended it. */
  closedBy: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), null),
  /** When it last changed, in milliseconds since 1970. */
  changedAt: v.pipe(v.number(), v.minValue(0)),
  /** Where people read it. */
  address: v.optional(v.nullable(v.pipe(text(2_000), v.regex(/^https?:\/\//, "That is no address."))), null),
});
export type TrackedItem = v.InferOutput<typeof trackedItem>;

/** The answer to `GET repositories/{repo}/items`. */
export const foundItems = v.object({ items: v.pipe(v.array(trackedItem), v.maxLength(1_000)) });

const person = v.object({ name: text(64), fullName: text(200), email: text(320) });

/** The body of `POST repositories/{repo}/items`: a new one. */
export const newItem = v.object({ title: text(1_000), body: text(100_000), by: person });
/** Its answer. */
export const madeItem = v.object({ item: itemName });

/** The body of `POST repositories/{repo}/items/{item}`: what somebody did here, or what was merged. */
export const itemNews = v.variant("kind", [
  v.object({ kind: v.literal("state"), state, by: person }),
  v.object({
    kind: v.literal("merged"),
    /** Whether merging ends the item; else it is named as a reason alone. */
    closes: v.boolean(),
    change: v.object({ number: v.number(), title: text(1_000), address: text(2_000), commit: text(64) }),
  }),
]);
export type ItemNews = v.InferOutput<typeof itemNews>;
