import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { deflateSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { formatPatch, patchOrder } from "@/core/diff/unified";
import { readView } from "@/core/diff/view";
import { packReading, unpackReading } from "@/core/quiet/packed";
import { ObjectReader } from "@/git/objects";
import { blobAt } from "@/git/repository";
import { git } from "@/git/run";
import { TOO_MANY } from "@/git/trees";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { troubleOf } from "../app/trouble";
import { Bench, value } from "../testing/bench";
import { compareTrees } from "../workers/tree";
import { classesOf } from "./classes";
import { markRead } from "./read-marks";
import { fileView, readingFor } from "./reading";
import { statesOf } from "./states";

const it = story();

/** Trees as git allows them and work trees can hardly hold: made entry by entry. */
let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  await bench.person("ada");
});
afterAll(() => bench.clear());

type Entry = [mode: string, path: string | Buffer, contents: string | Buffer];

/** A commit of just these entries; contents of a pointer are the id it points to. */
async function commitOf(folder: string, entries: Entry[], parent?: string): Promise<string> {
  const index = join(bench.folder, `index-${Math.random()}`);
  const env = {
    GIT_INDEX_FILE: index,
    GIT_AUTHOR_NAME: "T",
    GIT_AUTHOR_EMAIL: "t@x",
    GIT_COMMITTER_NAME: "T",
    GIT_COMMITTER_EMAIL: "t@x",
  };
  const lines: Buffer[] = [];
  for (const [mode, path, contents] of entries) {
    const id =
      mode === "160000"
        ? contents
        : (await git(folder, ["hash-object", "-w", "--stdin"], { input: Buffer.from(contents) })).stdout
            .toString()
            .trim();
    lines.push(Buffer.from(`${mode} ${id}\t`), Buffer.from(path as string), Buffer.from("\0"));
  }
  await git(folder, ["update-index", "-z", "--add", "--index-info"], { env, input: Buffer.concat(lines) });
  const tree = (await git(folder, ["write-tree"], { env })).stdout.toString().trim();
  const args = ["commit-tree", tree, "-m", "made", ...(parent ? ["-p", parent] : [])];
  return (await git(folder, args, { env })).stdout.toString().trim();
}

async function bare(name: string): Promise<string> {
  const folder = join(bench.folder, `${name}.git`);
  await git(null, ["init", "--quiet", "--bare", "--end-of-options", folder]);
  return folder;
}

async function compare(folder: string, from: string, to: string) {
  const objects = new ObjectReader(folder);
  try {
    return await compareTrees(objects, from, to);
  } finally {
    objects.close();
  }
}

const POINTER = "1".repeat(40);
const latin = (text: string) => Buffer.from(text, "latin1");

