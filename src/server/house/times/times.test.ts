import { afterAll, beforeAll, expect } from "vitest";
import { saveRules } from "../../rules/rules";
import { Bench, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { ownTimes, repositoryTimes } from "./times";

const it = story();
const HOUR = 3_600_000;

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "a\n", "b.txt": "b\n" }],
    rates: [{ "a.txt": "b\n" }],
    words: [{ "b.txt": "c\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.takeIn("secret", work);
  await bench.person("ada", { quay: "contributor", secret: "keeper" });
  await bench.person("ben", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  value(await bench.open("ada", "quay", "rates"));
  value(await bench.open("ada", "quay", "words"));
  value(await bench.open("ada", "secret", "words"));
});
afterAll(() => bench.clear());

const who = (name: string) => bench.people.get(name)!;
const of = async () => value(await repositoryTimes(bench.app, who("kit"), "quay"));

it("is for keepers alone, and of their repository alone", async () => {
  expect((await repositoryTimes(bench.app, who("ada"), "quay")).ok).toBe(false);
  expect((await repositoryTimes(bench.app, who("kit"), "secret")).ok).toBe(false);
  const { many, waiting, answered } = await of();
  expect([many, answered, waiting.map(({ change }) => `${change.repository} ${change.number}`)]).toEqual([
    2,
    [],
    expect.arrayContaining(["quay 1", "quay 2"]),
  ]);
});

it("tells how long until somebody answered, and what waits still", async () => {
  bench.pass(5 * HOUR);
  const review = { kind: "send-review" as const, revision: 1, verdict: "approve" as const, remark: "Good." };
  value(await bench.do("ben", "quay", 1, review));
  const { answered, waiting } = await of();
  expect(answered).toMatchObject([{ changes: [{ repository: "quay", number: 1, title: "Take rates" }] }]);
  expect(answered[0].median).toBeGreaterThanOrEqual(5 * HOUR);
  expect(waiting.map(({ change }) => change.number)).toEqual([2]);
  expect(waiting[0].value).toBeGreaterThanOrEqual(5 * HOUR);
});

it("tells what the gate waits for, and what hangs on one person", async () => {
  const stewards = [
    { paths: "a.txt", of: ["kit"] },
    { paths: "b.txt", of: ["kit", "ben"] },
    { paths: "c/**", of: ["@few"] },
    { paths: "d/**", of: ["keeper"] },
  ];
  const rules = { groups: { few: ["ben"] }, rules: [{ branches: "main", approvals: { count: 1 }, stewards }] };
  value(await saveRules(bench.app, who("kit"), "quay", rules, "", null));
  const { hindrances, lone } = await of();
  expect(hindrances.map(({ key, changes }) => [key, changes.map(({ number }) => number)])).toEqual([
    ["steward", [2, 1]],
    ["approvals", [2]],
  ]);
  expect(lone).toEqual([
    { branches: "main", paths: "a.txt", person: "kit" },
    { branches: "main", paths: "c/**", person: "ben" },
    { branches: "main", paths: "d/**", person: "kit" },
  ]);
});

it("tells of oneself how long one waits and how long others wait, wherever one may look", async () => {
  const ada = await ownTimes(bench.app, who("ada"));
  expect([ada.many, ada.given, ada.waiting.length]).toEqual([3, [], 2]);
  const ben = await ownTimes(bench.app, who("ben"));
  expect([ben.many, ben.answered, ben.given.length]).toEqual([0, [], 1]);
  expect(ben.given[0].median).toBeGreaterThanOrEqual(5 * HOUR);
  // What is half a year old is no longer looked at.
  bench.pass(27 * 7 * 24 * HOUR);
  expect((await of()).many).toBe(0);
});
