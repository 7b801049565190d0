import { afterAll, beforeAll, expect } from "vitest";
import { setRole } from "../access/people";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { setFollowing } from "./following";
import { countUnread, markNotices, Notices, noticesOf } from "./notices";

const it = story();
let bench: Bench;
let notices: Notices;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "a\n" }],
    topic: [{ "a.txt": "b\n" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben", "cy"]) await bench.person(name, { quay: "contributor" });
  notices = new Notices(bench.app);
  await notices.step();
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(async () => {
  await notices.stop();
  await bench.clear();
});

const who = (name: string) => bench.people.get(name)!;
const told = async (name: string) =>
  (await noticesOf(bench.app, who(name))).groups.flatMap(({ number, notices: list }) =>
    list.map(({ says, why, unread }) => `${number} ${says}. ${why}${unread ? " new" : ""}`),
  );
const review = (name: string, remark: string) =>
  bench.do(name, "quay", 1, { kind: "send-review", revision: 1, verdict: "none", remark });

it("tells whom something concerns, with the reason, and nobody what they did themselves", async () => {
  value(await bench.do("ada", "quay", 1, { kind: "ask", invited: [{ person: who("ben").id }] }));
  await notices.step();
  expect(await told("ben")).toEqual([
    expect.stringMatching(/^1 ada Example asks for a review\. You were asked\. new$/),
  ]);
  expect(await told("ada")).toEqual([]);
  expect(await told("cy")).toEqual([]);
  value(await review("ben", "Why?"));
  await notices.step();
  expect(await told("ada")).toEqual([expect.stringMatching(/It is your change set\. new$/)]);
  expect(await told("ben")).toHaveLength(1);
  expect(await countUnread(bench.app, who("ada"))).toBe(1);
});

it("notes each entry once, however often it comes", async () => {
  await bench.app.db.updateTable("followers").set({ position: "0" }).where("name", "=", "notices").execute();
  await notices.step();
  expect(await told("ben")).toHaveLength(1);
  expect(await told("ada")).toHaveLength(1);
});

it("is read by one's own word, and unread again", async () => {
  const { groups } = await noticesOf(bench.app, who("ada"));
  const events = groups[0].notices.map(({ event }) => event);
  // Those of others are not touched by it.
  await markNotices(bench.app, who("ben"), { events }, true);
  expect(await countUnread(bench.app, who("ada"))).toBe(1);
  await markNotices(bench.app, who("ada"), { events }, true);
  expect(await countUnread(bench.app, who("ada"))).toBe(0);
  await markNotices(bench.app, who("ada"), { events }, false);
  expect(await countUnread(bench.app, who("ada"))).toBe(1);
  const { change } = await bench.change("quay", 1);
  await markNotices(bench.app, who("ada"), { change: change.id }, true);
  expect((await told("ada")).every((words) => !words.endsWith(" new"))).toBe(true);
});

it("tells nothing of what somebody left, or may no longer see", async () => {
  const { change } = await bench.change("quay", 1);
  await setFollowing(bench.app, who("ada"), change, false);
  value(await review("ben", "And why?"));
  await notices.step();
  expect(await told("ada")).toHaveLength(1);
  await setFollowing(bench.app, who("ada"), change, true);
  value(await setRole(bench.app, "ben", "quay", null));
  expect(await told("ben")).toEqual([]);
  expect(await countUnread(bench.app, who("ben"))).toBe(0);
});
