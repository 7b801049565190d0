import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Label } from "@/core/house/labels/labels";
import { addPerson, findPerson, setRole } from "@/server/access/people";
import { addRepository, enter } from "@/server/access/repositories";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { Runner } from "@/server/checks/runner";
import { keepLabel } from "@/server/house/labels/labels";
import { writeLedger } from "@/server/ledger/ledgers";
import { Notices } from "@/server/news/notices";
import { Preparing } from "@/server/reading/preparing";
import { saveRules, setRule } from "@/server/rules/rules";
import { trackerOf } from "@/server/work/tracker-of";
import { PASSWORD, PEOPLE } from "./people";
import { boardForAgents } from "./stories/board-for-agents";
import { fairQueue } from "./stories/fair-queue";
import { openFeed } from "./stories/feed";
import { pilotHold } from "./stories/pilot-hold";
import { planner } from "./stories/planner";
import { smallOnes } from "./stories/small-ones";
import { tides } from "./stories/tides";
import { need, type PersonName, Story } from "./story";

export { handOver } from "./handing";
export { startDemoProvider } from "./provider";

/** Raised when the stories change: an older demo is told of, not thrown away. */
const EDITION = "13";

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
    // And whoever opens one finds it compared.
    const preparing = new Preparing(app);
    await preparing.step();
    await preparing.stop();
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
    need(await setRole(this.app, "sunday", "tide-tables", "keeper"));
    need(await setRule(this.app, "tide-tables", "main", { approvals: { count: 2 } }));
    await this.settledOnes();
    await this.stricter();
    this.at("2026-10-01T10:00");
    await this.twoKeepers("mirela", 2, "Neither of us changes them alone.");
    await this.labels();
    await pilotHold(this, plannerHistory);
    await smallOnes(this);
    await this.reasons();
    await fairQueue(this, plannerHistory);
    await boardForAgents(this, plannerHistory);
    await openFeed(this);
    this.at("2026-11-23T08:10");
    await this.twoKeepers("sunday", 1, "Rosa is away until Thursday, and the feed should not wait.");
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

  /** The rules of the tables take two keepers: what the second one saves waits for the first. */
  private async twoKeepers(by: PersonName, approvals: number, note: string): Promise<void> {
    const main = { branches: "main", approvals: { count: approvals } };
    const rules = { version: 1, seconded: true, rules: [main, { branches: "**", direct: true }] };
    need(await saveRules(this.app, this.who(by), "tide-tables", rules, note, null));
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
}
