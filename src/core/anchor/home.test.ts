import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { diffLines } from "../diff/lines";
import { Additions } from "./again";
import { beginTrack, seekAgain, stepTrack } from "./anchor-history";

/** One step of a thread on one line of a file, with whatever else was added elsewhere. */
function follow(old: string[], next: string[], line: number, elsewhere: Record<string, string[]> = {}) {
  const track = beginTrack({ path: "a.ts", start: line, end: line, text: [old[line - 1]] }, 1);
  const file = { to: "a.ts", old, next, hunks: diffLines(old, next) };
  const { track: after, sought } = stepTrack(track, file, 2);
  const grown = [
    { path: "a.ts", next, hunks: file.hunks },
    ...Object.entries(elsewhere).map(([path, lines]) => ({ path, next: lines, hunks: diffLines([], lines) })),
  ];
  const texts = new Map(grown.map(({ path, next: lines }) => [path, lines]));
  const end = sought ? seekAgain(track, after, old, new Additions(grown), (path) => texts.get(path)!) : after;
  const { status, path, start } = end.position;
  return { status, path, start };
}

const CODE = [
  "function check(user) {",
  "  const found = users.find(user);",
  "  return found.allowed;",
  "}",
  "",
  "function other(it) {",
  "  stop(it);",
  "}",
];

describe("the home of a thread", () => {
  it("is not stolen by a copy: lines edited in their place are believed first", () => {
    const next = CODE.with(2, "  return found.allowed || found.admin;");
    const copy = ["// kept for reference", CODE[1], CODE[2], CODE[3]];
    expect(follow(CODE, next, 3, { "copy.ts": copy })).toEqual({ status: "edited", path: "a.ts", start: 3 });
    const within = [...next, "", ...CODE.slice(0, 4)];
    expect(follow(CODE, within, 3)).toMatchObject({ status: "edited", start: 3 });
  });

  it("is elsewhere only when the lines really went there", () => {
    const moved = ["start();", ...CODE.slice(0, 4)];
    expect(follow(CODE, CODE.slice(4), 3, { "b.ts": moved })).toEqual({ status: "moved", path: "b.ts", start: 4 });
    expect(follow(CODE, moved.concat(CODE.slice(4)), 3)).toMatchObject({ path: "a.ts", start: 4 });
  });

  it("stays with its neighbours when its line is doubled before or behind it", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 7 }), fc.integer({ min: 3, max: 5 }), (at, line) => {
        const old = ["one();", "two();", "three();", "check();", "five();", "six();", "seven();"];
        const doubled = old.toSpliced(at, 0, "zero();", old[line - 1], "nought();");
        const { path, start } = follow(old, doubled, line);
        expect(path).toBe("a.ts");
        expect(start).toBe(at < line ? line + 3 : line);
      }),
    );
  });

  it("is not a copy that stood there before, once its own lines are gone", () => {
    const old = ["a1();", "a2();", "guard(x);", "a3();", "a4();", "b1();", "b2();", "guard(x);", "b3();", "b4();"];
    const next = ["a1();", "a2();", "a3();", "a4();", "b1();", "b2();", "guard(x);", "b3();", "b4();"];
    expect(follow(old, next, 3).status).toBe("gone");
    const both = ["b1();", "b2();", "guard(x);", "b3();", "b4();"];
    expect(follow(old, both, 3).status).toBe("gone");
  });

  it("of a bracket alone is what it closes", () => {
    const old = ["function a() {", "  first();", "}", "", "function b() {", "  second();", "}"];
    const gone = ["function b() {", "  second();", "}"];
    expect(follow(old, gone, 3).status).toBe("gone");
    expect(follow(old, old.with(1, "  first(1);"), 3)).toMatchObject({ status: "unchanged", start: 3 });
  });
});
