import * as v from "valibot";
import { checkName } from "../../checks/request";
import { done, refuse } from "../../plain/outcome";
import { atLeast } from "../roles";
import { type Checked, checked } from "../shapes";
import { newest } from "../state";
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
  /** What was told of a check waits to be told anew: it counts for nothing until then. */
  "check-asked": eventKind(v.object({ commit: v.string(), name: v.string() }), {
    silent: true,
    evolve: (change, { at, data }) => ({
      ...change,
      checks: change.checks.map((old) =>
        old.commit === data.commit && old.name === data.name ? { ...old, state: "waiting", summary: AGAIN, at } : old,
      ),
    }),
    says: ({ by, data }, { name }) => `${name(by)} asks for ${data.name} again`,
  }),
};

const AGAIN = "asked for again";

const checkAgain = v.object({ kind: v.literal("check-again"), name: checkName });

export const reportRequests = [checkAgain] as const;

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
  "check-again": commandKind<v.InferOutput<typeof checkAgain>, NewOf<typeof reportEvents>>(
    [],
    (change, { name }, { actor }) => {
      if (!atLeast(actor.role, "contributor"))
        return refuse("forbidden", "Only contributors and keepers can ask for a check again.");
      if (change.settled)
        return refuse("conflict", "This change set is settled: its checks have said what they had to say.");
      const { head } = newest(change);
      const told = change.checks.filter((one) => one.commit === head && one.name === name);
      if (told.length === 0) return refuse("missing", `No check ${name} has told of the newest revision.`);
      if (told.some(({ state }) => state === "waiting" || state === "running"))
        return refuse("conflict", `The check ${name} is not over yet.`);
      return done({ kind: "check-asked", data: { commit: head, name } });
    },
  ),
};
