import { afterAll, beforeAll, describe, expect } from "vitest";
import type { ReadingView } from "@/core/views/api";
import { git } from "@/git/run";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { Bench, value } from "../testing/bench";
import { filesBetween } from "./files-between";
import { markRead } from "./read-marks";
import { readingFor } from "./reading";
import { comesBack } from "./since";
import { statesOf } from "./states";

const it = story();

let bench: Bench;
let work: string;
const TEXT = Array.from({ length: 30 }, (_, i) => `line ${i + 1}`);
const text = (lines: string[]) => `${lines.join("\n")}\n`;
/** What the author makes of the text, and what happens to it on the target meanwhile: far apart. */
const mine = TEXT.with(4, "line five, by the author");
const theirs = (lines: string[]) => lines.with(24, "line 25, from main").toSpliced(0, 0, "a new first line");

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "a.txt": text(TEXT), "b.txt": text(TEXT), "c.txt": "one\ntwo\n", "d.txt": "d\n" }],
    topic: [{ "a.txt": text(mine), "b.txt": text(mine), "c.txt": "one\n2\n", "new.txt": "n\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

/** Brings a branch into the repository that is served, as a push would. */
async function bring(branch: string): Promise<void> {
  const { folder } = await bench.change("quay", 1);
  await bench.git(folder, "fetch", "--quiet", work, `+refs/heads/${branch}:refs/heads/${branch}`);
}

async function reading(from: string, by = "ben"): Promise<ReadingView> {
  const { change, folder } = await bench.change("quay", 1);
  const name = { from, to: `r${change.revisions.length}` };
  const points = value(await statesOf(bench.app, bench.people.get(by)!, change, folder, from, name.to));
  return readingFor(bench.app, bench.people.get(by)!, change, folder, name, points, { whole: true });
}

async function read(path: string, revision: number): Promise<void> {
  const { change, folder } = await bench.change("quay", 1);
  const ids = { oldId: null, newId: null };
  await markRead(bench.app, bench.people.get("ben")!, change, folder, { path, ...ids, revision, read: true });
}
const files = ({ files: list }: ReadingView) => Object.fromEntries(list.map(({ path, toRead }) => [path, toRead]));

describe("what is new since", () => {
  it("is nothing after a rebase alone, over changes of the same files; what was read stays read", async () => {
    await read("a.txt", 1);
    await read("c.txt", 1);
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.commit(work, "meanwhile", { "a.txt": text(theirs(TEXT)), "b.txt": text(theirs(TEXT)), "d.txt": "D\n" });
    await bench.git(work, "checkout", "--quiet", "topic");
    await bench.git(work, "rebase", "--quiet", "main");
    await bring("main");
    await bring("topic");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));
    expect((await bench.change("quay", 1)).change.revisions[1]).toMatchObject({ how: "rebased", same: true });
    expect(files(await reading("r1"))).toEqual({});
    const all = await reading("base");
    expect(Object.fromEntries(all.files.map(({ path, read: state }) => [path, state]))).toEqual({
      ...{ "a.txt": "read", "b.txt": "unread", "c.txt": "read", "new.txt": "unread" },
    });
    const { change } = await bench.change("quay", 1);
    expect(await comesBack(bench.app, bench.people.get("ben")!, change)).toBe(true);
    expect(await comesBack(bench.app, bench.people.get("ada")!, change)).toBe(false);
  });

  it("is told file by file: what was read shows only what came after, what was not shows all of it", async () => {
    const now = theirs(mine).with(10, "line ten, also by the author");
    await bench.commit(work, "more", { "a.txt": text(now), "c.txt": "one\n2\n3\n" });
    await bring("topic");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));
    expect((await bench.change("quay", 1)).change.revisions[2]).toMatchObject({ how: "forward", same: false });
    const fresh = await reading("read");
    expect(files(fresh)).toEqual({ "a.txt": 2, "b.txt": 2, "c.txt": 1, "new.txt": 1 });
    expect(fresh.leftOut).toBe(0);
    expect(files(await reading("r1"))).toEqual({ "a.txt": 2, "c.txt": 1 });
    await read("a.txt", 3);
    const left = await reading("read");
    expect(files(left)).toEqual({ "b.txt": 2, "c.txt": 1, "new.txt": 1 });
    expect(left).toMatchObject({ leftOut: 1, conflicts: [] });
    // A review with a verdict counts as having seen all of what it is about, also what was marked before.
    value(await bench.do("ben", "quay", 1, { kind: "send-review", revision: 3, verdict: "approve", remark: "" }));
    expect(files(await reading("read"))).toEqual({});
  });

  it("says where the old change and the target touch the same lines, and shows there what became of the target’s", async () => {
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.commit(work, "clash", { "c.txt": "one\nzwei\n" });
    await bench.git(work, "checkout", "--quiet", "topic");
    await bench.git(work, "rebase", "--quiet", "-X", "theirs", "main");
    await bring("main");
    await bring("topic");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));
    const since = await reading("r3");
    expect(since.conflicts).toEqual(["c.txt"]);
    // The author’s own lines were kept over those of the target: one went, two came.
    expect(files(since)).toEqual({ "c.txt": 3 });
  });

  it("shows no line as new after a rebase over 300 commits to the same files", async () => {
    const FILES = 12;
    const body = Array.from({ length: 400 }, (_, i) => `const berth${i} = ${i * 31};`);
    const big = await bench.repository("long", {
      main: [Object.fromEntries(Array.from({ length: FILES }, (_, f) => [`f${f}.ts`, text(body)]))],
      topic: [
        Object.fromEntries(
          Array.from({ length: FILES }, (_, f) => [
            `f${f}.ts`,
            text(body.map((line, i) => (i % 97 === f ? `${line} // ${f}` : line))),
          ]),
        ),
      ],
    });
    await bench.takeIn("long", big);
    for (const name of ["ada", "ben"]) value(await setRole(bench.app, name, "long", "contributor"));
    value(await bench.open("ada", "long", "topic"));
    // Each commit changes a line that the author leaves alone, in one file after the other.
    const now = Array.from({ length: FILES }, () => [...body]);
    let stream = "";
    for (let n = 0; n < 300; n++) {
      const file = n % FILES;
      const line = (Math.floor(n / FILES) * 15 + 6) % 400;
      const free = [-1, 0, 1].every((near) => (line + near) % 97 !== file) ? line : line + 4;
      now[file][free] += ` // ${n}`;
      const data = text(now[file]);
      stream += `commit refs/heads/main\ncommitter T <t@x> ${1767600000 + n} +0000\ndata 1\nm\n${n === 0 ? "from refs/heads/main^0\n" : ""}M 644 inline f${file}.ts\ndata ${Buffer.byteLength(data)}\n${data}\n`;
    }
    await git(null, ["-C", big, "fast-import", "--quiet"], { input: stream });
    await bench.git(big, "reset", "--quiet", "--hard");
    await bench.git(big, "checkout", "--quiet", "topic");
    await bench.git(big, "rebase", "--quiet", "main");
    const { folder } = await bench.change("long", 1);
    await bench.git(folder, "fetch", "--quiet", big, "+refs/heads/*:refs/heads/*");
    const after = value(await bench.do("ada", "long", 1, { kind: "revise" }));
    expect(after.revisions[1]).toMatchObject({ how: "rebased", same: true });
    const points = value(await statesOf(bench.app, bench.people.get("ben")!, after, folder, "r1", "r2"));
    expect(points.conflicts).toEqual([]);
    expect((await filesBetween(bench.app, folder, points)).length).toBe(0);
    expect(
      Number(await bench.git(folder, "rev-list", "--count", `${after.revisions[0].base}..${after.revisions[1].base}`)),
    ).toBe(300);
  });
});

