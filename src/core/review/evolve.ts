import { safeParse } from "valibot";
import { wrongIn } from "../plain/shape";
import { whyNot } from "./allowed";
import type { ReviewEvent } from "./events";
import type { EventKind } from "./families/family";
import { begun } from "./families/lifecycle";
import { EVENTS } from "./families/table";
import type { ChangeSet } from "./state";

/**
 * What a change set becomes by one more event. Pure; the state given is left as it was. Null before the first event. What cannot have happened is
 * kept with its reason, and changes nothing else, see {@link whyNot}.
 *
 * @example replay([opened, reviewed]).reviews.length // 1
 */
export function evolve(change: ChangeSet | null, event: ReviewEvent): ChangeSet {
  const kind = kindOf(event);
  if (!change) {
    if (event.kind === "opened") return begun(event);
    throw new Error(`The log of ${event.stream} begins with “${event.kind}” instead of “opened”.`);
  }
  const why = whyNot(change, event);
  const changedAt = kind.silent || why !== null ? change.changedAt : event.at;
  const next = { ...change, last: event.id, entries: change.entries + 1, changedAt };
  if (why === null) return kind.evolve(next, event);
  const { id, by, kind: what } = event;
  return { ...next, leftOut: [...change.leftOut, { id, by, kind: what, why }] };
}

/** The whole of a change set from all its events in order; null when there are none. */
export function replay(events: Iterable<ReviewEvent>): ChangeSet | null {
  let change: ChangeSet | null = null;
  for (const event of events) change = evolve(change, event);
  return change;
}

/** What is known of events of this kind. Throws for a kind that is not known here: it came of a newer version, or of a damaged log. */
export function kindOf(event: ReviewEvent): EventKind<unknown> {
  if (!Object.hasOwn(EVENTS, event.kind))
    throw new Error(`The log has an entry of a kind that is not known here: “${event.kind}”.`);
  return EVENTS[event.kind] as EventKind<unknown>;
}

/** What is wrong with the shape of an entry, in words; null when nothing is. For those that come from elsewhere, or are looked over. */
export function wrongShape(event: ReviewEvent): string | null {
  if (!Object.hasOwn(EVENTS, event.kind)) return `its kind “${event.kind}” is not known`;
  const parsed = safeParse(EVENTS[event.kind].data, event.data);
  return parsed.success ? null : wrongIn(parsed.issues, "it");
}
