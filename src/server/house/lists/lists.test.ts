import { afterAll, beforeAll, expect } from "vitest";
import { newest } from "@/core/review/state";
import { setRole } from "../../access/people";
import { Preparing } from "../../reading/preparing";
import { markRead } from "../../reading/read-marks";
import { Bench, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { countChanges, findChanges, PAGE } from "./find";
import { findAnything } from "./find-anything";
import { dropList, keepList, listsOf } from "./kept-lists";

const it = story();
let bench: Bench;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "a\n" }],
    topic: [{ "a.txt": "b\n" }],
    "fix/tide": [{ "a.txt": "c\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.takeIn(
    "secret",
    await bench.repository("secret", { main: [{ "a.txt": "a\n" }], topic: [{ "a.txt": "b\n" }] }),
  );
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "keeper" });
  await bench.person("cy", { quay: "contributor", secret: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
  value(await bench.open("ben", "quay", "fix/tide"));
  value(await bench.open("cy", "secret", "topic"));
});
afterAll(() => bench.clear());

const who = (name: string) => bench.people.get(name)!;
/** Repository and number of each, in order. */
async function found(name: string, query: string): Promise<string[]> {
  return value(await findChanges(bench.app, who(name), query)).lines.map((line) => `${line.repository} ${line.number}`);
}

it("finds by every word, and never what somebody may not see", async () => {
  expect(await found("ada", "sort:age")).toEqual(["quay 1", "quay 2"]);
  expect(await found("ada", "by:me")).toEqual(["quay 1"]);
  expect(await found("ada", "-by:me state:going")).toEqual(["quay 2"]);
  expect(await found("ada", "by:ben from:fix/* into:main")).toEqual(["quay 2"]);
  expect(await found("ada", "from:fix/[t]ide")).toEqual([]);
  expect(await found("ada", "in:secret")).toEqual([]);
  expect(await found("ada", "by:cy in:quay")).toEqual([]);
  expect(await found("cy", "in:secret")).toEqual(["secret 1"]);
  expect(await found("ada", "state:settled")).toEqual([]);
  expect(await found("ada", "age:<1h rounds:1 threads:0 checks:none still:<1h sort:age")).toHaveLength(2);
  expect(await found("ada", "age:>1d")).toEqual([]);
  expect(await countChanges(bench.app, who("ada"), "state:open")).toBe(2);
});

it("knows who was asked, with whom it is and whose move it is, as it goes on", async () => {
  expect(await found("ben", "asked:me")).toEqual([]);
  expect(await found("ben", "asked:nobody sort:age")).toEqual(["quay 1", "quay 2"]);
  value(await bench.do("ada", "quay", 1, { kind: "ask", invited: [{ role: "keeper" }] }));
  value(await bench.do("ben", "quay", 2, { kind: "ask", invited: [{ person: who("ada").id }] }));
  // Whoever has the role was asked, and nobody else.
  expect(await found("ben", "asked:me")).toEqual(["quay 1"]);
  expect(await found("ada", "asked:me move:me")).toEqual(["quay 2"]);
  expect(await found("cy", "asked:me in:quay")).toEqual([]);
  expect(await found("ben", "move:me")).toEqual(["quay 1"]);
  value(
    await bench.do("ben", "quay", 1, {
      kind: "send-review",
      revision: 1,
      verdict: "request-changes",
      remark: "Say why the Gezeitentafel moves",
    }),
  );
  expect(await found("ada", "move:me sort:age")).toEqual(["quay 1", "quay 2"]);
  expect(await found("ben", "move:me")).toEqual([]);
  expect(await found("cy", "with:ben move:author")).toEqual(["quay 1"]);
  // What is said can be found by the beginnings of its words, in this repository alone.
  expect(await found("ada", "gezeit")).toEqual(["quay 1"]);
  expect(await found("ada", '"why the gezeit"')).toEqual(["quay 1"]);
  expect(await found("ada", "gezeit why")).toEqual(["quay 1"]);
  expect(await found("ada", "gezeit nowhere")).toEqual([]);
  expect(await found("ada", "why -gezeit")).toEqual([]);
  expect(await found("ada", '-gezeit"" OR 1')).toEqual([]);
});

it("refuses a query that means nothing, and a page that is none, with a sentence", async () => {
  const reason = async (query: string, after?: string) => {
    const asked = await findChanges(bench.app, who("ada"), query, after);
    return asked.ok ? "" : asked.refusal.reason;
  };
  // Also of somebody who is there, and with whom one shares no repository.
  await bench.person("far");
  expect(await reason("by:far")).toMatch(/Nobody here has the name “far”/);
  expect(await reason("by:nobody-here")).toMatch(/Nobody here has the name “nobody-here”/);
  expect(await reason("from:*a*b*")).toMatch(/Two stars at most/);
  expect(await reason("state:x")).toMatch(/means nothing here/);
  expect(await reason("", "'; drop table people; --")).toMatch(/This page of the list is not known/);
  expect(await countChanges(bench.app, who("ada"), "nonsense:")).toBeNull();
});