describe("odd trees", () => {
  it("show a file that takes the place of a pointer, and the reverse, and their patch can be applied", async () => {
    const folder = await bare("pointers");
    const old = await commitOf(folder, [
      ["160000", "lib", POINTER],
      ["100644", "vendor", "ok();\n"],
      ["160000", "kept", POINTER],
    ]);
    const next = await commitOf(folder, [
      ["100644", "lib", "evil();\n"],
      ["160000", "vendor", "2".repeat(40)],
      ["160000", "kept", "3".repeat(40)],
    ]);
    for (const [from, to] of [
      [old, next],
      [next, old],
    ]) {
      const { files, reading } = await compare(folder, from, to);
      const toRead = Object.fromEntries(reading.files.map(({ path, toRead }) => [path, toRead]));
      // A line that went, one that came, and that the thing is another now.
      expect(toRead).toEqual({ kept: 2, lib: 3, vendor: 3 });
      expect(files.flatMap(({ old: before, next: after }) => [...before, ...after])).toContain("evil();");
      const patch = patchOrder(files).map(({ change, oldBytes, newBytes }) =>
        formatPatch({ change, old: oldBytes, next: newBytes }, deflateSync),
      );
      const place = join(bench.folder, "patch");
      writeFileSync(place, latin(patch.join("")));
      const env = { GIT_INDEX_FILE: join(bench.folder, `applied-${from}`) };
      await git(folder, ["read-tree", from], { env });
      await git(folder, ["apply", "--cached", place], { env });
      const tree = (await git(folder, ["write-tree"], { env })).stdout.toString().trim();
      expect(tree).toBe((await git(folder, ["rev-parse", `${to}^{tree}`])).stdout.toString().trim());
    }
  });

  it("keep two paths apart that look alike, everywhere", async () => {
    const folder = await bare("alike");
    const paths = [latin("caf\xe9.ts"), Buffer.from("café.ts"), Buffer.from("caf\\xE9.ts")];
    const main = await commitOf(
      folder,
      paths.map((path, n): Entry => ["100644", path, `const a = ${n};\n`]),
    );
    const head = await commitOf(
      folder,
      paths.map((path, n): Entry => ["100644", path, `const a = ${n};\nconst b = ${n};\n`]),
      main,
    );
    await git(folder, ["update-ref", "refs/heads/main", main]);
    await git(folder, ["update-ref", "refs/heads/topic", head]);
    await git(folder, ["symbolic-ref", "HEAD", "refs/heads/main"]);
    await bench.takeIn("alike", folder);
    value(await setRole(bench.app, "ada", "alike", "contributor"));
    value(await bench.open("ada", "alike", "topic"));
    const { change, folder: here } = await bench.change("alike", 1);
    const ada = bench.people.get("ada")!;
    const reading = async () => {
      const name = { from: "base", to: "r1" };
      const points = value(await statesOf(bench.app, ada, change, here, "base", "r1"));
      return readingFor(bench.app, ada, change, here, name, points, { whole: true });
    };
    const { files } = await reading();
    expect(files.map(({ path }) => path).sort()).toEqual(["caf\\x5CxE9.ts", "caf\\xE9.ts", "café.ts"]);
    expect(new Set(files.map(({ newId }) => newId)).size).toBe(3);
    for (const { path, newId } of files) expect(await blobAt(here, head, path)).toBe(newId);
    const [one] = files;
    await markRead(bench.app, ada, change, here, {
      path: one.path,
      oldId: one.oldId,
      newId: one.newId,
      revision: 1,
      read: true,
    });
    expect((await reading()).files.filter(({ read }) => read === "read").map(({ path }) => path)).toEqual([one.path]);
  });

  it("say of a file which other one it would be taken for, wherever that lies in the tree", async () => {
    const folder = await bare("twins");
    const old = await commitOf(folder, [["100644", "src/auth.ts", "check();\n"]]);
    const next = await commitOf(folder, [
      ["100644", "src/auth.ts", "check();\n"],
      ["100644", "src/Auth.ts", "steal();\n"],
    ]);
    const { reading } = await compare(folder, old, next);
    const [{ path, cautions }] = unpackReading(packReading(reading)).files;
    expect([path, cautions.map(({ kind, says }) => [kind, says])]).toEqual([
      "src/Auth.ts",
      [["name", expect.stringContaining("“src/auth.ts”: only one of the two is there.")]],
    ]);
  });

  it("open a text with a NUL in it as text, and say so", async () => {
    const folder = await bare("nul");
    const old = await commitOf(folder, [["100644", "a.js", "check();\n"]]);
    const next = await commitOf(folder, [["100644", "a.js", "steal(); // \0\n"]]);
    const { reading } = await compare(folder, old, next);
    expect(reading.toRead).toBe(1);
    expect(reading.files[0].facts.map(({ says }) => says).join()).toContain("NUL");
    const { oldId, newId } = reading.files[0];
    const view = JSON.parse(await fileView(bench.app, folder, `text-${oldId}`, `text-${newId}`));
    expect(view.untold).toBeNull();
    expect(readView(view).next).toEqual(["steal(); // \0"]);
  });

  it("tell what a link leads to, and who may run what", async () => {
    const folder = await bare("links");
    const old = await commitOf(folder, [
      ["120000", "in/here", "there"],
      ["100644", "run.sh", "a\n"],
    ]);
    const next = await commitOf(folder, [
      ["120000", "in/here", "../../etc/passwd"],
      ["100755", "run.sh", "a\n"],
      ["120000", "abs", "/etc/shadow"],
    ]);
    const { reading } = await compare(folder, old, next);
    const kinds = Object.fromEntries(
      reading.files.map(({ path, cautions }) => [path, cautions.map(({ kind }) => kind)]),
    );
    expect(kinds).toEqual({ "in/here": ["link"], "run.sh": ["executable"], abs: ["link"] });
    expect(Object.fromEntries(reading.files.map(({ path, toRead }) => [path, toRead]))).toEqual({
      "in/here": 2,
      "run.sh": 1,
      abs: 1,
    });
  });
});

