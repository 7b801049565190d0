import { change, changes, type GitHistory } from "../git-history";
import { writer } from "../people";
import type { Story } from "../story";

const anders = writer("anders");
const sunday = writer("sunday");

const FEED = `"""What the wall screen is told."""

LOW_WATER = 0.5


def reading(at, height):
    """One reading as it goes out: its keys are what the screen asks for."""
    return {"at": at.isoformat(), "height": round(height, 2)}


def is_low(height):
    return height < LOW_WATER
`;

const SEND = `"""Sends readings to whoever listens."""

from feed import reading


def latest(gauge):
    at, height = gauge[-1]
    return reading(at, height)


def all_of(gauge):
    return [reading(at, height) for at, height in gauge]
`;

const LEVEL = `import { reading } from "./feed";

/** The level as it stands on the wall, in metres. */
export function levelOf(line: string): string {
  return reading(line).height.toFixed(2);
}
`;

const ASK = `export interface Reading {
  at: string;
  height: number;
}

/** A line of the feed; its keys are those of tides/feed.py. */
export function reading(line: string): Reading {
  return JSON.parse(line);
}
`;

const GAUGES =
  "gauge,place,offset,since\nG1,North mole,0.12,2019-04-02\nG2,Inner basin,0.08,2021-09-15\nG3,Lock,0.31,2018-01-20\n";

const SETTINGS = {
  every: 10,
  keys: ["at", "height"],
  screens: [
    { name: "office", lines: 4 },
    { name: "lock", lines: 2 },
  ],
};

/** What stands on main of the feed: one line of it has come a long way. */
export async function beginFeed(repo: GitHistory): Promise<void> {
  await repo.commit(sunday, "2026-10-13T09:00:00", "Tell the wall screen what the gauge reads", {
    "tides/wall.py": FEED.replace("LOW_WATER = 0.5", "LOW = 0.5").replace("< LOW_WATER", "< LOW"),
    "viewer/feed.ts": ASK,
    "viewer/level.ts": LEVEL,
    "data/gauges.csv": GAUGES,
    "data/feed.json": `${JSON.stringify(SETTINGS, null, 2)}\n`,
  });
  await repo.commit(anders, "2026-10-14T08:20:00", "Low water is lower since the bar was dredged", {
    "tides/wall.py": change("LOW = 0.5", "LOW = 0.4"),
  });
  await repo.commit(sunday, "2026-10-16T10:05:00", "The feed is more than the wall", {
    "tides/wall.py": null,
    "tides/feed.py": FEED.replace("LOW_WATER = 0.5", "LOW = 0.4").replace("< LOW_WATER", "< LOW"),
    "tides/send.py": SEND,
  });
  await repo.commit(sunday, "2026-10-19T08:30:00", "Say which low is meant", {
    "tides/feed.py": changes(change("LOW = 0.4", "LOW_WATER = 0.4"), change("< LOW\n", "< LOW_WATER\n")),
  });
}

/** A change of what a function asks for, with uses that it leaves alone, in two languages. */
export async function offerFeed(repo: GitHistory): Promise<void> {
  await repo.branch("feed-in-centimetres");
  await repo.commit(anders, "2026-11-22T09:00:00", "The feed speaks in whole centimetres", {
    "tides/feed.py": changes(
      change("LOW_WATER = 0.4", "LOW_WATER = 40"),
      change("def reading(at, height):", "def reading(at, centimetres, quality):"),
      change('"height": round(height, 2)}', '"centimetres": centimetres, "quality": quality}'),
      change("def is_low(height):\n    return height <", "def is_low(centimetres):\n    return centimetres <"),
    ),
    "data/feed.json": `${JSON.stringify(
      {
        keys: ["at", "centimetres", "quality"],
        every: 5,
        screens: [
          { name: "office", lines: 6 },
          { name: "lock", lines: 2 },
        ],
      },
      null,
      2,
    )}\n`,
    "data/gauges.csv": GAUGES.replace("0.12", "12")
      .replace("0.08", "8")
      .replace("0.31", "30")
      .concat("G4,Ferry stage,5,2026-11-02\n"),
  });
  await repo.checkout("main");
}

export async function openFeed(story: Story): Promise<void> {
  story.at("2026-11-22T09:20");
  await story.open(
    "anders",
    "tide-tables",
    "feed-in-centimetres",
    "The feed speaks in whole centimetres",
    "Half of the screens cannot show a fraction. Each reading also says how good it is.",
  );
}
