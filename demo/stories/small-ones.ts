import type { Story } from "../story";

/** Change sets of one revision each, for the lists and for what is folded. */
export async function smallOnes(story: Story): Promise<void> {
  story.at("2026-11-18T14:30");
  await story.open(
    "anders",
    "berth-planner",
    "slot-to-berth",
    "Call a slot a berth",
    "Everyone at the quay says *berth*. A rename throughout, and nothing else.",
  );
  story.at("2026-11-18T16:10");
  const overlap = await story.open(
    "sunday",
    "berth-planner",
    "overlap-module",
    "A module of its own for overlapping windows",
    "The tariff needs `overlaps` too, and should not have to load the whole of the tide windows. Moved as it is, with one exception: windows that only touch no longer overlap.",
  );
  story.at("2026-11-18T17:00");
  await story.remark(
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
  await story.review("rosa", "berth-planner", overlap, "none", "");
  story.at("2026-11-18T17:30");
  await story.takeAll("sunday", "berth-planner", overlap);
  story.at("2026-11-19T09:00");
  const night = await story.open(
    "sunday",
    "berth-planner",
    "night-tariff",
    "Waiting at night costs a quarter more",
    "As the council decided on 3 November.\n\n| hours | by day | at night |\n|---|---|---|\n| 8, bulk | 520 | 650 |\n",
  );
  story.at("2026-11-20T08:45");
  await story.review("anders", "berth-planner", night, "approve", "");
  story.at("2026-11-20T09:30");
  const surge = await story.open(
    "sunday",
    "tide-tables",
    "wind-surge",
    "Let the wind raise and lower the water",
    "The gauge was 30 cm above the table on 12 October, with a gale from the west.",
  );
  story.at("2026-11-20T16:00");
  await story.remark(
    "anders",
    "tide-tables",
    surge,
    "new",
    "tides/table.py",
    "SURGE_PER_WIND = 0.018",
    "Where does this number come from? The pilots' handbook says 0.021 for the outer bar.",
  );
  await story.review("anders", "tide-tables", surge, "none", "One question before I can say yes.");
  story.at("2026-11-23T07:50");
  await story.remark(
    "rosa",
    "tide-tables",
    surge,
    "new",
    "tides/table.py",
    "def surge(wind: float, onto_shore: float) -> float:",
    "Say in the docstring what `onto_shore` is: a cosine?",
  );
  story.at("2026-11-23T15:30");
  await story.open(
    "sunday",
    "tide-tables",
    "wall-screen",
    "Show the gauge in larger figures, and publish at night",
    "Copied together from the supplier’s example. Please look closely: I did not write all of it.",
  );
}
