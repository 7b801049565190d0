import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { signatureOf, writeCommit } from "../merge";
import { git, gitText } from "../run";
import { originOfLine, originsOfFile } from "./blame";
import { timeOf } from "./commit-words";
import { commitsBetween, seriesShape, stepsBetween } from "./commits";
import { commitsOfFile } from "./file-log";

let folder: string;
let tree: string;
let root: string;

/** A commit object word by word, which no ordinary client would write. */
async function commit(message: string, { author = "Ada <ada@x> 1700000000 +0000", on = root, of = tree } = {}) {
  const parents = on ? [`parent ${on}`] : [];
  const head = [`tree ${of}`, ...parents, `author ${author}`, "committer Ada <ada@x> 1700000000 +0000"];
  const args = ["hash-object", "-t", "commit", "-w", "--stdin", "--literally"];
  return gitText(folder, args, { input: `${head.join("\n")}\n\n${message}` });
}

async function treeWith(text: string): Promise<string> {
  const blob = await gitText(folder, ["hash-object", "-w", "--stdin"], { input: text });
  return gitText(folder, ["mktree"], { input: `100644 blob ${blob}\ta.txt\n` });
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "lens-words-"));
  await git(null, ["init", "--quiet", "--bare", folder]);
  tree = await treeWith("one\n");
  root = await commit("root", { on: "" });
});
afterAll(() => rmSync(folder, { recursive: true }));

describe("what a commit says of itself", () => {
  it("is told shortened where nobody writes as much, and all of a list has an end", async () => {
    const long = await commit(`${"s".repeat(3_000_000)}\n\n${"b".repeat(3_000_000)}`, {
      author: `${"A".repeat(500_000)} <ada@x> 1700000000 +0000`,
    });
    const [told] = await commitsBetween(folder, root, long);
    expect([told.author.length, told.subject.length, told.body.length]).toEqual([301, 1_001, 20_001]);
    expect(told.body.endsWith("b…")).toBe(true);
    let head = root;
    for (let n = 0; n < 60; n++) head = await commit(`${n}\n\n${"word ".repeat(5_000)}`, { on: head });
    const all = await commitsBetween(folder, root, head);
    expect(all.map(({ subject }) => Number(subject))).toEqual(Array.from({ length: 60 }, (_, n) => 59 - n));
    expect(all.reduce((sum, { body }) => sum + body.length, 0)).toBeLessThan(1_000_100);
    const steps = await stepsBetween(folder, root, head);
    expect(steps.map(({ subject }) => Number(subject))).toEqual(Array.from({ length: 60 }, (_, n) => n));
  });

  it("says that there is more also where blank lines stand before it, or in the place of all that is told", async () => {
    const bodyOf = async (body: string) => (await commitsBetween(folder, root, await commit(`x\n\n${body}`)))[0].body;
    expect(await bodyOf(`Harmless.${"\n".repeat(30_000)}Not so.`)).toBe("Harmless.…");
    expect(await bodyOf(`Harmless.${"\n".repeat(300_000)}Not so.`)).toBe("Harmless.…");
    expect(await bodyOf(`Harmless.${"\n".repeat(3_000)}All.`)).toBe(`Harmless.${"\n".repeat(3_000)}All.`);
  });

  it("is cut at no half character", async () => {
    const odd = await commit(`x\n\n${"é⚓".repeat(40_000)}`);
    const [{ body }] = await commitsBetween(folder, root, odd);
    expect(body).toBe(`${"é⚓".repeat(10_000)}…`);
  });

  it("hides nothing in blame and in the history of a file", async () => {
    const turned = await commit("Mend\u202e it", {
      author: "Ada\u202e B <ada@x> 1700000000 +0000",
      of: await treeWith("two\n"),
    });
    const shown = { author: "Ada⟨U+202E⟩ B", subject: "Mend⟨U+202E⟩ it" };
    expect((await originsOfFile(folder, turned, "a.txt"))[0].commit).toMatchObject(shown);
    expect((await originOfLine(folder, turned, "a.txt", 1))?.commit).toMatchObject(shown);
    expect((await commitsOfFile(folder, turned, "a.txt", { most: 5 }))[0]).toMatchObject(shown);
  });

  it("is of a time that a calendar has, whatever it claims", async () => {
    const late = await commit("late", { author: "Ada <ada@x> 8640000000001 +0000", of: await treeWith("late\n") });
    const [{ at }] = await commitsBetween(folder, root, late);
    expect(new Date(at).toISOString()).toBe("+275760-09-13T00:00:00.000Z");
    expect((await originsOfFile(folder, late, "a.txt"))[0].commit.at).toBe(at);
    expect([timeOf("12"), timeOf("abc"), timeOf("-99999999999999")]).toEqual([12_000, 0, -8_640_000_000_000_000]);
  });
});

describe("who wrote a commit", () => {
  const again = async (id: string) => {
    const { author, message } = await signatureOf(folder, id);
    const by = { name: "Kit", email: "kit@x", at: 1_750_000_000_000 };
    const made = await writeCommit(folder, { tree, parents: [root], message: message ?? "", by, author });
    return gitText(folder, ["log", "--no-walk", "--date=raw", "--format=%an <%ae> %ad%n%B", made]);
  };

  it("stays who it was when it is put on another one, at their time of day", async () => {
    for (const time of ["1700000000 +0930", "5 -0100", "0 +0000", "8640000000000 +0000"])
      expect(await again(await commit("Mend it\n\nAt last.\n", { author: `Ada <ada@x> ${time}` }))).toBe(
        `Ada <ada@x> ${time}\nMend it\n\nAt last.\n`,
      );
  });

  it("is taken over also where a name or a time is nobody's", async () => {
    const odd = await commit("x\n", { author: `${"A".repeat(500_000)} <ada@x> 8640000000001 +9999` });
    expect(await again(odd)).toBe(`${"A".repeat(1_000)}… <ada@x> 8640000000000 +0000\nx\n`);
    expect((await signatureOf(folder, await commit("m".repeat(1_200_000)))).message).toBeNull();
  });
});

describe("the shape of a series", () => {
  it("tells what rules ask of each commit, and the work items of all", async () => {
    const signed = await commit("Mend it\n\nCloses: #7\nSigned-off-by: Ada <ada@x>\n");
    const merge = await commit("Bring it\n\nRefs: 7, 8\n", { on: `${signed}\nparent ${root}` });
    const sign = "Signed-off-by: Ada <ada@x>\n".repeat(4_000);
    const long = await commit(`s\n\n${sign}\nAnd that was not all.\n`, { on: merge });
    const { commits, named } = await seriesShape(folder, root, long);
    expect(commits).toEqual([
      // Where it is cut, it seems to be signed off.
      expect.objectContaining({ id: long, merge: false, signedOff: false }),
      { id: merge, subject: "Bring it", merge: true, signedOff: false, addresses: ["ada@x", "ada@x"] },
      { id: signed, subject: "Mend it", merge: false, signedOff: true, addresses: ["ada@x", "ada@x"] },
    ]);
    expect(named).toEqual([
      { item: "7", closes: true },
      { item: "8", closes: false },
    ]);
  });
});
