import { chmodSync } from "node:fs";
import { join } from "node:path";
import { change, changes, GitHistory } from "../git-history";
import { lockfile } from "../lockfile";
import { writer } from "../people";
import { tideCurve } from "../picture";
import { beginFeed, offerFeed } from "./feed";

const sunday = writer("sunday");
const rosa = writer("rosa");

const TABLE = `"""Tide tables for the harbour bar."""

from dataclasses import dataclass
from datetime import datetime, timedelta

LUNAR_DAY = timedelta(hours=24, minutes=50)


@dataclass(frozen=True)
class HighWater:
    at: datetime
    height: float


def next_high_water(last: HighWater) -> HighWater:
    """The high water after this one, half a lunar day later."""
    return HighWater(last.at + LUNAR_DAY / 2, last.height)


def window(high: HighWater, draught: float, clearance: float = 0.8):
    """When a ship of this draught can pass the bar, or None."""
    spare = high.height - draught - clearance
    if spare < 0:
        return None
    reach = timedelta(minutes=40 * spare)
    return high.at - reach, high.at + reach
`;

const BOARD = `"""The board at the pilots' stairs."""


def post(board, highs):
    board.clear()
    for high in highs:
        board.write(f"{high.at:%H:%M}", f"{high.height:.1f} m")
        board.light(high.at)
    board.date(highs[0].at)
`;

const VIEWER = `const gaugeBox = document.querySelector("#gauge");

function frame() {
  gaugeBox.style.border = "4px solid";
  gaugeBox.style.padding = "1rem";
  const figures = gaugeBox.querySelectorAll("b");
  for (const figure of figures) figure.style.fontSize = "3rem";
  return figures.length;
}

function show(reading) {
  gaugeBox.dataset.at = reading.at;
  gaugeBox.textContent = reading.height.toFixed(2);
  gaugeBox.classList.toggle("low", reading.height < 0.5);
}

// Only who is on duty may set the alarm.
function alarm(user, operator, unlock) {
  if (user === operator) unlock();
}

export { alarm, frame, show };
`;

const GUARD = `    on_duty = roster.at(reading.at)
    if user not in on_duty:
        raise NotOnDuty(user, reading.at)
`;
const watch = (raising: string, describing: string) => `"""Who may raise the alarm of the wall, and what it says."""

from tides.roster import NotOnDuty, roster


def raise_alarm(user, reading):
    log.note(user, reading)
${raising}    bell.ring(reading.height)


def describe(user, reading):
    words = f"{reading.height:.2f} m at {reading.at}"
${describing}    return words
`;

/** The tide tables, in Python, with one change set that somebody has begun to read. */
export async function tides(folder: string): Promise<GitHistory> {
  const repo = await GitHistory.begin(folder);
  await repo.commit(sunday, "2026-09-21T09:00:00", "High waters and windows", {
    "tides/table.py": TABLE,
    "README.md": "# Tide tables\n",
    "docs/curve.png": tideCurve(0),
  });
  await repo.commit(sunday, "2026-09-22T09:00:00", "Read the gauge's file", {
    "tides/gauge.py": `"""Readings of the gauge at the north mole."""

import csv
from datetime import datetime

UNITS = {'height': 'm', 'surge': 'm', 'wind': 'm/s'}


def read(path):
    with open(path, newline="") as file:
        for at, height in csv.reader(file):
            yield datetime.fromisoformat(at), float(height)
`,
    "tides/board.py": BOARD,
  });
  await repo.commit(rosa, "2026-09-28T10:30:00", "A year of readings", {
    "data/gauge-2025.csv": Array.from({ length: 2000 }, (_, i) => {
      const at = new Date(Date.UTC(2025, 0, 1, 0, i * 262)).toISOString().slice(0, 16);
      return `${at},${(2.1 + 1.4 * Math.sin(i / 2.37) + 0.3 * Math.sin(i / 29)).toFixed(2)}\n`;
    }).join(""),
  });
  await repo.commit(sunday, "2026-10-05T08:15:00", "Clearance of the channel after dredging", {
    "tides/table.py": change("clearance: float = 0.8", "clearance: float = 0.6"),
  });
  await repo.commit(sunday, "2026-10-12T08:40:00", "A screen for the wall of the office", {
    "viewer/show.js": VIEWER,
    "viewer/package-lock.json": lockfile("wall-screen", { "big-figures": "2.1.0" }),
    "tools/publish.sh": "#!/bin/sh\nset -e\ncp -r viewer /srv/wall\n",
    "tides/watch.py": watch(GUARD, ""),
  });
  await beginFeed(repo);
  await repo.branch("wall-screen");
  chmodSync(join(repo.folder, "tools/publish.sh"), 0o755);
  await repo.commit(sunday, "2026-11-23T15:20:00", "Show the gauge in larger figures, and publish at night", {
    "viewer/show.js": changes(
      (text) => text.replaceAll("gaugeBox", "wallPanel"),
      (text) =>
        text.replace(
          /^(function frame\(\) \{\n)([\s\S]*?)^\}/m,
          (_, head, body) => `${head}${body.replace(/^ {2}/gm, "    ")}}`,
        ),
      change("if (user === operator) unlock();", "if (user === \u043eperator) unlock();"),
      change("// Only who is on duty may set the alarm.", "// Only who is on duty may set the alarm.\u202e // \u2066"),
    ),
    "viewer/package-lock.json": lockfile("wall-screen", { "big-figures": "2.2.0" }, "packages.elsewhere.example"),
    ".gitattributes": "viewer/*.js lens-generated\n",
    "tides/watch.py": watch("", GUARD),
  });
  await repo.checkout("main");
  await repo.branch("wind-surge");
  await repo.commit(sunday, "2026-11-20T09:10:00", "Let the wind raise and lower the water", {
    "tides/table.py": changes(
      change(
        "LUNAR_DAY = ",
        "# Metres of surge for each m/s of wind straight onto the shore.\nSURGE_PER_WIND = 0.018\nLUNAR_DAY = ",
      ),
      change(
        "def window(high: HighWater, draught: float, clearance: float = 0.6):",
        "def surge(wind: float, onto_shore: float) -> float:\n    return wind * onto_shore * SURGE_PER_WIND\n\n\ndef window(high: HighWater, draught: float, clearance: float = 0.6, raised: float = 0.0):",
      ),
      change("    spare = high.height - draught - clearance", "    spare = high.height + raised - draught - clearance"),
    ),
    // As a formatter would have it, since the file was open: nothing of it is to read.
    "tides/gauge.py": change(
      "UNITS = {'height': 'm', 'surge': 'm', 'wind': 'm/s'}",
      'UNITS = {\n    "height": "m",\n    "surge": "m",\n    "wind": "m/s",\n}',
    ),
    // Wrapped, and indented for it: what decides is the one line to read.
    "tides/board.py": (text) =>
      text.replace(/^( {4}for [\s\S]*)$/m, (lines) => `    if highs:\n${lines.replace(/^(?=.)/gm, "    ")}`),
    "docs/curve.png": tideCurve(1),
    "tides/test_table.py": `from datetime import datetime

from tides.table import HighWater, surge, window


def test_wind_opens_the_bar():
    high = HighWater(datetime(2026, 3, 1, 6), 3.0)
    assert window(high, 2.5) is None
    assert window(high, 2.5, raised=surge(20, 1.0)) is not None
`,
  });
  await repo.checkout("main");
  await offerFeed(repo);
  return repo;
}
