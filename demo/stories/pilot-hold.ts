import { findChange } from "@/server/changes/changes";
import { keepPlace, lastEvent } from "@/store/log";
import type { GitHistory } from "../git-history";
import { need, type Story } from "../story";
import { pilotHoldAgain } from "./planner";

/** Change set 3 of the planner: two revisions, threads that were answered, suggestions to be taken, a machine's remarks. */
export async function pilotHold(story: Story, history: GitHistory): Promise<void> {
  const repository = "berth-planner";
  story.at("2026-11-16T12:00");
  const number = await story.open(
    "anders",
    repository,
    "pilot-hold",
    "Hold a berth until the pilot confirms",
    `A held berth falls free after two hours, even when the pilot is already on the way. Twice in October a ship came in to find its berth given away.

- a hold **stays** once the pilot has confirmed
- an extension past the tide window is *refused*, with a reason for the desk
- waiting is free while the berth is held

See \`docs/holding.md\` for what the desk does.`,
  );
  story.at("2026-11-17T09:12");
  await story.remark(
    "rosa",
    repository,
    number,
    "new",
    "plan/hold.ts",
    "    if (until.isAfter(limit)) {",
    "Good that it is said now. Does the harbour desk see *why*, or only that it failed?",
  );
  story.at("2026-11-17T09:20");
  await story.remark(
    "rosa",
    repository,
    number,
    "old",
    "plan/board.ts",
    "    board.release(hold);",
    "Releasing leaves no trace. When the pilot station asks in the morning, we cannot say what happened.",
  );
  story.at("2026-11-17T09:31");
  await story.remark(
    "rosa",
    repository,
    number,
    "new",
    "tariff/waiting.ts",
    "  if (held || hours <= FREE_HOURS) return 0;",
    "Is it agreed with the tariff office that a held ship pays nothing at all?",
  );
  story.at("2026-11-17T09:40");
  await story.review(
    "rosa",
    repository,
    number,
    "request-changes",
    "The right idea. A release that nobody can trace worries me, the rest is small.",
  );
  story.at("2026-11-17T10:30");
  await story.reply("sunday", repository, number, 2, "It is: paragraph 7 of the tariff, from January on.");
  story.at("2026-11-19T13:00");
  await pilotHoldAgain(history);
  await story.bring(repository, history.folder, "pilot-hold");
  story.at("2026-11-19T13:15");
  await story.do("anders", repository, number, { kind: "revise" });
  await story.reply("anders", repository, number, 0, "The desk shows the reason of `HoldRefused` as it is.");
  await story.reply(
    "anders",
    repository,
    number,
    1,
    "Done in r2: every release is logged with its reason and the pilot's call sign.",
  );
  await tellFromHere(story);
  story.at("2026-11-19T13:20");
  const { change } = need(await findChange(story.app, story.who("anders"), repository, number));
  await story.do("anders", repository, number, {
    kind: "ask",
    invited: [{ person: story.who("rosa").id }, { person: story.who("mirela").id }],
  });
  const first = change.threads[0].comments[0].id;
  await story.do("anders", repository, number, {
    ...{ kind: "react", thread: change.threads[0].id, comment: first, reaction: "thanks", on: true },
  });
  story.at("2026-11-19T13:21");
  await story.remark(
    ...(["gauge", repository, number, "new", "plan/board.ts"] as const),
    "    if (hold.pilot?.confirmed) continue;",
    "Three conditions in a row skip a hold here; the longest such chain elsewhere is two.",
    { weight: "aside" },
  );
  await story.remark(
    ...(["gauge", repository, number, "new", "plan/board.ts"] as const),
    "  readonly log: string[] = [];",
    "Grows without end: nothing takes entries away.",
    { weight: "aside" },
  );
  await story.review("gauge", repository, number, "none", "");
  story.at("2026-11-19T15:40");
  await story.remark(
    ...(["sunday", repository, number, "new", "plan/board.ts"] as const),
    "    this.log.push(`${hold.slot} released: ${why}`);",
    "Say the ship as well: @rosa looks for its name, not for the slot.",
    { suggest: ["    this.log.push(`${hold.ship.name} left ${hold.slot}: ${why}`);"] },
  );
  await story.remark(
    ...(["sunday", repository, number, "new", "tariff/waiting.ts"] as const),
    "  if (held || hours <= FREE_HOURS) return 0;",
    "Two reasons on one line are hard to find again in the books.",
    { suggest: ["  if (held) return 0;", "  if (hours <= FREE_HOURS) return 0;"], weight: "aside" },
  );
  await story.task("sunday", repository, number, "Tell the agents before this goes live", "anders");
  await story.review(
    "sunday",
    repository,
    number,
    "none",
    "Two small suggestions, and one thing to do beside the code.",
  );
}

/** From here on the log is told by mail when the demo starts. */
async function tellFromHere(story: Story): Promise<void> {
  await keepPlace(story.app.db, "mail", await lastEvent(story.app.db));
}
