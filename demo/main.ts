import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Label } from "@/core/house/labels/labels";
import { addPerson, findPerson, setRole } from "@/server/access/people";
import { addRepository, enter } from "@/server/access/repositories";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { findChange } from "@/server/changes/changes";
import { Runner } from "@/server/checks/runner";
import { keepLabel } from "@/server/house/labels/labels";
import { writeLedger } from "@/server/ledger/ledgers";
import { Notices } from "@/server/news/notices";
import { saveRules, setRule } from "@/server/rules/rules";
import { trackerOf } from "@/server/work/tracker-of";
import { keepPlace, lastEvent } from "@/store/log";
import { PASSWORD, PEOPLE } from "./people";
import { boardForAgents } from "./stories/board-for-agents";
import { fairQueue } from "./stories/fair-queue";
import { openFeed } from "./stories/feed";
import { pilotHoldAgain, planner } from "./stories/planner";
import { tides } from "./stories/tides";
import { need, type PersonName, Story } from "./story";

export { handOver } from "./handing";
export { startDemoProvider } from "./provider";

/** Raised when the stories change: an older demo is told of, not thrown away. */
const EDITION = "9";

/** Makes the demo's people, repositories and reviews in a data folder, unless they are there already. */
export async function makeDemo(
  data: string,
  { fresh = false, say = (_words: string) => {} }: { fresh?: boolean; say?: (words: string) => void },
): Promise<void> {
  const stamp = join(data, "demo-edition");
  const strange = existsSync(join(data, "lens.db")) && !existsSync(stamp);
  if (strange)
    throw new Error(`${data} holds an installation that is not the demo. Choose another folder with LENS_DATA.`);
  if (existsSync(stamp) && !fresh) {
    if (readFileSync(stamp, "utf8") !== EDITION)
      say("This demo data is of an earlier edition. `npm run demo -- --fresh` makes it anew.");
    return;
  }
  say("Making the demo data …");
  // Made beside its place and put there whole: a making that is cut short leaves nothing that looks like a demo.
  const making = `${data}.making`;
  rmSync(making, { recursive: true, force: true });
  mkdirSync(making, { recursive: true });
  // As good as random, and the same every time.
  let seed = 20261123;
  const random = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 2 ** 32;
  };
  const clock = { now: 0 };
  const settings = bareSettings(making, process.env.LENS_ROOT ?? process.cwd());
  const app = await openApp(settings, { now: () => clock.now, random });
  try {
    const notices = new Notices(app);
    await notices.step();
    await new Harbour(app, clock, join(making, "workshop")).tell();
    await notices.step();
    await notices.stop();
    // The checks are really run, as they are later for every new revision.
    clock.now = Date.parse("2026-11-23T08:40:00Z");
    const runner = new Runner(app, "gauge");
    await runner.step();
    await runner.stop();
    // As if the server had run all the while: whoever clones has the reviews.
    for (const { id } of await app.db.selectFrom("change_sets").select("id").execute()) await writeLedger(app, id);
  } finally {
    await app.close();
  }
  rmSync(join(making, "workshop"), { recursive: true, force: true });
  writeFileSync(join(making, "demo-edition"), EDITION);
  rmSync(data, { recursive: true, force: true });
  renameSync(making, data);
}

/** What `npm run demo` prints when it is ready. */
export function greeting(address: string): string {
  const people = PEOPLE.map(({ name, fullName, about }) => `  ${name.padEnd(8)} ${fullName}, ${about}`);
  return `
Earnest Lens is at ${address}

These made-up people can sign in by one click, or with the password ${PASSWORD}:
${people.join("\n")}

Their work is in the demo's own data folder. Ctrl C ends it; npm run demo -- --fresh makes it anew.
`;
}

