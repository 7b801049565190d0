import { change, changes, GitHistory } from "../git-history";
import { lockfile } from "../lockfile";
import { writer } from "../people";
import * as code from "../planner-code";
import { HOLDING_DOC, WINDOW } from "../planner-code";
import { CHECKS } from "./checks-code";
import { fairQueueBranch } from "./fair-queue-code";

const anders = writer("anders");
const sunday = writer("sunday");
const mirela = writer("mirela");
const rosa = writer("rosa");

/** The berth planner's main branch and the branches that are offered to it. Revisions that come later are made by `later`. */
export async function planner(folder: string): Promise<GitHistory> {
  const repo = await GitHistory.begin(folder);
  await repo.commit(anders, "2026-08-03T08:10:00", "Begin the planner: instants and ships", {
    "plan/instant.ts": code.INSTANT,
    "plan/ship.ts": code.SHIP,
    "README.md": "# Berth planner\n\nPlans which ship lies where, and for how long.\n",
  });
  await repo.commit(anders, "2026-08-04T09:00:00", "Tide windows", { "plan/window.ts": code.WINDOW });
  await repo.commit(anders, "2026-08-05T09:20:00", "Hold a berth for a ship", { "plan/hold.ts": code.HOLD });
  await repo.commit(anders, "2026-08-06T13:45:00", "The board of slots", { "plan/board.ts": code.BOARD });
  await repo.commit(anders, "2026-08-07T10:05:00", "Test that a hold ends", { "plan/hold.test.ts": code.HOLD_TEST });
  await repo.commit(sunday, "2026-08-10T08:30:00", "What waiting costs", { "tariff/waiting.ts": code.WAITING });
  await repo.commit(anders, "2026-08-11T15:10:00", "A queue of ships at anchor", { "plan/queue.ts": code.QUEUE });
  await repo.commit(rosa, "2026-08-12T07:55:00", "Say what the words mean", { "README.md": code.README });
  await repo.commit(rosa, "2026-08-12T08:40:00", "How the desk holds a berth", { "docs/holding.md": code.HOLDING_DOC });
  await repo.commit(mirela, "2026-08-13T11:00:00", "The quays as surveyed", { "data/quays.ts": code.quays(24) });
  await repo.commit(mirela, "2026-08-17T09:15:00", "Survey of the outer quays", { "data/quays.ts": code.quays(160) });
  await repo.commit(sunday, "2026-08-18T10:00:00", "Ferries do not wait, so they do not pay", {
    "tariff/waiting.ts": change("  if (hours", '  if (ship.cargo === "ferry") return 0;\n  if (hours'),
  });
  await repo.commit(anders, "2026-08-19T14:20:00", "Room of ten metres at either end", {
    "plan/ship.ts": change("ship.length + 20", "ship.length + 2 * CLEARANCE"),
  });
  await repo.commit(anders, "2026-08-19T14:26:00", "Define the clearance", {
    "plan/ship.ts": (text) => `/** Metres kept free at either end of a ship. */\nconst CLEARANCE = 10;\n\n${text}`,
  });
  await repo.commit(rosa, "2026-08-24T08:00:00", "The desk confirms by radio", {
    "docs/holding.md": change(
      "3. When nobody confirms",
      "3. The ship confirms by radio on channel 12.\n4. When nobody confirms",
    ),
  });
  await repo.commit(mirela, "2026-08-25T16:30:00", "Line endings and generated files", {
    ".gitattributes": "* text=auto\ndata/*.json lens-generated\n",
    ...CHECKS,
  });
  await repo.commit(anders, "2026-08-31T09:40:00", "Queue: longest ships are not forgotten", {
    "plan/queue.ts": change("    return null;\n", "    // Nothing fits: the desk decides.\n    return null;\n"),
  });
  await repo.commit(sunday, "2026-09-01T10:10:00", "Tankers wait dearer", {
    "tariff/waiting.ts": change("tanker: 530", "tanker: 560"),
  });
  await repo.commit(mirela, "2026-09-02T12:00:00", "How a package is put together", {
    "package.json": `${JSON.stringify({ name: "berth-planner", private: true, type: "module", scripts: { test: "vitest run" } }, null, 2)}\n`,
    "package-lock.json": locked(0),
  });
  await repo.commit(anders, "2026-09-07T08:50:00", "Board: say which quay is free", {
    "plan/board.ts": change(
      "  release(hold",
      "  freeAt(quay: string, now: Instant): Slot[] {\n    return this.free(now).filter((slot) => slot.quay === quay);\n  }\n\n  release(hold",
    ),
  });
  await repo.commit(rosa, "2026-09-08T09:00:00", "Holding: who to call at night", {
    "docs/holding.md": (text) =>
      `${text}\n## At night\n\nCall the pilot station before you hold a berth on the outer quays.\n`,
  });
  await repo.commit(mirela, "2026-09-09T13:30:00", "Test that an expired hold is released", {
    "plan/board.test.ts": `import { expect, test } from "vitest";
import { Board, releaseExpired } from "./board";
import { Instant } from "./instant";

const at = (minutes: number) => Instant.of(minutes * 60_000);
const ship = { imo: "9123456", name: "Gannet", length: 140, draught: 7.2, cargo: "bulk" as const };

test("what has expired is released", () => {
  const slot = { name: "N4", quay: "North quay", length: 180 };
  const board = new Board([slot]);
  board.hold(slot, ship, { opens: at(0), closes: at(120), height: 2.4 }, at(60));
  expect(releaseExpired(board, at(61))).toBe(1);
  expect(board.free(at(61))).toEqual([slot]);
});
`,
  });
  await branches(repo);
  await repo.checkout("main");
  return repo;
}

