import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { switchedIn } from "../testing/switched-in";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
/** Lines of a kind, enough of them to go out of sight. */
const lines = (of: (n: number) => string, count = 8) => Array.from({ length: count }, (_, n) => `${of(n)}\n`).join("");
const settings = lines((n) => `berth_${n} = open`);
const few = lines((n) => `berth_${n} = open`, 6);
const keys = lines((n) => `  berth${n}: open`);
const items = lines((n) => `- berth ${n}`);
const recipe = lines((n) => `\tcheck berth-${n}`);
const steps = lines((n) => `RUN check berth-${n}`);

describe("unchanged lines that belong to another head than before", () => {
  it.each<[path: string, old: string, next: string, now: string, before: string]>([
    ["a.ini", `[harbour]\n${settings}`, `[harbour]\n[trial]\n${settings}`, "“[trial]”", "“[harbour]”"],
    [
      "a.ini",
      `[harbour]\na=1\n${settings}`,
      `[harbour]\na=1\n[trial] ; x\n${settings}`,
      "“[trial] ; x”",
      "“[harbour]”",
    ],
    [".gitconfig", `[a]\n${settings}`, `[a]\n[b] c = 1\n${settings}`, "“[b] c = 1”", "“[a]”"],
    ["Cargo.toml", `[a]\n${settings}`, `[a]\n[b.'c(\\"d]\\")'.é]\n${settings}`, `“[b.'c(\\"d]\\")'.é]”`, "“[a]”"],
    ["a.cfg", settings, `[trial]\n${settings}`, "“[trial]”", "nothing"],
    ["a.conf", `[a]\nx\n[b]\n${settings}`, `[a]\nx\n${settings}`, "“[a]”", "“[b]”"],
    ["a.toml", `[a]\n${settings}`, `[a]\n[[b."c d"]]\n${settings}`, '“[[b."c d"]]”', "“[a]”"],
    [
      "Pipfile",
      `[packages]\n${settings}`,
      `[packages]\n[dev-packages]\n${settings}`,
      "“[dev-packages]”",
      "“[packages]”",
    ],
    ["Makefile", `all: x\n${recipe}`, `all: x\nclean: y\n${recipe}`, "“clean: y”", "“all: x”"],
    ["go/rules.mk", `all:\n\ta\n${recipe}`, `all:\n\ta\nclean::\n${recipe}`, "“clean::”", "“all:”"],
    ["Makefile", `all: x\n${recipe}`, `all: x\n\tgo\nV := 1\n${recipe}`, "nothing", "“all: x”"],
    ["Dockerfile", `FROM a AS b\n${steps}`, `FROM a AS b\nFROM c\n${steps}`, "“FROM c”", "“FROM a AS b”"],
    ["a.yml", `harbour:\n${keys}`, `harbour:\n  a: 1\ntrial:\n${keys}`, "“trial:”", "“harbour:”"],
    ["a.yaml", `harbour:\n${items}`, `harbour:\n- a\ntrial:\n${items}`, "“trial:”", "“harbour:”"],
    ["a.yml", `- if: no\n${keys}`, `- if: no\n- run: go\n${keys}`, "“- run: go”", "“- if: no”"],
    ["a.yml", `a:\n b:\n${keys}`, `a:\n b:\n # c\n d: {}\n e:\n${keys}`, "“e:”", "“b:”"],
    ["a.yml", `a: 1\n${lines((n) => `b${n}: 1`)}`, `a: 1\n---\n${lines((n) => `b${n}: 1`)}`, "“---”", "nothing"],
    // The head was written anew, and what it was goes on beside it.
    ["a.ini", `[harbour]\n${settings}`, `[harbour ]\na = 1\n[trial]\n${settings}`, "“[trial]”", "“[harbour]”"],
    ["a.yml", `harbour:\n${keys}`, `harbour: # old\n  a: 1\ntrial:\n${keys}`, "“trial:”", "“harbour:”"],
    ["a.yml", `harbour:\n${keys}`, `harbour : {}\ntrial:\n${keys}`, "“trial:”", "“harbour:”"],
  ])("in %s %j", (path, old, next, now, before) => {
    expect(said(path, old, next)).toEqual([
      [`8 unchanged lines stand under ${now} now, and stood under ${before}.`, next.split("\n").length - 8],
    ]);
  });

  it("are told of the head nearest to them that is another, and where two of them say the same", () => {
    const deep = lines((n) => `    berth${n}: open`);
    expect(said("a.yml", `a:\n  b:\n${deep}`, `a:\nc:\n  b:\n${deep}`)).toEqual([
      ["9 unchanged lines stand under “c:” now, and stood under “a:”.", 3],
    ]);
    expect(said("a.toml", `[[a]]\nx = 1\n${settings}`, `[[a]]\nx = 1\n[[a]]\n${settings}`)).toEqual([
      ["8 unchanged lines stand under another “[[a]]” than before.", 4],
    ]);
  });

  it.each<[what: string, path: string, old: string, next: string]>([
    ["under a head that was written anew", "a.ini", `[a]\n${settings}`, `[b]\n${settings}`],
    ["under such a key, beside others that hold nothing", "a.yml", `a:\n${keys}`, `x: 1\ny: 2\nb:\n${keys}`],
    ["behind a new section", "a.ini", `[b]\n${settings}`, `[a]\n${few}[b]\n${settings}`],
    ["behind a first line that begins the text", "a.yml", `${items}`, `# b\n---\n${items}`],
    ["behind a comment", "a.ini", `[a]\n${settings}`, `[a]\n; [b]\n${settings}`],
    ["behind a value that looks like a head", "a.toml", `[a]\n${settings}`, `[a]\nx = [\n[1, 2],\n]\n${settings}`],
    ["in sight", "a.ini", `[a]\n${few}`, `[a]\n[b]\n${few}`],
    ["under a target that needs something else", "Makefile", `a: b\n${recipe}`, `c: d\n\te\na: f\n${recipe}`],
    ["under a key of another value", "a.yml", `a: &b\n${keys}`, `x: {}\na: &c\n${keys}`],
    ["behind a condition of a makefile", "Makefile", `all:\n${recipe}`, `all:\nifdef A:B\nelse\nendif\n${recipe}`],
    ["that belong to a variable", "Makefile", `all:\n\ta\nV = \\\n${recipe}`, `b:\n\ta\nV = \\\n${recipe}`],
    ["of a format without heads", "a.txt", `[a]\n${settings}`, `[a]\n[b]\n${settings}`],
  ])("are not told %s", (_, path, old, next) => {
    expect(said(path, old, next)).toEqual([]);
  });

  it("are told wherever a section is put above them", () => {
    const some = fc.array(fc.constantFrom("[a]", "x=1", "", "# c", "[b]"), { maxLength: 5 });
    fc.assert(
      fc.property(some, some, fc.integer({ min: 0, max: 3 }), (above, below, before) => {
        const body = Array.from({ length: 12 }, (_, n) => `berth_${n}=${n}`);
        const [head, tail] = [body.slice(0, before), body.slice(before)];
        const old = ["[harbour]", ...above, "[here]", ...head, ...tail, ...below];
        const next = ["[harbour]", ...above, "[here]", ...head, "[trial]", ...tail, ...below];
        const text = (lines: string[]) => lines.map((line) => `${line}\n`).join("");
        const [[says, line], ...more] = said("a.ini", text(old), text(next));
        expect(says).toMatch(/^\d+ unchanged lines stand under “\[trial\]” now, and stood under “\[here\]”\.$/);
        expect(next.slice(line! - 1)).toEqual([...tail, ...below]);
        expect(more).toEqual([]);
      }),
    );
  });
});