describe("what is generated", () => {
  it("is said by the target alone: not by the author, nor by an old base that the author chose", async () => {
    const work = await bench.repository("attributes", {
      main: [
        { "a.js": "a();\n", "b.gen.js": "b();\n", ".gitattributes": "*.js lens-generated\n" },
        { ".gitattributes": "*.gen.js lens-generated\n" },
      ],
    });
    await bench.git(work, "checkout", "--quiet", "-b", "topic", "main~1");
    await bench.commit(work, "topic", {
      "a.js": "steal();\n",
      "b.gen.js": "c();\n",
      "sub/.gitattributes": "* lens-generated\n",
      "sub/x.js": "x();\n",
    });
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.takeIn("attributes", work);
    value(await setRole(bench.app, "ada", "attributes", "contributor"));
    value(await bench.open("ada", "attributes", "topic"));
    const { change, folder } = await bench.change("attributes", 1);
    const ada = bench.people.get("ada")!;
    const points = value(await statesOf(bench.app, ada, change, folder, "base", "r1"));
    const { files } = await readingFor(bench.app, ada, change, folder, { from: "base", to: "r1" }, points, {
      whole: true,
    });
    expect(Object.fromEntries(files.map(({ path, toRead }) => [path, toRead]))).toEqual({
      "a.js": 2,
      "b.gen.js": 0,
      "sub/.gitattributes": 1,
      "sub/x.js": 1,
    });
    const caution = files.find(({ path }) => path === "sub/.gitattributes")!.cautions[0];
    expect(caution.says).toContain("“* lens-generated”");
    expect((await classesOf(bench.app, folder, points, "b.gen.js")).runs.map(({ class: kind }) => kind)).toEqual([
      "generated",
      "generated",
    ]);
  });

  it("is not what went there from where people write", async () => {
    const text = Array.from({ length: 12 }, (_, n) => `hold${n}(berth);\n`).join("");
    const work = await bench.repository("made", {
      main: [{ "src/check.js": text, "src/a.js": `a();\n${text}`, ".gitattributes": "made/** lens-generated\n" }],
    });
    await bench.git(work, "checkout", "--quiet", "-b", "topic", "main");
    await bench.commit(work, "topic", { "src/check.js": null, "made/check.js": text.replace("hold3", "drop3") });
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.takeIn("made", work);
    value(await setRole(bench.app, "ada", "made", "contributor"));
    value(await bench.open("ada", "made", "topic"));
    const { change, folder } = await bench.change("made", 1);
    const ada = bench.people.get("ada")!;
    const points = value(await statesOf(bench.app, ada, change, folder, "base", "r1"));
    const { files } = await readingFor(bench.app, ada, change, folder, { from: "base", to: "r1" }, points, {
      whole: true,
    });
    expect(files.map(({ path, oldPath, toRead }) => [path, oldPath, toRead])).toEqual([
      ["made/check.js", "src/check.js", 3],
    ]);
  });

  it("of folders in folders without end are told of in a sentence", async () => {
    const folder = await bare("endless");
    const from = await commitOf(folder, [["100644", "a.txt", "one\n"]]);
    let deep = (await git(folder, ["rev-parse", `${from}^{tree}`])).stdout.toString().trim();
    for (let level = 0; level < 30; level++) {
      const input = Array.from({ length: 10 }, (_, n) => `040000 tree ${deep}\t${n}\n`).join("");
      deep = (await git(folder, ["mktree"], { input })).stdout.toString().trim();
    }
    const given = await compare(folder, from, deep).catch((error: Error) => error);
    expect(troubleOf(given)).toBe(TOO_MANY);
    // The same words come from a thread.
    expect(troubleOf(new Error(`read: ${(given as Error).message}`))).toBe(TOO_MANY);
  });
});
