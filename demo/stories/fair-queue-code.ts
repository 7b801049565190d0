import { change, changes, type GitHistory } from "../git-history";
import { writer } from "../people";

const anders = writer("anders");

const FAIR = `import type { Board, Slot } from "./board";
import type { Instant } from "./instant";
import { fits, type Ship } from "./ship";

/** How often a ship may be passed over before it goes first. */
const MOST_PASSED_OVER = 3;

export interface Waiting {
  ship: Ship;
  since: Instant;
  passedOver: number;
}

/** Ships at anchor, in the order in which they may come in. */
export class Queue {
  private waiting: Waiting[] = [];

  add(ship: Ship, now: Instant): void {
    this.waiting.push({ ship, since: now, passedOver: 0 });
  }

  /** The first ship that fits a free slot, and that slot. */
  next(board: Board, now: Instant): { ship: Ship; slot: Slot } | null {
    for (const entry of this.inOrder()) {
      const slot = board.free(now).find((candidate) => fits(entry.ship, candidate.length));
      if (slot) return { ship: entry.ship, slot };
      entry.passedOver += 1;
    }
    // Nothing fits: the desk decides.
    return null;
  }

  remove(ship: Ship): void {
    this.waiting = this.waiting.filter((entry) => entry.ship !== ship);
  }

  private inOrder(): Waiting[] {
    return [...this.waiting].sort((a, b) => urgency(b) - urgency(a));
  }
}

/** The higher, the sooner. Ferries keep a timetable, so they never wait for their turn. */
export function urgency(entry: Waiting): number {
  if (entry.ship.cargo === "ferry") return Number.MAX_SAFE_INTEGER;
  if (entry.passedOver >= MOST_PASSED_OVER) return 1_000 + entry.passedOver;
  return entry.passedOver;
}

export function describe(entry: Waiting): string {
  return \`\${entry.ship.name}, passed over \${entry.passedOver} times\`;
}
`;

const LIMIT = FAIR.slice(FAIR.indexOf("/** How often"), FAIR.indexOf("export interface"));
const ENTRY = FAIR.slice(FAIR.indexOf("export interface"), FAIR.indexOf("/** Ships at anchor"));
const URGENCY = FAIR.slice(FAIR.indexOf("/** The higher"), FAIR.indexOf("export function describe"));
const DESCRIBE = FAIR.slice(FAIR.indexOf("export function describe"));

/** What Anders offered first. */
export async function fairQueueBranch(repo: GitHistory): Promise<void> {
  await repo.branch("fair-queue", "main~3");
  await repo.commit(anders, "2026-11-16T15:00:00", "Ships that were passed over come sooner", {
    "plan/queue.ts": FAIR,
  });
}

const ANSWERED = {
  "plan/queue.ts": changes(
    change(LIMIT, ""),
    change(ENTRY, ""),
    change(`\n${URGENCY}${DESCRIBE}`, ""),
    change(
      'import { fits, type Ship } from "./ship";',
      'import { fits, type Ship } from "./ship";\nimport { urgency, type Waiting } from "./urgency";',
    ),
    change(
      "    for (const entry of this.inOrder()) {\n      const slot = board.free(now).find(",
      "    const free = board.free(now);\n    for (const entry of this.inOrder()) {\n      const slot = free.find(",
    ),
    change("      entry.passedOver += 1;", "      if (free.length > 0) entry.passedOver += 1;"),
  ),
  "plan/urgency.ts": `import type { Instant } from "./instant";\nimport type { Ship } from "./ship";\n\n${LIMIT}${ENTRY}${URGENCY.trimEnd()}\n`,
};

/** What he pushed after the first review. */
export async function fairQueueAgain(repo: GitHistory): Promise<void> {
  await repo.checkout("fair-queue");
  await repo.commit(
    anders,
    "2026-11-18T10:00:00",
    "Urgency in a file of its own; count only when a berth is free",
    ANSWERED,
  );
  await repo.checkout("main");
}

/** The same on the newest of main. */
export async function fairQueueRebased(repo: GitHistory): Promise<void> {
  await repo.branch("fair-queue");
  await repo.commit(anders, "2026-11-20T11:00:00", "Ships that were passed over come sooner", {
    "plan/queue.ts": FAIR,
  });
  await repo.commit(
    anders,
    "2026-11-20T11:01:00",
    "Urgency in a file of its own; count only when a berth is free",
    ANSWERED,
  );
  await repo.checkout("main");
}