async function branches(repo: GitHistory): Promise<void> {
  await repo.branch("quay-names");
  await repo.commit(sunday, "2026-09-14T09:00:00", "Full names of the quays in the tariff", {
    "tariff/quays.ts":
      'export const QUAY_NAMES = { N: "North quay", E: "East quay", S: "South quay", W: "West quay" };\n',
  });

  await repo.branch("tide-in-feet");
  await repo.commit(sunday, "2026-09-15T10:00:00", "Heights in feet beside metres", {
    "plan/window.ts": change("  height: number;\n", "  height: number;\n  heightInFeet: number;\n"),
  });

  await repo.branch("pilot-hold");
  await repo.commit(anders, "2026-11-16T09:30:00", "Refuse an extension past the tide window", {
    "plan/hold.ts": change(
      "    if (until > limit) return this;\n",
      '    if (until.isAfter(limit)) {\n      throw new HoldRefused("past the tide window");\n    }\n',
    ),
  });
  await repo.commit(anders, "2026-11-16T10:05:00", "An error of its own for a refused hold", {
    "plan/hold.ts": change(
      "/** A berth kept",
      "/** The harbour desk shows the reason as it is. */\nexport class HoldRefused extends Error {\n  constructor(readonly reason: string) {\n    super(`The berth cannot be held: ${reason}.`);\n  }\n}\n\n/** A berth kept",
    ),
  });
  await repo.commit(anders, "2026-11-16T11:20:00", "Keep a hold while the pilot is on the way", {
    "plan/hold.ts": changes(
      change(
        "    readonly until: Instant,\n",
        "    readonly until: Instant,\n    readonly pilot: Pilot | null = null,\n",
      ),
      change(
        'import type { Ship } from "./ship";',
        'import type { Pilot } from "./pilot";\nimport type { Ship } from "./ship";',
      ),
      change(
        "  extend(until: Instant)",
        "  confirmedBy(pilot: Pilot): BerthHold {\n    return new BerthHold(this.slot, this.ship, this.window, this.window.closes, pilot);\n  }\n\n  extend(until: Instant)",
      ),
    ),
    "plan/pilot.ts":
      "export interface Pilot {\n  callSign: string;\n  /** The pilot has said over the radio that they will board. */\n  confirmed: boolean;\n}\n",
    "plan/board.ts": change(
      "    if (!hold.isExpired(now)) continue;\n    board.release(hold);",
      "    if (hold.pilot?.confirmed) continue;\n    if (!hold.isExpired(now)) continue;\n    board.release(hold);",
    ),
    "tariff/waiting.ts": changes(
      change(
        "export function waitingFee(ship: Ship, hours: number)",
        "export function waitingFee(ship: Ship, hours: number, held = false)",
      ),
      change("  if (hours <= FREE_HOURS)", "  if (held || hours <= FREE_HOURS)"),
    ),
    "docs/holding.md": change(
      "2. The planner holds it for two hours.",
      "2. The planner holds it for two hours, or until the pilot confirms.",
    ),
  });
  await repo.commit(anders, "2026-11-16T11:50:00", "Test the refusal", {
    "plan/hold.test.ts": changes(
      change('import { BerthHold } from "./hold";', 'import { BerthHold, HoldRefused } from "./hold";'),
      (text) =>
        `${text}\ntest("an extension past the tide window is refused", () => {\n  const hold = new BerthHold("N4", ship, window, at(60));\n  expect(() => hold.extend(at(121))).toThrow(HoldRefused);\n});\n`,
    ),
  });

  await repo.branch("slot-to-berth");
  const rename = (text: string) =>
    text.replaceAll("Slot", "Berth").replaceAll("slot", "berth").replaceAll("SLOTS", "BERTHS");
  await repo.commit(anders, "2026-11-18T14:00:00", "Call a slot a berth, as everyone at the quay does", {
    "plan/board.ts": rename,
    "plan/board.test.ts": rename,
    "plan/hold.ts": rename,
    "plan/queue.ts": rename,
    "plan/ship.ts": rename,
    "data/quays.ts": rename,
    "README.md": changes(rename, change("A **berth** is", "A **berth**, once called slot, is")),
    "docs/holding.md": rename,
  });

  await overlapModule(repo);
  await fairQueueBranch(repo);

  // What the harbour runs on, with a mend that somebody made there directly.
  await repo.branch("live", "main~6");
  await repo.commit(mirela, "2026-11-02T05:40:00", "At night, on the running system: ferries were charged", {
    "tariff/waiting.ts": change("ferry: 0", "ferry: 0.0"),
    "docs/holding.md": change(
      "2. The planner holds it for two hours.",
      "2. The planner holds it for two hours, or until the pilot confirms.",
    ),
  });

  // From before the rate was raised: it conflicts with the target.
  await repo.branch("tanker-rates", "main~5");
  await repo.commit(sunday, "2026-11-23T08:10:00", "Tankers wait at the old rate until the new year", {
    "tariff/waiting.ts": change("tanker: 530", "tanker: 535"),
  });

  await repo.branch("night-tariff");
  await repo.commit(sunday, "2026-11-19T08:20:00", "Waiting at night costs a quarter more", {
    "tariff/waiting.ts": changes(
      change("const PER_HOUR", "const NIGHT_FACTOR = 1.25;\nconst PER_HOUR"),
      change("hours: number): number", "hours: number, atNight = false): number"),
      change(
        "  return Math.round((hours - FREE_HOURS) * PER_HOUR[ship.cargo]);",
        "  const fee = (hours - FREE_HOURS) * PER_HOUR[ship.cargo];\n  return Math.round(atNight ? fee * NIGHT_FACTOR : fee);",
      ),
    ),
  });
  await repo.commit(sunday, "2026-11-19T08:45:00", "Test the night tariff", {
    "tariff/waiting.test.ts": `import { expect, test } from "vitest";
import { waitingFee } from "./waiting";

const ship = { imo: "9123456", name: "Gannet", length: 140, draught: 7.2, cargo: "bulk" as const };

test("the first six hours are free", () => {
  expect(waitingFee(ship, 6)).toBe(0);
});

test("a night costs a quarter more", () => {
  expect(waitingFee(ship, 8, true)).toBe(650);
});
`,
  });
}