class Harbour extends Story {
  async tell(): Promise<void> {
    this.at("2026-08-01T08:00");
    await this.invite();
    need(
      await addPerson(this.app, {
        ...{ name: "gauge", fullName: "Gauge", email: "", password: this.app.newId(), machine: true },
        about: "looks over every revision",
      }),
    );
    this.people.set("gauge", (await findPerson(this.app.db, "gauge"))!);
    const plannerHistory = await planner(join(this.workshop, "berth-planner"));
    const tidesHistory = await tides(join(this.workshop, "tide-tables"));
    need(await addRepository(this.app, "berth-planner", { kind: "folder", path: plannerHistory.folder }));
    need(await addRepository(this.app, "tide-tables", { kind: "folder", path: tidesHistory.folder }));
    for (const repository of ["berth-planner", "tide-tables"]) {
      for (const { name, keeper } of PEOPLE) {
        need(await setRole(this.app, name, repository, keeper ? "keeper" : name === "pim" ? "reader" : "contributor"));
      }
    }
    need(await setRole(this.app, "gauge", "berth-planner", "contributor"));
    need(await setRule(this.app, "tide-tables", "main", { approvals: { count: 2 } }));
    await this.settledOnes();
    await this.stricter();
    await this.labels();
    await this.pilotHold(plannerHistory);
    await this.others();
    await this.reasons();
    await fairQueue(this, plannerHistory);
    await boardForAgents(this, plannerHistory);
    await openFeed(this);
    this.at("2026-11-23T08:30");
    await this.open(
      "sunday",
      "berth-planner",
      "tanker-rates",
      "Tankers wait at the old rate until the new year",
      "The council has put the new rate off.",
      true,
    );
  }

  private async invite(): Promise<void> {
    for (const { name, fullName, about } of PEOPLE) {
      need(
        await addPerson(this.app, {
          name,
          fullName,
          about,
          email: `${name}@harbour.example`,
          password: PASSWORD,
          demo: true,
          administrator: name === "mirela",
        }),
      );
      const person = await findPerson(this.app.db, name);
      if (person) this.people.set(name, person);
    }
  }

  private async settledOnes(): Promise<void> {
    this.at("2026-09-14T10:00");
    const quays = await this.open(
      "sunday",
      "berth-planner",
      "quay-names",
      "Full names of the quays in the tariff",
      "The invoices go out with one letter for a quay. Nobody outside the harbour knows what it means.",
    );
    this.at("2026-09-14T15:20");
    await this.review("rosa", "berth-planner", quays, "approve", "Good, the agents asked for this.");
    await this.do("mirela", "berth-planner", quays, {
      kind: "merge",
      revision: 1,
      message: "Merge quay-names into main: Full names of the quays in the tariff\n\nChange-Set: 1\n",
    });
    this.at("2026-09-15T11:00");
    const feet = await this.open(
      "sunday",
      "berth-planner",
      "tide-in-feet",
      "Heights in feet beside metres",
      "For visiting yachts.",
    );
    this.at("2026-09-16T09:00");
    await this.review(
      "anders",
      "berth-planner",
      feet,
      "none",
      "The chart is in metres. Two units in one plan is how ships run aground; could the tide app convert instead?",
    );
    this.at("2026-09-16T09:40");
    await this.do("sunday", "berth-planner", feet, { kind: "withdraw" });
  }

  /** What Mirela asks of the planner since October. */
  private async stricter(): Promise<void> {
    this.at("2026-10-01T09:00");
    const main = {
      branches: "main",
      approvals: { count: 1 },
      stewards: [{ paths: "data/**", of: ["mirela"] }],
      checks: ["words"],
      merging: ["merge", "squash", "rebase"],
      passing: true,
    };
    const rules = { version: 1, rules: [main, { branches: "**", direct: true }] };
    const note = "The survey is mine to look after; and the words are checked from now on.";
    need(await saveRules(this.app, this.who("mirela"), "berth-planner", rules, note, null));
  }

  /** What change sets of the planner can be sorted by. */
  private async labels(): Promise<void> {
    this.at("2026-10-01T09:20");
    const doer = { person: this.who("mirela").id, address: "127.0.0.1" };
    const labels: Label[] = [
      { name: "safety", flag: "cross", about: "Ships or people could be hurt by it", paths: [] },
      { name: "tariff", flag: "halves", about: "What ships pay", paths: ["tariff/**"] },
      { name: "survey", flag: "border", about: "Depths and berths as they were measured", paths: ["data/**"] },
    ];
    for (const label of labels) need(await keepLabel(this.app, this.who("mirela"), doer, "berth-planner", label));
  }

