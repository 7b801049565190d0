import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { ReadingView } from "@/core/views/api";
import { setRole } from "../../access/people";
import { markLooked, markRead } from "../../reading/read-marks";
import { readingFor } from "../../reading/reading";
import { comesBack } from "../../reading/since";
import { statesOf } from "../../reading/states";
import { Bench, value } from "../../testing/bench";

/** Ways in which an author could have something pass by a reader who comes back. */
let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  await bench.person("ada");
  await bench.person("ben");
});
afterAll(() => bench.clear());

const TEXT = Array.from({ length: 30 }, (_, i) => `const line${i + 1} = ${i + 1};`);
const text = (lines: string[]) => `${lines.join("\n")}\n`;
type Files = Record<string, string | null>;

/** A repository with a change set on `topic`, and what one can do with it. */
async function story(name: string, main: Files, topic: Files) {
  const work = await bench.repository(name, { main: [main], topic: [topic] });
  await bench.takeIn(name, work);
  for (const person of ["ada", "ben"]) value(await setRole(bench.app, person, name, "contributor"));
  value(await bench.open("ada", name, "topic"));
  const ben = bench.people.get("ben")!;
  const bring = async (...branches: string[]) => {
    const { folder } = await bench.change(name, 1);
    for (const branch of branches)
      await bench.git(folder, "fetch", "--quiet", work, `+refs/heads/${branch}:refs/heads/${branch}`);
  };
  return {
    work,
    bring,
    git: (...args: string[]) => bench.git(work, ...args),
    commit: async (branch: string, files: Files) => {
      await bench.git(work, "checkout", "--quiet", branch);
      await bench.commit(work, "more", files);
    },
    revise: async () => {
      await bring("main", "topic");
      return value(await bench.do("ada", name, 1, { kind: "revise" })).revisions.at(-1)!;
    },
    change: async () => (await bench.change(name, 1)).change,
    review: async (revision: number, verdict: "approve" | "request-changes" | "none") =>
      value(await bench.do("ben", name, 1, { kind: "send-review", revision, verdict, remark: "Read." })),
    mark: async (path: string, revision: number) => {
      const { change, folder } = await bench.change(name, 1);
      await markRead(bench.app, ben, change, folder, { path, oldId: null, newId: null, revision, read: true });
    },
    look: async (path: string, revision: number) =>
      markLooked(bench.app, ben, (await bench.change(name, 1)).change, { paths: [path], revision }),
    reading: async (from: string): Promise<ReadingView> => {
      const { change, folder } = await bench.change(name, 1);
      const points = { from, to: `r${change.revisions.length}` };
      const found = value(await statesOf(bench.app, ben, change, folder, from, points.to));
      return readingFor(bench.app, ben, change, folder, points, found, { whole: true });
    },
  };
}
const loads = ({ files }: ReadingView) => Object.fromEntries(files.map(({ path, toRead }) => [path, toRead]));

describe("what counts as seen", () => {
  it("is the newer of a mark and a review: a door that went and came back is new", async () => {
    const door = text([...TEXT, "openDoor(anyone);"]);
    const { commit, revise, mark, review, reading, change } = await story(
      "door",
      { "a.ts": text(TEXT) },
      { "a.ts": door },
    );
    await mark("a.ts", 1);
    await commit("topic", { "a.ts": text([...TEXT, "close();"]) });
    await revise();
    await review(2, "approve");
    await commit("topic", { "a.ts": door });
    await revise();
    expect(loads(await reading("read"))).toEqual({ "a.ts": 2 });
    // The mark of r1 knows this very state, and is older than the review.
    expect((await reading("base")).files.map(({ read }) => read)).toEqual(["changed"]);
    expect(await comesBack(bench.app, bench.people.get("ben")!, await change())).toBe(true);
  });

  it("is not all that a single remark was sent beside", async () => {
    const { commit, revise, review, reading, change } = await story(
      "remark",
      { "a.ts": text(TEXT) },
      { "a.ts": text([...TEXT, "a();"]), "b.ts": "b();\n" },
    );
    await review(1, "none");
    await commit("topic", { "c.ts": "c();\n" });
    await revise();
    expect(loads(await reading("read"))).toEqual({ "a.ts": 1, "b.ts": 1, "c.ts": 1 });
    expect(await comesBack(bench.app, bench.people.get("ben")!, await change())).toBe(false);
    await review(2, "request-changes");
    expect(loads(await reading("read"))).toEqual({});
  });

  it("is what was opened to its end, in the revision in which it was", async () => {
    const { commit, revise, look, reading } = await story(
      "looked",
      { "a.ts": text(TEXT) },
      { "a.ts": text([...TEXT, "a();"]), "b.ts": "b();\n" },
    );
    await look("a.ts", 1);
    await commit("topic", { "a.ts": text([...TEXT, "a();", "again();"]) });
    await revise();
    expect(loads(await reading("read"))).toEqual({ "a.ts": 1, "b.ts": 1 });
    await look("a.ts", 2);
    await look("a.ts", 1);
    expect(loads(await reading("read"))).toEqual({ "b.ts": 1 });
  });
});

