import { type Outcome, refuse } from "../plain/outcome";
import type { NewEvent } from "./events";
import type { CommandKind, Need } from "./families/family";
import { COMMANDS, type CommandName, type CommandOf, type FactsFor } from "./families/table";
import { atLeast } from "./roles";
import type { ChangeSet } from "./state";

/**
 * What happens when `command` is carried out, or why it is not. Pure. `facts` are those that its kind needs; more do no harm.
 *
 * @example decide(change, { kind: "withdraw" }, { actor }) // { ok: true, value: { kind: "withdrawn", data: {} } }
 */
export function decide<K extends CommandName>(
  change: ChangeSet,
  command: CommandOf<K>,
  facts: FactsFor<K>,
): Outcome<NewEvent> {
  if (!atLeast(facts.actor.role, "reader"))
    return refuse("missing", "There is no such change set, or you may not see it.");
  const kind = COMMANDS[command.kind] as unknown as CommandKind<CommandOf<K>, never, NewEvent>;
  return kind.decide(change, command, facts);
}

/** What deciding a kind of command needs to know beside who asks. */
export function needsOf(kind: CommandName): readonly Need[] {
  return COMMANDS[kind].needs;
}