it("goes through pages of which each is told once, also while something changes", async () => {
  const { repository } = (await bench.change("quay", 1)).change;
  const rows = Array.from({ length: PAGE + 5 }, (_, i) => ({
    ...{
      id: bench.app.newId(),
      repository,
      number: 100 + i,
      title: `Made ${i}`,
      author: who("ada").id,
      state: "open" as const,
    },
    ...{
      source: `s${i}`,
      target: "main",
      revision: 1,
      head: "0".repeat(40),
      open_threads: 0,
      opened_at: 1,
      changed_at: 5,
    },
    ...{ settled_at: null, merge_asked: 0, turn: "reviewers" as const, checks: "none" },
  }));
  await bench.app.db.insertInto("change_sets").values(rows).execute();
  const page = async (after: string | null) =>
    value(await findChanges(bench.app, who("ada"), "sort:still still:>1h", after));
  const first = await page(null);
  expect(first.count).toBe(PAGE + 5);
  // They have no log, so no line is told of them; the pages are there all the same.
  expect(first.next).toMatch(/^5\.[0-9A-Z]{26}$/);
  const second = await page(first.next);
  expect(second.next).toBeNull();
  await bench.app.db.deleteFrom("change_sets").where("number", ">=", 100).execute();
});

it("finds anything by its words, and nothing that somebody may not see", async () => {
  const anything = async (name: string, words: string) =>
    (await findAnything(bench.app, who(name), words)).map(({ kind, address }) => `${kind} ${address}`);
  expect(await anything("ada", "gezeit")).toEqual(["change /r/quay/c/1"]);
  expect(await anything("ada", "#2")).toEqual(["change /r/quay/c/2"]);
  expect(await anything("ada", "ben")).toEqual(["person /people/ben"]);
  expect(await anything("ada", "secret")).toEqual([]);
  expect(await anything("cy", "secret")).toContain("repository /r/secret");
  const { change } = await bench.change("quay", 1);
  const { head } = newest(change);
  expect(await anything("ada", head.slice(0, 9))).toEqual([`commit /r/quay/commit/${head}`]);
  const { change: hidden } = await bench.change("secret", 1, "cy");
  expect(await anything("ben", newest(hidden).head.slice(0, 9))).not.toContain(
    `commit /r/secret/commit/${newest(hidden).head}`,
  );
  for (const words of ['"', "a OR b", "title:x", "*", "NEAR("]) await anything("ada", `${words} `);
});

it("keeps lists under names, those that everyone begins with among them, and lets go of them", async () => {
  const names = async () => (await listsOf(bench.app, who("ada"))).map(({ name }) => name);
  expect(await names()).toEqual(["Mine", "Asked of me", "My move", "Nobody was asked", "Still for more than a week"]);
  value(await keepList(bench.app, who("ada"), { name: "Tides", query: "gezeit" }));
  expect((await listsOf(bench.app, who("ada"))).at(-1)).toMatchObject({ name: "Tides", query: "gezeit", count: 1 });
  value(await keepList(bench.app, who("ada"), { name: "Tides", query: "from:fix/*" }));
  expect(await names()).toHaveLength(6);
  expect(await keepList(bench.app, who("ada"), { name: "Wrong", query: "x:y" })).toMatchObject({ ok: false });
  // At the same moment: none is lost.
  const both = ["One", "Two", "Three"].map((name) => keepList(bench.app, who("cy"), { name, query: "by:me" }));
  for (const kept of await Promise.all(both)) value(kept);
  expect(await listsOf(bench.app, who("cy"))).toHaveLength(8);
  for (const { id } of await listsOf(bench.app, who("ada"))) await dropList(bench.app, who("ada"), id);
  // Who wants none has none.
  expect(await names()).toEqual([]);
  expect(await listsOf(bench.app, who("ben"))).toHaveLength(5);
  const [mine] = await listsOf(bench.app, who("ben"));
  await dropList(bench.app, who("ada"), mine.id);
  expect(await listsOf(bench.app, who("ben"))).toHaveLength(5);
});

