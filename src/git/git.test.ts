import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { commitsBetween, firstParent, mergeBase, stepsBetween } from "./history/commits";
import { mergeTree, moveBranch, writeCommit } from "./merge";
import { isBranchName, isRepositoryName } from "./names";
import { ObjectReader } from "./objects";
import { blobAt, branchCommit, branches, readObject, resolveCommit } from "./repository";
import { GitEnded, GitError, git, gitText } from "./run";

const folder = join(mkdtempSync(join(tmpdir(), "lens-git-")), "bare.git");
const by = { name: "Ada <x>\n", email: "ada@x.example", at: Date.UTC(2026, 0, 5) };
const blob = async (bytes: string | Uint8Array) => gitText(folder, ["hash-object", "-w", "--stdin"], { input: bytes });
const tree = async (files: Record<string, string>) => {
  const entries = await Promise.all(
    Object.entries(files).map(async ([path, text]) => `100644 blob ${await blob(text)}\t${path}\0`),
  );
  return gitText(folder, ["mktree", "-z"], { input: entries.join("") });
};
const commit = async (files: Record<string, string>, ...parents: string[]) =>
  writeCommit(folder, { tree: await tree(files), parents, message: "Made", by });

let base: string;
let left: string;
let right: string;

beforeAll(async () => {
  await git(null, ["init", "--quiet", "--bare", "--initial-branch=main", folder]);
  base = await commit({ "a.txt": "1\n2\n3\n", "b.txt": "b\n" });
  left = await commit({ "a.txt": "one\n2\n3\n", "b.txt": "b\n" }, base);
  right = await commit({ "a.txt": "1\n2\nthree\n", "b.txt": "b\n", "c.txt": "c\n" }, base);
  await git(folder, ["update-ref", "refs/heads/main", left]);
});
afterAll(() => rmSync(join(folder, ".."), { recursive: true, force: true }));

describe("a repository that shows other things in the place of its own", () => {
  it("is read as it is", async () => {
    const shown = await commit({ "a.txt": "harmless\n" }, base);
    await git(folder, ["update-ref", `refs/replace/${left}`, shown]);
    const reader = new ObjectReader(folder);
    try {
      const held = await blobAt(folder, left, "a.txt");
      expect((await reader.read(held!))?.toString()).toBe("one\n2\n3\n");
      expect((await reader.read(left))?.toString()).toContain(await gitText(folder, ["rev-parse", `${left}^{tree}`]));
      expect((await commitsBetween(folder, base, left)).map(({ id }) => id)).toEqual([left]);
    } finally {
      reader.close();
      await git(folder, ["update-ref", "-d", `refs/replace/${left}`]);
    }
  });
});

describe("names", () => {
  it("of branches are those that git takes", async () => {
    const part = fc.string({
      unit: fc.constantFrom("a", "B", "-", ".", "/", "@", "{", "~", "^", ":", " ", "\\", "*", "é", ".lock", "\t"),
      minLength: 1,
      maxLength: 8,
    });
    await fc.assert(
      fc.asyncProperty(part, async (name) => {
        const { code } = await git(null, ["check-ref-format", `refs/heads/${name}`], { answers: [1] });
        if (isBranchName(name)) expect(code).toBe(0);
        else if (code === 0) expect(name.startsWith("-") || name === "@" || name === "HEAD").toBe(true);
      }),
      { numRuns: 150 },
    );
    expect([
      isBranchName("main"),
      isBranchName("a/b-c.d"),
      isBranchName("-x"),
      isBranchName(""),
      isBranchName("x".repeat(300)),
    ]).toEqual([true, true, false, false, false]);
  });

  it("of repositories can be a folder and a part of an address everywhere", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), (name) => {
        if (isRepositoryName(name)) expect(name).toMatch(/^[a-z0-9][a-z0-9._-]*$/);
        expect(isRepositoryName(`${name}/`)).toBe(false);
      }),
    );
  });
});

describe("reading objects", () => {
  it("answers every question with its own bytes, however many are asked at once and whatever is in them", async () => {
    const reader = new ObjectReader(folder);
    const contents = [
      new Uint8Array(0),
      Buffer.from("\n"),
      Buffer.from("x missing\n"),
      Buffer.alloc(300_000, 7),
      ...Array.from({ length: 40 }, (_, i) => Buffer.from(`blob ${i}\n`)),
    ];
    const ids = await Promise.all(contents.map(blob));
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(contents.length), fc.boolean()), { maxLength: 60 }),
        async (questions) => {
          const answers = await Promise.all(
            questions.map(([i, size]) =>
              size ? reader.size(ids[i] ?? "0".repeat(40)) : reader.read(ids[i] ?? "0".repeat(40)),
            ),
          );
          for (const [n, [i, size]] of questions.entries()) {
            const answer = answers[n];
            if (ids[i] === undefined) expect(answer).toBeNull();
            else if (size) expect(answer).toBe(contents[i].length);
            else expect(Buffer.compare(answer as Buffer, Buffer.from(contents[i]))).toBe(0);
          }
        },
      ),
      { numRuns: 25 },
    );
    await expect(reader.read("--version")).rejects.toThrow("not an object id");
    reader.close();
    expect((await reader.read(ids[1]))?.toString()).toBe("\n");
    reader.close();
  });
});

describe("reading one object", () => {
  it("gives its bytes, be they few or many, and says when there is none", async () => {
    for (const bytes of [Buffer.from([0, 10, 255]), Buffer.alloc(3_000_000, "ebb and flood\n"), Buffer.alloc(0)])
      expect((await readObject(folder, await blob(bytes))).equals(bytes)).toBe(true);
    await expect(readObject(folder, "f".repeat(40))).rejects.toThrow("no such object");
    await expect(readObject(folder, "HEAD")).rejects.toThrow("no such object");
  });
});

