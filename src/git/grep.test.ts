import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { linesWith } from "./grep";
import { git, gitText } from "./run";

const folder = mkdtempSync(join(tmpdir(), "lens-grep-"));
const repository = join(folder, "a.git");
let commit: string;

/** For `git fast-import`: many files with many lines each, one of a long line, one that is no text, and one of an odd name. */
function history(): string {
  const data = (text: string) => [`data ${Buffer.byteLength(text)}`, text];
  const file = (path: string, text: string) => [`M 100644 inline ${path}`, ...data(text)];
  const many = Array.from({ length: 200 }, (_, n) =>
    file(`many/${n}.txt`, Array.from({ length: 500 }, (_, line) => `tide ${n} of ${line} and on and on`).join("\n")),
  );
  const lines = [
    ...["commit refs/heads/main", "committer T <t@x> 1700000000 +0000"],
    ...data("all"),
    ...many.flat(),
    ...file("long.txt", `quay ${"x".repeat(100_000)} quay\nnext quay\n`),
    ...file("names.txt", Array.from({ length: 30_000 }, (_, n) => `berth${n} = ${n}`).join("\n")),
    ...file("odd.txt", "$a.b(1)\n$axb(1)\n[c]|d\nc\nd\ne\\f\n"),
    ...file("odd.bin", "quay\0\u0001\u0002"),
    ...file('"a\\ttab.txt"', "a Größe, quayside, quay\n"),
  ];
  return `${lines.join("\n")}\n`;
}

beforeAll(async () => {
  await git(null, ["init", "--quiet", "--bare", "--initial-branch=main", repository]);
  await git(repository, ["fast-import", "--quiet"], { input: history() });
  commit = await gitText(repository, ["rev-parse", "main"]);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it("finds whole words with their line and column, cuts long lines, and leaves out what is no text", async () => {
  const { hits, more } = await linesWith(repository, commit, ["quay"], { most: 100 });
  expect(more).toBe(false);
  expect(hits.map(({ path, line, at }) => [path, line, at])).toEqual([
    ["a\ttab.txt", 1, 21],
    ["long.txt", 1, 0],
    ["long.txt", 2, 5],
  ]);
  expect(hits[1].text).toHaveLength(2_000);
  expect(
    (await linesWith(repository, commit, ["QUAYSIDE"], { most: 9, whole: false, capitals: false })).hits,
  ).toHaveLength(1);
  expect((await linesWith(repository, commit, ["QUAYSIDE"], { most: 9, whole: false })).hits).toEqual([]);
});

it("finds each of many words as it is written, in time that grows with the text", async () => {
  const words = Array.from({ length: 200 }, (_, n) => `berth${n * 3}`);
  const { hits } = await linesWith(repository, commit, [...words, "gone"], { most: 1_000 });
  expect(hits.map(({ text }) => text)).toEqual(words.map((word, n) => `${word} = ${n * 3}`));
  const odd = await linesWith(repository, commit, ["$a.b", "[c]|d", "e\\f", ""], { most: 10, whole: false });
  expect(odd.hits.map(({ line, at }) => [line, at])).toEqual([
    [1, 0],
    [3, 0],
    [6, 0],
  ]);
});

it("ends git when there is enough, however much it has still to say, and when nobody waits", async () => {
  for (const most of [1, 10, 3_000]) {
    const { hits, more } = await linesWith(repository, commit, ["tide"], { most });
    expect([hits.length, more]).toEqual([most, true]);
  }
  const stop = new AbortController();
  const given = linesWith(repository, commit, ["tide"], { most: 1_000_000, signal: stop.signal });
  stop.abort();
  await expect(given).rejects.toThrow(/abort/i);
});

it("takes words for words, and no name for a commit", async () => {
  for (const words of [["--help"], ["-e"], [".*"], [""], ["a\nb"], []])
    expect(await linesWith(repository, commit, words, { most: 10 })).toEqual({ hits: [], more: false });
  await expect(linesWith(repository, "main", ["quay"], { most: 10 })).rejects.toThrow(/object id/);
});