it("knows how much there is to read and which paths are touched, once it was compared, of the newest revision", async () => {
  const work = await bench.repository("docks", {
    main: [{ "tariff/a.sql": "a\n", "tariff2/b.txt": "b\n", "old.txt": "one\ntwo\nthree\nfour\n" }],
    rates: [{ "tariff/a.sql": "b\nc\nd\n" }],
    // One of its lines to read is that a file has another name.
    names: [{ "old.txt": null, "new%_.txt": "one\ntwo\nthree\nfour\n", "tariff2/b.txt": "c\n" }],
  });
  await bench.takeIn("docks", work);
  value(await setRole(bench.app, "ada", "docks", "contributor"));
  value(await bench.open("ada", "docks", "rates"));
  value(await bench.open("ada", "docks", "names"));
  expect(await found("ada", "in:docks load:>0")).toEqual([]);
  const preparing = new Preparing(bench.app);
  // What an older version left is found as well, a few at a time.
  for (let i = 0; i < 4; i++) await preparing.step();
  await preparing.stop();
  const of = (query: string) => found("ada", `in:docks sort:age ${query}`);
  expect(await of("load:<4")).toEqual(["docks 2"]);
  expect(await of("load:4")).toEqual(["docks 1"]);
  expect(await of("path:tariff/")).toEqual(["docks 1"]);
  expect(await of("path:tariff/**")).toEqual(["docks 1"]);
  expect(await of("-path:tariff/ path:old.txt")).toEqual(["docks 2"]);
  expect(await of("path:*.sql")).toEqual(["docks 1"]);
  expect(await of("path:new%_.txt")).toEqual(["docks 2"]);
  expect(await of("path:new__.txt")).toEqual([]);
  expect(await of("path:tar")).toEqual([]);
  const files = async (name: string, words: string) =>
    (await findAnything(bench.app, who(name), words)).flatMap(({ kind, address }) =>
      kind === "file" ? [address] : [],
    );
  expect(await files("ada", "A.SQL")).toEqual(["/r/docks/c/1?file=tariff%2Fa.sql"]);
  expect(await files("ada", "w%_")).toEqual(["/r/docks/c/2?file=new%25_.txt"]);
  expect(await files("cy", "a.sql")).toEqual([]);
  expect(await found("ada", "in:docks sort:load")).toEqual(["docks 2", "docks 1"]);
  const { lines } = value(await findChanges(bench.app, who("ada"), "in:docks sort:age"));
  expect(lines[0]).toMatchObject({ load: 4, fresh: null });
  // What somebody has read as it is is not new to them, nor what they judged.
  value(await setRole(bench.app, "ben", "docks", "keeper"));
  const fresh = async () =>
    value(await findChanges(bench.app, who("ben"), "in:docks sort:age")).lines.map((line) => [line.load, line.fresh]);
  expect(await fresh()).toEqual([
    [4, 4],
    [3, 3],
  ]);
  const { change, folder } = await bench.change("docks", 1);
  const mark = { path: "tariff/a.sql", oldId: null, newId: null, revision: 1, read: true };
  await markRead(bench.app, who("ben"), change, folder, mark);
  value(await bench.do("ben", "docks", 2, { kind: "send-review", revision: 1, verdict: "approve", remark: "" }));
  expect(await fresh()).toEqual([
    [4, 0],
    [3, 0],
  ]);
  expect(value(await findChanges(bench.app, who("cy"), "path:tariff/")).lines).toEqual([]);
});

it("shares lists with a repository, by its keepers, with whoever sees it", async () => {
  const names = async (name: string) =>
    (await listsOf(bench.app, who(name))).flatMap((list) => (list.shared ? [`${list.name} of ${list.shared}`] : []));
  const shared = { name: "Tariffs", query: "from:fix/*", shared: "quay" };
  expect(await keepList(bench.app, who("ada"), shared)).toMatchObject({ ok: false, refusal: { code: "forbidden" } });
  expect(await keepList(bench.app, who("ben"), { ...shared, shared: "secret" })).toMatchObject({
    refusal: { code: "missing" },
  });
  const { id } = value(await keepList(bench.app, who("ben"), shared));
  expect(value(await keepList(bench.app, who("ben"), { ...shared, query: "by:me" })).id).toBe(id);
  expect([await names("ada"), await names("far")]).toEqual([["Tariffs of quay"], []]);
  // What “me” is, is for who looks.
  expect((await listsOf(bench.app, who("ada"))).find((list) => list.id === id)).toMatchObject({ count: 3 });
  expect(await dropList(bench.app, who("ada"), id)).toMatchObject({ ok: false, refusal: { code: "forbidden" } });
  // One that somebody does not see is none to them.
  value(await dropList(bench.app, who("far"), id));
  expect(await names("ada")).toEqual(["Tariffs of quay"]);
  value(await dropList(bench.app, who("ben"), id));
  expect(await names("ada")).toEqual([]);
});
