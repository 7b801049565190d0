import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeCommit } from "./merge";
import { ObjectReader } from "./objects";
import { readChange, splitAtNul } from "./raw";
import { git, gitText } from "./run";
import { Trees } from "./trees";

const folder = join(mkdtempSync(join(tmpdir(), "lens-trees-")), "bare.git");
const objects = new ObjectReader(folder);
let blobs: string[];

/** What stands at a name: a folder, or a file by its mode and content. */
type Node = { [name: string]: Node } | { mode: string; blob: number };

async function treeOf(node: { [name: string]: Node }): Promise<string> {
  const entries = Object.entries(node).map(async ([name, one]) => {
    if ("mode" in one) {
      const { mode, blob } = one as { mode: string; blob: number };
      return mode === "160000"
        ? `${mode} commit ${String(blob).repeat(40)}\t${name}\0`
        : `${mode} blob ${blobs[blob]}\t${name}\0`;
    }
    return `040000 tree ${await treeOf(one)}\t${name}\0`;
  });
  const input = Buffer.from((await Promise.all(entries)).join(""), "latin1");
  return gitText(folder, ["mktree", "-z", "--missing"], { input });
}

const { tree } = fc.letrec<{ tree: { [name: string]: Node }; node: Node }>((tie) => ({
  tree: fc.dictionary(fc.constantFrom("a", "a-b", "a.c", "b", "\xe9", "\\xE9", ".gitattributes"), tie("node"), {
    maxKeys: 5,
  }),
  node: fc.oneof(
    { depthSize: "small", withCrossShrink: true },
    fc.record({ mode: fc.constantFrom("100644", "100755", "120000", "160000"), blob: fc.integer({ min: 1, max: 2 }) }),
    tie("tree"),
  ),
}));

beforeAll(async () => {
  await git(null, ["init", "--quiet", "--bare", folder]);
  blobs = await Promise.all(
    ["one\n", "two\n", "three\n"].map((input) => gitText(folder, ["hash-object", "-w", "--stdin"], { input })),
  );
});
afterAll(() => {
  objects.close();
  rmSync(join(folder, ".."), { recursive: true, force: true });
});

