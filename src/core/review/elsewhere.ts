import type { ReviewEvent } from "./events";
import type { Command } from "./families/table";

/**
 * Two servers hold the reviews of one repository, and each decides on what began with it. What people of the other one may add there is said in two places:
 * what is let in, and what the other is kept from writing, so that both show the same.
 */
const SAID = {
  reviewed: "send-review",
  replied: "reply",
  reacted: "react",
  edited: "edit",
} as const satisfies Partial<Record<ReviewEvent["kind"], Command["kind"]>>;

/**
 * Why an entry that somebody of another server wrote is not let in; null where it is. `here`: the change set began on this server. They remark, answer and
 * give a verdict, which counts at no gate of this server; they settle nothing.
 *
 * @example wrongFromElsewhere({ kind: "withdrawn", data: {} }, true) // "withdrawing it is decided on this server"
 */
export function wrongFromElsewhere(event: Pick<ReviewEvent, "kind" | "data">, here: boolean): string | null {
  if (!here) return null;
  if (!Object.hasOwn(SAID, event.kind)) return `what it tells (${event.kind}) is decided on this server alone`;
  return settles(event.data) ? "it settles a thread, which is for people of this server" : null;
}

/** Why something cannot be done to a change set that began on another server; null where it can. */
export function wrongThere(command: Pick<Command, "kind">): string | null {
  const allowed: readonly string[] = Object.values(SAID);
  if (!allowed.includes(command.kind))
    return "This change set began on another server: that is decided there. You can remark, answer and give a verdict.";
  return settles(command) ? "Threads of this change set are settled on the server where it began." : null;
}

function settles(data: object): boolean {
  const { replies } = data as { replies?: readonly { resolves?: boolean }[] };
  return replies?.some(({ resolves }) => resolves === true) ?? false;
}