describe("history", () => {
  it("is told by commits, files and branches", async () => {
    expect((await branches(folder)).map(({ name, commit: id }) => [name, id])).toEqual([["main", left]]);
    expect(await branchCommit(folder, "main")).toBe(left);
    expect(await branchCommit(folder, "--all")).toBeNull();
    expect(await mergeBase(folder, left, right)).toBe(base);
    expect(await mergeBase(folder, left, await commit({ "z.txt": "z\n" }))).toBeNull();
    expect((await commitsBetween(folder, base, left)).map(({ id, author, subject }) => [id, author, subject])).toEqual([
      [left, "Ada  x", "Made"],
    ]);
    // What an author writes of a commit turns nothing around, and hides nothing.
    const odd = { name: "Ada \u202eneb", email: "a@x.example" };
    const message = "Mend\u200b it \u2764\ufe0f\n\nand \u2066more\n";
    const said = await writeCommit(folder, {
      tree: await tree({}),
      parents: [left],
      message,
      by,
      author: { ...by, ...odd },
    });
    const words = ["Ada ⟨U+202E⟩neb", "Mend⟨U+200B⟩ it \u2764\ufe0f", "and ⟨U+2066⟩more"];
    expect(
      (await commitsBetween(folder, left, said)).map(({ author, subject, body }) => [author, subject, body]),
    ).toEqual([words]);
    const [step] = await stepsBetween(folder, left, said);
    expect([step.author, step.subject, step.body]).toEqual(words);
    expect(await blobAt(folder, right, "c.txt")).toBe(await blob("c\n"));
    expect(await blobAt(folder, right, "none")).toBeNull();
    expect(await firstParent(folder, left)).toBe(base);
    expect(await firstParent(folder, base)).toBe(await gitText(folder, ["mktree"]));
    expect(await resolveCommit(folder, "main~1")).toBe(base);
    expect(await resolveCommit(folder, "--help")).toBeNull();
  });
});

describe("merging", () => {
  it("joins what does not meet, names what does, and touches no ref", async () => {
    const before = await gitText(folder, ["for-each-ref"]);
    const merged = await mergeTree(folder, left, right);
    if (!merged.clean) throw new Error("This should merge.");
    expect(await gitText(folder, ["show", `${merged.tree}:a.txt`])).toBe("one\n2\nthree");
    const against = await commit({ "a.txt": "uno\n2\n3\n", "b.txt": "b\n" }, base);
    expect(await mergeTree(folder, left, against)).toEqual({ clean: false, paths: ["a.txt"] });
    expect(await gitText(folder, ["for-each-ref"])).toBe(before);
  });

  it("names a file of odd bytes as it is named everywhere", async () => {
    const odd = async (text: string, ...on: string[]) => {
      const entry = Buffer.concat([Buffer.from(`100644 blob ${await blob(text)}\tcaf`), Buffer.from([0xe9, 0])]);
      const made = await gitText(folder, ["mktree", "-z"], { input: entry });
      return writeCommit(folder, { tree: made, parents: on, message: "Odd", by });
    };
    const first = await odd("1\n");
    const merged = await mergeTree(folder, await odd("2\n", first), await odd("3\n", first));
    expect(merged).toEqual({ clean: false, paths: ["caf\\xE9"] });
  });

  it("names what both sides changed where it takes too long, and does not try that again", async () => {
    const mine = await commit({ "a.txt": "uno\n2\n3\n", "b.txt": "mine\n", "d.txt": "d\n" }, base);
    const other = await commit({ "a.txt": "1\n2\ndrei\n", "b.txt": "other\n" }, base);
    const conflict = { clean: false, paths: ["b.txt"] };
    expect(await mergeTree(folder, mine, other)).toEqual(conflict);
    const late = { clean: false, paths: ["a.txt", "b.txt"], late: true };
    expect(await mergeTree(folder, mine, other, 0)).toEqual(late);
    expect(await mergeTree(folder, mine, other)).toEqual(late);
    expect(await mergeTree(folder, other, mine)).toEqual(conflict);
    const alone = await commit({ "a.txt": "alone\n", "b.txt": "b\n" });
    expect(await mergeTree(folder, base, alone, 0)).toEqual({ clean: false, paths: ["a.txt"], late: true });
  });

  it("moves a branch only from where it was expected", async () => {
    const next = await commit({ "a.txt": "x\n" }, left);
    expect(await moveBranch(folder, "main", next, right, "no")).toBe(false);
    expect(await branchCommit(folder, "main")).toBe(left);
    expect(await moveBranch(folder, "main", next, left, "yes")).toBe(true);
    expect(await branchCommit(folder, "main")).toBe(next);
  });

  it("is ended where it takes longer or says more than it may, and takes what is large where that is said", async () => {
    const waiting = git(null, ["-c", "alias.wait=!exec sleep 600", "wait"], { within: 0.2 });
    await expect(waiting).rejects.toThrow("git took longer than 0.2 seconds for this, and was ended.");
    const endless = git(null, ["-c", "alias.say=!exec yes", "say"], { most: 1_000_000 });
    await expect(endless).rejects.toThrow(GitEnded);
    const most = { input: "x".repeat(1_000_000), most: 1_000_000, within: Number.POSITIVE_INFINITY };
    expect((await git(null, ["-c", "alias.say=!cat", "say"], most)).stdout).toHaveLength(1_000_000);
  });

  it("raises what git has no answer for, with git's own words", async () => {
    await expect(git(folder, ["rev-list", "nothing-of-that-name"])).rejects.toThrow(GitError);
    await expect(git(folder, ["rev-list", "nothing-of-that-name"])).rejects.toThrow(
      /ambiguous argument|unknown revision/,
    );
  });
});