describe("trees", () => {
  it("differ in the files that git says, in its order", async () => {
    await fc.assert(
      fc.asyncProperty(tree, tree, async (one, other) => {
        const [a, b] = [await treeOf(one), await treeOf(other)];
        const args = ["diff-tree", "-r", "-z", "--raw", "--no-renames", "--no-abbrev", a, b];
        const fields = splitAtNul((await git(folder, args)).stdout);
        const said = fields.flatMap((field, at) => (at % 2 ? [] : [readChange(field.toString(), fields[at + 1])]));
        expect(await new Trees(objects).changedFiles(a, b)).toEqual(said);
      }),
      { numRuns: 60 },
    );
  });

  it("are those of commits, and the files of a name are found where something changed", async () => {
    const file = (blob: number): Node => ({ mode: "100644", blob });
    const settings = { ".gitattributes": file(0) };
    const before = {
      ...settings,
      docks: { ...settings, deep: { "x.ts": file(0) } },
      quiet: { ...settings, y: file(0) },
    };
    const by = { name: "Ada", email: "ada@x.example", at: Date.UTC(2026, 0, 5) };
    const old = await writeCommit(folder, { tree: await treeOf(before), parents: [], message: "One", by });
    const after = { ...before, docks: { ...before.docks, deep: { "x.ts": file(1) } } };
    const trees = new Trees(objects);
    const changes = await trees.changedFiles(old, await treeOf(after));
    expect(changes.map(({ path, oldId, newId }) => [path, oldId, newId])).toEqual([
      ["docks/deep/x.ts", ...blobs.slice(0, 2)],
    ]);
    expect((await trees.filesNamed(old, ".gitattributes", changes)).map(({ path }) => path)).toEqual([
      ".gitattributes",
      "docks/.gitattributes",
    ]);
    expect(await trees.changedFiles(old, old)).toEqual([]);
  });

  it("tell of what came under a name that stands beside it by another spelling, or in a folder that does", async () => {
    const file: Node = { mode: "100644", blob: 0 };
    const utf8 = (name: string) => Buffer.from(name).toString("latin1");
    const before = { docks: { "a.ts": file, "same.ts": file }, [utf8("café")]: file };
    const after = {
      ...{
        docks: { "a.ts": file, "A.ts": file, "same.ts": file, [utf8("\u0430.ts")]: file },
        Docks: { "new.ts": file },
      },
      ...{ [utf8("café")]: file, [utf8("cafe\u0301")]: file },
    };
    const changes = await new Trees(objects).changedFiles(await treeOf(before), await treeOf(after));
    expect(Object.fromEntries(changes.map(({ path, twin }) => [path, twin]))).toEqual({
      "Docks/new.ts": "docks",
      "cafe\u0301": "café",
      "docks/A.ts": "docks/a.ts",
      "docks/\u0430.ts": "docks/a.ts",
    });
    // The same folder elsewhere has twins of its own.
    const [one, two] = [{ "a.ts": file }, { "a.ts": file, "A.ts": file }];
    const copies = await new Trees(objects).changedFiles(
      await treeOf({ here: one, there: one }),
      await treeOf({ here: two, there: two }),
    );
    expect(copies.map(({ twin }) => twin)).toEqual(["here/a.ts", "there/a.ts"]);
    // What goes under a name that is only spelled anew stands beside nothing.
    const renamed = await new Trees(objects).changedFiles(
      await treeOf({ "a.ts": file }),
      await treeOf({ "A.ts": file }),
    );
    expect(renamed.map(({ twin }) => twin)).toEqual([undefined, undefined]);
  });

  it("are compared up to as many entries as may differ, folders among them, and however deep they lie", async () => {
    let deep = await treeOf({ x: { mode: "100644", blob: 0 } });
    const levels = 150;
    for (let level = 0; level < levels; level++)
      deep = await gitText(folder, ["mktree"], { input: `040000 tree ${deep}\ta\n` });
    const empty = await treeOf({});
    const [file] = await new Trees(objects, levels + 1).changedFiles(empty, deep);
    expect(file.path).toBe(`${"a/".repeat(levels)}x`);
    await expect(new Trees(objects, levels).changedFiles(empty, deep)).rejects.toThrow("More files differ");
  });

  it("are not compared where paths come to more than memory, few as the entries may be", async () => {
    const name = "n".repeat(250);
    let deep = await treeOf({ x: { mode: "100644", blob: 0 } });
    const blob = `100644 blob ${blobs[0]}\ty\n`;
    for (let level = 0; level < 60; level++)
      deep = await gitText(folder, ["mktree"], { input: `040000 tree ${deep}\t${name}\n${blob}` });
    // 121 entries, of which the paths have 7,500 characters on average.
    await expect(new Trees(objects, 200).changedFiles(await treeOf({}), deep)).rejects.toThrow("More files differ");
    expect(await new Trees(objects, 2_000).changedFiles(await treeOf({}), deep)).toHaveLength(61);
  });

  it("are not followed without end where folders lie in folders", async () => {
    let deep = await treeOf({ x: { mode: "100644", blob: 0 } });
    for (let level = 0; level < 30; level++) {
      const input = Array.from({ length: 10 }, (_, n) => `040000 tree ${deep}\t${n}\n`).join("");
      deep = await gitText(folder, ["mktree"], { input });
    }
    const trees = new Trees(objects, 5_000);
    await expect(trees.changedFiles(await treeOf({}), deep)).rejects.toThrow("More files differ");
    const few = await treeOf({ a: { mode: "100644", blob: 1 } });
    expect(await trees.changedFiles(await treeOf({}), few)).toHaveLength(1);
    expect(await trees.changedFiles(deep, deep)).toEqual([]);
    // A folder that is named ten times over at each level is entered once.
    const raw = (id: string) =>
      Buffer.from(
        Array(10)
          .fill(`40000 a\0${Buffer.from(id, "hex").toString("latin1")}`)
          .join(""),
        "latin1",
      );
    let same = await treeOf({ ".gitattributes": { mode: "100644", blob: 0 } });
    for (let level = 0; level < 30; level++)
      same = await gitText(folder, ["hash-object", "-t", "tree", "--literally", "-w", "--stdin"], { input: raw(same) });
    const below = { oldId: null, newId: blobs[0], oldMode: 0, newMode: 0o100644, path: `${"a/".repeat(30)}x` };
    expect(await trees.filesNamed(same, ".gitattributes", [below])).toHaveLength(1);
  });

  it("that are not there, or are none, are an error", async () => {
    await expect(new Trees(objects).changedFiles("1".repeat(40), blobs[0])).rejects.toThrow("has no object 1111");
    await expect(new Trees(objects).changedFiles(blobs[0], blobs[1])).rejects.toThrow("cannot be read");
    // Also where it fails while another folder is gone through, which stands there twice: nothing fails unheard.
    const there = await treeOf({ "a.ts": { mode: "100644", blob: 0 } });
    const [b, c, missing] = [there, there, "1".repeat(40)];
    const entries = Object.entries({ a: missing, b, c, d: missing });
    const input = entries.map(([name, id]) => `040000 tree ${id}\t${name}\n`).join("");
    const torn = await gitText(folder, ["mktree", "--missing"], { input });
    await expect(new Trees(objects).changedFiles(await treeOf({}), torn)).rejects.toThrow("has no object 1111");
  });
});
