import type { GitHistory } from "../git-history";
import type { Story } from "../story";
import { fairQueueAgain, fairQueueRebased } from "./fair-queue-code";

const PLANNER = "berth-planner";

/** A change set that went through three revisions, with threads whose lines moved, were edited, or went away. */
export async function fairQueue(story: Story, history: GitHistory): Promise<void> {
  story.at("2026-11-16T15:10");
  const number = await story.open(
    "anders",
    PLANNER,
    "fair-queue",
    "Ships that were passed over come sooner",
    "A long ship can wait for days while short ones slip in. After the third time it goes first; ferries keep their timetable.",
  );
  const remark = (by: "rosa" | "sunday", line: string, body: string, more = {}) =>
    story.remark(by, PLANNER, number, "new", "plan/queue.ts", line, body, more);
  story.at("2026-11-17T16:00");
  await remark(
    "rosa",
    "      entry.passedOver += 1;",
    "When no berth is free at all, everyone counts as passed over. Is that meant?",
  );
  await remark(
    "rosa",
    '  if (entry.ship.cargo === "ferry") return Number.MAX_SAFE_INTEGER;',
    "And two ferries at once? Then the order is that of the list. Fine, if it is on purpose.",
    { weight: "aside" },
  );
  await remark("rosa", "export function describe(entry: Waiting): string {", "Who reads this?");
  await remark(
    "rosa",
    "    return [...this.waiting].sort((a, b) => urgency(b) - urgency(a));",
    "Equal ones stay in the order of arrival?",
  );
  await story.review(
    "rosa",
    PLANNER,
    number,
    "request-changes",
    "Fairer than what we do on paper. The counting worries me.",
  );
  story.at("2026-11-17T16:30");
  await remark("sunday", "const MOST_PASSED_OVER = 3;", "The port rules say four.", {
    suggest: ["const MOST_PASSED_OVER = 4;"],
  });
  await story.review("sunday", PLANNER, number, "none", "");
  await fairQueueAgain(history);
  story.at("2026-11-18T10:05");
  await story.bring(PLANNER, history.folder, "fair-queue");
  await story.do("anders", PLANNER, number, { kind: "revise" });
  await story.reply("anders", PLANNER, number, 2, "Nobody yet: taken out.");
  await story.reply("anders", PLANNER, number, 3, "Yes, sorting keeps the order of equals.");
  story.at("2026-11-18T14:00");
  await story.review("mirela", PLANNER, number, "approve", "");
  await fairQueueRebased(history);
  story.at("2026-11-20T11:05");
  await story.bring(PLANNER, history.folder, "fair-queue");
  await story.do("anders", PLANNER, number, { kind: "revise" });
  story.at("2026-11-20T11:06");
  await story.do("anders", PLANNER, number, { kind: "ask-again", people: [story.who("rosa").id] });
}
