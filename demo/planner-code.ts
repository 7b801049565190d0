/** The first texts of the berth planner, from which its history goes on. */

export const WINDOW = `import type { Instant } from "./instant";

/** The hours around high water in which a ship of a given draught can pass the bar. */
export interface TideWindow {
  opens: Instant;
  closes: Instant;
  /** Metres above chart datum at its highest. */
  height: number;
}

export function overlaps(a: TideWindow, b: TideWindow): boolean {
  return a.opens.isBefore(b.closes) && b.opens.isBefore(a.closes);
}

export function contains(window: TideWindow, at: Instant): boolean {
  return !at.isBefore(window.opens) && at.isBefore(window.closes);
}

export function closesAt(w: TideWindow): Instant {
  return w.closes;
}
`;

export const INSTANT = `const MINUTE = 60_000;

/** A point in time, in whole minutes. */
export class Instant {
  private constructor(readonly minutes: number) {}

  static of(milliseconds: number): Instant {
    return new Instant(Math.floor(milliseconds / MINUTE));
  }

  plusMinutes(minutes: number): Instant {
    return new Instant(this.minutes + minutes);
  }

  isBefore(other: Instant): boolean {
    return this.minutes < other.minutes;
  }

  isAfter(other: Instant): boolean {
    return this.minutes > other.minutes;
  }
}
`;

export const SHIP = `export interface Ship {
  imo: string;
  name: string;
  /** Metres. */
  length: number;
  draught: number;
  cargo: "container" | "bulk" | "tanker" | "ferry";
}

export function fits(ship: Ship, slotLength: number): boolean {
  return ship.length + 20 <= slotLength;
}
`;

export const HOLD = `import type { Instant } from "./instant";
import type { Ship } from "./ship";
import type { TideWindow } from "./window";

/** A berth kept for a ship until somebody confirms it. */
export class BerthHold {
  constructor(
    readonly slot: string,
    readonly ship: Ship,
    readonly window: TideWindow,
    readonly until: Instant,
  ) {}

  isExpired(now: Instant): boolean {
    return this.until.isBefore(now);
  }

  extend(until: Instant): BerthHold {
    const limit = this.window.closes;
    if (until > limit) return this;
    return new BerthHold(this.slot, this.ship, this.window, until);
  }
}
`;

export const BOARD = `import { BerthHold } from "./hold";
import type { Instant } from "./instant";
import type { Ship } from "./ship";
import type { TideWindow } from "./window";

export interface Slot {
  name: string;
  quay: string;
  length: number;
}

/** What the harbour desk sees: every slot, and who holds it. */
export class Board {
  readonly holds: BerthHold[] = [];

  constructor(readonly slots: Slot[]) {}

  free(now: Instant): Slot[] {
    return this.slots.filter((slot) => !this.holds.some((hold) => hold.slot === slot.name && !hold.isExpired(now)));
  }

  hold(slot: Slot, ship: Ship, window: TideWindow, until: Instant): BerthHold {
    const hold = new BerthHold(slot.name, ship, window, until);
    this.holds.push(hold);
    return hold;
  }

  release(hold: BerthHold): void {
    const at = this.holds.indexOf(hold);
    if (at >= 0) this.holds.splice(at, 1);
  }
}

export function releaseExpired(board: Board, now: Instant): number {
  let released = 0;
  for (const hold of [...board.holds]) {
    if (!hold.isExpired(now)) continue;
    board.release(hold);
    released += 1;
  }
  return released;
}
`;

export const QUEUE = `import type { Board, Slot } from "./board";
import type { Instant } from "./instant";
import { fits, type Ship } from "./ship";

/** Ships at anchor, in the order in which they may come in. */
export class Queue {
  private waiting: Ship[] = [];

  add(ship: Ship): void {
    this.waiting.push(ship);
  }

  /** The first ship that fits a free slot, and that slot. */
  next(board: Board, now: Instant): { ship: Ship; slot: Slot } | null {
    for (const ship of this.waiting) {
      const slot = board.free(now).find((candidate) => fits(ship, candidate.length));
      if (slot) return { ship, slot };
    }
    return null;
  }

  remove(ship: Ship): void {
    this.waiting = this.waiting.filter((other) => other !== ship);
  }
}
`;

export const WAITING = `import type { Ship } from "../plan/ship";

const FREE_HOURS = 6;
const PER_HOUR = { container: 410, bulk: 260, tanker: 530, ferry: 0 };

/** What a ship pays for waiting at anchor, in whole crowns. */
export function waitingFee(ship: Ship, hours: number): number {
  if (hours <= FREE_HOURS) return 0;
  return Math.round((hours - FREE_HOURS) * PER_HOUR[ship.cargo]);
}
`;

export const HOLD_TEST = `import { expect, test } from "vitest";
import { BerthHold } from "./hold";
import { Instant } from "./instant";

const ship = { imo: "9123456", name: "Gannet", length: 140, draught: 7.2, cargo: "bulk" as const };
const at = (minutes: number) => Instant.of(minutes * 60_000);
const window = { opens: at(0), closes: at(120), height: 2.4 };

test("a hold ends", () => {
  const hold = new BerthHold("N4", ship, window, at(60));
  expect(hold.isExpired(at(59))).toBe(false);
  expect(hold.isExpired(at(61))).toBe(true);
});

test("a hold is extended within the tide window", () => {
  const hold = new BerthHold("N4", ship, window, at(60));
  expect(hold.extend(at(90)).until).toEqual(at(90));
});
`;

export const README = `# Berth planner

Plans which ship lies where, and for how long.

- \`plan/\` the board, the queue and the tide windows
- \`tariff/\` what waiting costs
- \`docs/\` how the desk uses it

## Words

A **slot** is a stretch of quay. A **hold** keeps one for a ship until somebody confirms it.
`;

export const HOLDING_DOC = `# Holding a berth

1. The desk chooses a free slot.
2. The planner holds it for two hours.
3. When nobody confirms, the hold ends by itself.
`;

/** A long table of quays, as such files are. */
export function quays(count: number): string {
  const rows = Array.from({ length: count }, (_, i) => {
    const letter = "NESW"[i % 4];
    return `  { name: "${letter}${Math.floor(i / 4) + 1}", quay: "${["North", "East", "South", "West"][i % 4]} quay", length: ${120 + ((i * 37) % 180)} },`;
  });
  return `import type { Slot } from "../plan/board";\n\n/** Measured by the harbour survey. */\nexport const SLOTS: Slot[] = [\n${rows.join("\n")}\n];\n`;
}