/** A move with an edit, a rename that was also edited, white space, reordered imports and a lockfile: most of it needs no reading. */
async function overlapModule(repo: GitHistory): Promise<void> {
  await repo.branch("overlap-module");
  const moved = WINDOW.slice(WINDOW.indexOf("export function overlaps"), WINDOW.indexOf("export function closesAt"));
  await repo.commit(sunday, "2026-11-18T15:00:00", "Move what compares windows into a module of its own", {
    "plan/window.ts": change(moved, ""),
    "plan/overlap.ts": `import type { Instant } from "./instant";\nimport type { TideWindow } from "./window";\n\n${moved
      .replace(
        "a.opens.isBefore(b.closes) && b.opens.isBefore(a.closes)",
        "b.closes.isAfter(a.opens) && a.closes.isAfter(b.opens)",
      )
      .trimEnd()}\n`,
    "plan/board.ts": change(
      'import { BerthHold } from "./hold";\nimport type { Instant } from "./instant";\n',
      'import type { Instant } from "./instant";\nimport { BerthHold } from "./hold";\n',
    ),
  });
  await repo.commit(sunday, "2026-11-18T15:20:00", "Tidy up on the way", {
    "plan/queue.ts": changes(
      change("for (const ship of this.waiting) {", "for (const ship  of  this.waiting) {"),
      change("      if (slot) return { ship, slot };", "      if (slot) return {ship, slot};"),
      change("this.waiting.push(ship);", "this.waiting.push( ship );"),
    ),
    "docs/holding.md": null,
    "docs/holds.md": `${HOLDING_DOC.replace("# Holding a berth", "# Holds")}\n## At night\n\nCall the pilot station before you hold a berth on the outer quays.\n`,
    "package-lock.json": locked(1),
  });
}

/** What the planner depends on, in made-up versions of an edition. */
function locked(edition: number): string {
  const names = [
    "anchor",
    "buoy",
    "chart",
    "dolphin",
    "ebb",
    "fender",
    "gale",
    "hawser",
    "inlet",
    "jetty",
    "keel",
    "ladder",
  ];
  return lockfile(
    "berth-planner",
    Object.fromEntries(names.map((name, i) => [`@harbour/${name}`, `1.${i}.${i % 3 === 0 ? edition : 0}`])),
  );
}

/** What Anders pushed after the first review of pilot-hold. */
export async function pilotHoldAgain(repo: GitHistory): Promise<void> {
  await repo.checkout("pilot-hold");
  await repo.commit(anders, "2026-11-19T13:10:00", "Say which pilot did not confirm", {
    "plan/board.ts": changes(
      change("  release(hold: BerthHold): void {\n", "  release(hold: BerthHold, why: string): void {\n"),
      change(
        "    if (at >= 0) this.holds.splice(at, 1);",
        "    if (at < 0) return;\n    this.holds.splice(at, 1);\n    this.log.push(`${hold.slot} released: ${why}`);",
      ),
      change(
        "  readonly holds: BerthHold[] = [];\n",
        "  readonly holds: BerthHold[] = [];\n  readonly log: string[] = [];\n",
      ),
      change(
        "    board.release(hold);",
        '    board.release(hold, hold.pilot ? `${hold.pilot.callSign} did not confirm` : "no pilot");',
      ),
    ),
  });
  await repo.checkout("main");
}