describe("a rebase alone", () => {
  const secret = { "secret.pem": "-----BEGIN\n" };
  it("is not what new commits are that put something in and take it out again", async () => {
    const { commit, revise } = await story("forward", { "a.ts": text(TEXT) }, { "a.ts": text([...TEXT, "a();"]) });
    await commit("topic", secret);
    await commit("topic", { "secret.pem": null });
    expect(await revise()).toMatchObject({ how: "forward", same: false, resultSame: true });
  });

  it("is not a rewritten history with something in between, in its own file or in another", async () => {
    for (const [name, between] of [
      ["other", secret],
      ["own", { "a.ts": text([...TEXT, "a();", "token = 'x';"]) }],
    ] as const) {
      const { git, commit, revise } = await story(
        `between-${name}`,
        { "a.ts": text(TEXT) },
        { "a.ts": text([...TEXT, "a();"]) },
      );
      await git("checkout", "--quiet", "-B", "topic", "main");
      await commit("topic", between);
      const clean = { "a.ts": text([...TEXT, "a();"]) };
      await commit("topic", name === "other" ? { ...clean, "secret.pem": null } : clean);
      expect(await revise()).toMatchObject({ how: "rewritten", same: false, resultSame: true });
    }
  });

  it("is not one whose commits differ by white space alone, or by what is no text", async () => {
    for (const [name, first, other] of [
      ["white", "pay(  1);\n", "pay(\t1);\n"],
      ["binary", "\0\x01", "\0\x02"],
    ] as const) {
      const { git, commit, revise } = await story(`differ-${name}`, { "a.ts": text(TEXT) }, { "b.ts": first });
      await commit("topic", { "b.ts": "pay(1);\n" });
      await revise();
      await git("checkout", "--quiet", "-B", "topic", "main");
      await commit("topic", { "b.ts": other });
      await commit("topic", { "b.ts": "pay(1);\n" });
      expect(await revise()).toMatchObject({ how: "rewritten", same: false, resultSame: true });
    }
  });

  it("is not a history in which it came and went on the other side of a merge", async () => {
    const { git, commit, revise } = await story("side", { "a.ts": text(TEXT) }, { "a.ts": text([...TEXT, "a();"]) });
    await git("checkout", "--quiet", "-B", "side", "main");
    await commit("side", secret);
    await commit("side", { "secret.pem": null });
    await git("checkout", "--quiet", "-B", "topic", "main");
    await commit("topic", { "a.ts": text([...TEXT, "a();"]) });
    await git("merge", "--quiet", "--no-ff", "-m", "both", "side");
    expect(await revise()).toMatchObject({ how: "rewritten", same: false, resultSame: true });
  });

  it("is one with the same commits elsewhere, and one whose commits were joined", async () => {
    const { git, commit, revise } = await story(
      "pure",
      { "a.ts": text(TEXT), "z.ts": "z\n" },
      { "a.ts": text([...TEXT, "a();"]) },
    );
    await commit("topic", { "b.ts": "b();\n" });
    await revise();
    await commit("main", { "z.ts": "zz\n" });
    await git("checkout", "--quiet", "topic");
    await git("rebase", "--quiet", "main");
    expect(await revise()).toMatchObject({ how: "rebased", same: true, resultSame: false });
    await git("reset", "--quiet", "--soft", "main");
    await git("commit", "--quiet", "-m", "one");
    expect(await revise()).toMatchObject({ how: "rewritten", same: true });
  });
});

describe("what came from the target", () => {
  it("shows when the author set it back while rebasing", async () => {
    const mine = TEXT.with(9, "const timeout = 60;");
    const { git, commit, revise, review, reading } = await story(
      "back",
      { "a.ts": text(TEXT) },
      { "a.ts": text(mine) },
    );
    await review(1, "approve");
    await commit("main", { "a.ts": text(TEXT.with(9, "const timeout = 5; // mended")) });
    await git("checkout", "--quiet", "topic");
    await git("rebase", "--quiet", "-X", "theirs", "main");
    await revise();
    const fresh = await reading("read");
    expect(fresh.conflicts).toEqual(["a.ts"]);
    expect(loads(fresh)).toEqual({ "a.ts": 2 });
  });

  it("is followed when it renamed a file, or when the author did", async () => {
    const mine = text(TEXT.with(3, "const mine = 1;"));
    const { git, commit, revise, review, reading } = await story(
      "renamed",
      { "a.ts": text(TEXT), "b.ts": text(TEXT.toReversed()) },
      { "a.ts": mine, "b.ts": null, "c.ts": text(TEXT.toReversed().with(3, "const c = 1;")) },
    );
    await review(1, "approve");
    await commit("main", {
      "a.ts": null,
      "moved/a.ts": text(TEXT),
      "b.ts": text(TEXT.toReversed().with(20, "const main = 2;")),
    });
    await git("checkout", "--quiet", "topic");
    await git("rebase", "--quiet", "main");
    await revise();
    const fresh = await reading("read");
    expect(fresh.conflicts).toEqual([]);
    expect(loads(fresh)).toEqual({});
  });
});

describe("the whole", () => {
  it("leaves out what the target has already, made alike there, and says so", async () => {
    const { git, commit, revise, reading } = await story(
      "squashed",
      { "a.ts": text(TEXT), "b.ts": "b\n" },
      { "a.ts": text(TEXT.with(2, "const first = 1;")), "n.ts": "n();\n" },
    );
    await git("checkout", "--quiet", "main");
    await git("merge", "--quiet", "--squash", "topic");
    await git("commit", "--quiet", "-m", "squashed");
    await commit("topic", { "a.ts": text(TEXT.with(2, "const first = 1;").with(20, "const second = 2;")) });
    await revise();
    const all = await reading("base");
    expect(loads(all)).toEqual({ "a.ts": 2 });
    expect(all.merged).toBe(2);
  });
});