  /** Why some of it is done: items of the tracker, and what they are linked to. */
  private async reasons(): Promise<void> {
    this.at("2026-11-19T16:00");
    // Who wrote it, what it says, and whose it is.
    const items: [PersonName, string, string, PersonName | null][] = [
      [
        "rosa",
        "A held berth was given away twice in October",
        "Gannet on the 9th, Petrel on the 21st. The pilots were on their way both times.",
        "anders",
      ],
      ["sunday", "Night tariff from January on", "Decided by the council on 3 November.", "sunday"],
      [
        "mirela",
        "Long ships wait for days",
        "Fulmar lay at anchor for 61 hours while seven shorter ships came in.",
        "anders",
      ],
      ["pim", "Print the plan for the night watch", "", null],
    ];
    const entered = need(await enter(this.app, this.who("mirela"), "berth-planner"));
    const tracker = trackerOf(this.app, entered.repository);
    const numbers = new Map<string, string>();
    for (const [by, title, body, whose] of items) {
      const said = { title, body, assignee: whose && this.who(whose).id };
      numbers.set(by, need(await tracker.add(this.who(by), said)));
    }
    await this.do("rosa", "berth-planner", 3, { kind: "label", put: ["safety"], take: [] });
    await this.do("anders", "berth-planner", 3, { kind: "link", item: numbers.get("rosa")!, closes: true });
    await this.do("sunday", "berth-planner", 6, { kind: "link", item: numbers.get("sunday")!, closes: true });
  }

