import { done, refuse } from "../../plain/outcome";
import { atLeast } from "../roles";
import { type Checked, checked } from "../shapes";
import { commandKind, eventKind, type NewOf } from "./family";

/** What machines, and people, say of a commit. */

export const reportEvents = {
  checked: eventKind(checked, {
    silent: true,
    evolve: (change, { by, at, data }) => {
      const others = change.checks.filter(
        (old) => old.by !== by || old.commit !== data.commit || old.name !== data.name,
      );
      return { ...change, checks: [...others, { ...data, by, at }] };
    },
    says: ({ data }) => `${data.name}: ${data.state}`,
  }),
};

/** So many checks of one commit can one account report. */
const MOST_CHECKS = 100;

export const reportCommands = {
  report: commandKind<{ kind: "report"; checked: Checked }, NewOf<typeof reportEvents>>(
    [],
    (change, { checked }, { actor }) => {
      if (!atLeast(actor.role, "contributor"))
        return refuse("forbidden", "Only contributors, keepers and machine accounts of these roles can report checks.");
      if (!change.revisions.some(({ head }) => head === checked.commit))
        return refuse("missing", "That commit is the newest of no revision of this change set.");
      const mine = change.checks.filter(({ by, commit }) => by === actor.id && commit === checked.commit);
      if (mine.length >= MOST_CHECKS && !mine.some(({ name }) => name === checked.name))
        return refuse("conflict", `One account can report ${MOST_CHECKS} checks of a commit.`);
      return done({ kind: "checked", data: checked });
    },
  ),
};