describe("what the target has made alike", () => {
  it("is left out, and shown again once the target has set it back: it would come in anew", async () => {
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.commit(work, "begin", { "e.txt": text(TEXT), "f.txt": "f\n" });
    const shared = TEXT.with(9, "shared");
    await bench.git(work, "checkout", "--quiet", "-B", "alike", "main");
    await bench.commit(work, "both", { "e.txt": text(shared), "g.txt": "whole\n" });
    await bench.commit(work, "own", { "f.txt": "own\n" });
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.commit(work, "the same here", { "e.txt": text(shared.with(20, "and more")), "g.txt": "whole\n" });
    for (const branch of ["main", "alike"]) await bring(branch);
    const { number } = value(await bench.open("ada", "quay", "alike"));
    const shown = async () => {
      const { change, folder } = await bench.change("quay", number);
      const points = value(await statesOf(bench.app, bench.people.get("ben")!, change, folder, "base", "r1"));
      const name = { from: "base", to: "r1" };
      const found = await readingFor(bench.app, bench.people.get("ben")!, change, folder, name, points, {
        whole: true,
      });
      return [points.merged, files(found)];
    };
    expect(await shown()).toEqual([2, { "f.txt": 2 }]);
    await bench.commit(work, "set back", { "e.txt": text(TEXT), "g.txt": null });
    await bring("main");
    expect(await shown()).toEqual([0, { "e.txt": 2, "f.txt": 2, "g.txt": 1 }]);
  });
});