  private async pilotHold(history: Awaited<ReturnType<typeof planner>>): Promise<void> {
    const repository = "berth-planner";
    this.at("2026-11-16T12:00");
    const number = await this.open(
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
    this.at("2026-11-17T09:12");
    await this.remark(
      "rosa",
      repository,
      number,
      "new",
      "plan/hold.ts",
      "    if (until.isAfter(limit)) {",
      "Good that it is said now. Does the harbour desk see *why*, or only that it failed?",
    );
    this.at("2026-11-17T09:20");
    await this.remark(
      "rosa",
      repository,
      number,
      "old",
      "plan/board.ts",
      "    board.release(hold);",
      "Releasing leaves no trace. When the pilot station asks in the morning, we cannot say what happened.",
    );
    this.at("2026-11-17T09:31");
    await this.remark(
      "rosa",
      repository,
      number,
      "new",
      "tariff/waiting.ts",
      "  if (held || hours <= FREE_HOURS) return 0;",
      "Is it agreed with the tariff office that a held ship pays nothing at all?",
    );
    this.at("2026-11-17T09:40");
    await this.review(
      "rosa",
      repository,
      number,
      "request-changes",
      "The right idea. A release that nobody can trace worries me, the rest is small.",
    );
    this.at("2026-11-17T10:30");
    await this.reply("sunday", repository, number, 2, "It is: paragraph 7 of the tariff, from January on.");
    this.at("2026-11-19T13:00");
    await pilotHoldAgain(history);
    await this.bring(repository, history.folder, "pilot-hold");
    this.at("2026-11-19T13:15");
    await this.do("anders", repository, number, { kind: "revise" });
    await this.reply("anders", repository, number, 0, "The desk shows the reason of `HoldRefused` as it is.");
    await this.reply(
      "anders",
      repository,
      number,
      1,
      "Done in r2: every release is logged with its reason and the pilot's call sign.",
    );
    await this.tellFromHere();
    this.at("2026-11-19T13:20");
    const { change } = need(await findChange(this.app, this.who("anders"), repository, number));
    await this.do("anders", repository, number, {
      kind: "ask",
      invited: [{ person: this.who("rosa").id }, { person: this.who("mirela").id }],
    });
    const first = change.threads[0].comments[0].id;
    await this.do("anders", repository, number, {
      ...{ kind: "react", thread: change.threads[0].id, comment: first, reaction: "thanks", on: true },
    });
    this.at("2026-11-19T13:21");
    await this.remark(
      ...(["gauge", repository, number, "new", "plan/board.ts"] as const),
      "    if (hold.pilot?.confirmed) continue;",
      "Three conditions in a row skip a hold here; the longest such chain elsewhere is two.",
      { weight: "aside" },
    );
    await this.remark(
      ...(["gauge", repository, number, "new", "plan/board.ts"] as const),
      "  readonly log: string[] = [];",
      "Grows without end: nothing takes entries away.",
      { weight: "aside" },
    );
    await this.review("gauge", repository, number, "none", "");
    this.at("2026-11-19T15:40");
    await this.remark(
      ...(["sunday", repository, number, "new", "plan/board.ts"] as const),
      "    this.log.push(`${hold.slot} released: ${why}`);",
      "Say the ship as well: @rosa looks for its name, not for the slot.",
      { suggest: ["    this.log.push(`${hold.ship.name} left ${hold.slot}: ${why}`);"] },
    );
    await this.remark(
      ...(["sunday", repository, number, "new", "tariff/waiting.ts"] as const),
      "  if (held || hours <= FREE_HOURS) return 0;",
      "Two reasons on one line are hard to find again in the books.",
      { suggest: ["  if (held) return 0;", "  if (hours <= FREE_HOURS) return 0;"], weight: "aside" },
    );
    await this.task("sunday", repository, number, "Tell the agents before this goes live", "anders");
    await this.review(
      "sunday",
      repository,
      number,
      "none",
      "Two small suggestions, and one thing to do beside the code.",
    );
  }

  /** From here on the log is told by mail when the demo starts. */
  async tellFromHere(): Promise<void> {
    await keepPlace(this.app.db, "mail", await lastEvent(this.app.db));
  }

  private async others(): Promise<void> {
    this.at("2026-11-18T14:30");
    await this.open(
      "anders",
      "berth-planner",
      "slot-to-berth",
      "Call a slot a berth",
      "Everyone at the quay says *berth*. A rename throughout, and nothing else.",
    );
    this.at("2026-11-18T16:10");
    const overlap = await this.open(
      "sunday",
      "berth-planner",
      "overlap-module",
      "A module of its own for overlapping windows",
      "The tariff needs `overlaps` too, and should not have to load the whole of the tide windows. Moved as it is, with one exception: windows that only touch no longer overlap.",
    );
    this.at("2026-11-18T17:00");
    await this.remark(
      ...(["rosa", "berth-planner", overlap, "new", "plan/overlap.ts"] as const),
      "export function overlaps(a: TideWindow, b: TideWindow): boolean {",
      "Say here what happens when they only touch: it is the one thing that changed.",
      {
        suggest: [
          "/** Whether two windows share any time; windows that only touch do not. */",
          "export function overlaps(a: TideWindow, b: TideWindow): boolean {",
        ],
      },
    );
    await this.review("rosa", "berth-planner", overlap, "none", "");
    this.at("2026-11-18T17:30");
    await this.takeAll("sunday", "berth-planner", overlap);
    this.at("2026-11-19T09:00");
    const night = await this.open(
      "sunday",
      "berth-planner",
      "night-tariff",
      "Waiting at night costs a quarter more",
      "As the council decided on 3 November.\n\n| hours | by day | at night |\n|---|---|---|\n| 8, bulk | 520 | 650 |\n",
    );
    this.at("2026-11-20T08:45");
    await this.review("anders", "berth-planner", night, "approve", "");
    this.at("2026-11-20T09:30");
    const surge = await this.open(
      "sunday",
      "tide-tables",
      "wind-surge",
      "Let the wind raise and lower the water",
      "The gauge was 30 cm above the table on 12 October, with a gale from the west.",
    );
    this.at("2026-11-20T16:00");
    await this.remark(
      "anders",
      "tide-tables",
      surge,
      "new",
      "tides/table.py",
      "SURGE_PER_WIND = 0.018",
      "Where does this number come from? The pilots' handbook says 0.021 for the outer bar.",
    );
    await this.review("anders", "tide-tables", surge, "none", "One question before I can say yes.");
    this.at("2026-11-23T07:50");
    await this.remark(
      "rosa",
      "tide-tables",
      surge,
      "new",
      "tides/table.py",
      "def surge(wind: float, onto_shore: float) -> float:",
      "Say in the docstring what `onto_shore` is: a cosine?",
    );
    this.at("2026-11-23T15:30");
    await this.open(
      "sunday",
      "tide-tables",
      "wall-screen",
      "Show the gauge in larger figures, and publish at night",
      "Copied together from the supplier’s example. Please look closely: I did not write all of it.",
    );
  }
}
