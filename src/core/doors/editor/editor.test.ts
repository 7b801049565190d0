import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Thread } from "../../review/state";
import { inWorking, LineMap, pathsWithWords, threadsIn, typedOver, unsentIn } from "./placed";
import { beginning, besides, foundBesides, threadMarkdown } from "./shown";

const lines: fc.Arbitrary<string[]> = fc.array(fc.constantFrom("a", "b", "c", "  d", "", "e()"), {
  minLength: 1,
  maxLength: 14,
});
const joined = (all: readonly string[]) => all.map((line) => `${line}\n`).join("");

const comment = (by: string, body: string) => ({
  ...{ id: body, by, at: 1, body },
  edits: [],
  erased: null,
  reactions: {},
});
const NOTE = { kind: "remark" as const, body: "?", changedAt: 1, weight: "settle" as const, suggestions: [] };
function thread(id: string, start: number, more: Partial<Thread> = {}): Thread {
  const anchor = {
    kind: "lines" as const,
    revision: 1,
    blob: "b",
    side: "new" as const,
    path: "a.ts",
    start,
    end: start,
    text: ["x"],
  };
  return { id, anchor, weight: "settle", comments: [comment("ada", "Why?")], suggestions: [], resolved: null, ...more };
}
const PEOPLE = { ada: { fullName: "Ada *Brandt*", machine: false }, bot: { fullName: "Gauge", machine: true } };

describe("lines in a text that somebody works on", () => {
  it("are told as the same only where every line says the same", () => {
    fc.assert(
      fc.property(lines, lines, fc.nat(13), fc.nat(3), (pushed, working, at, more) => {
        const start = (at % pushed.length) + 1;
        const end = Math.min(pushed.length, start + more);
        const map = new LineMap(joined(pushed), joined(working));
        const there = map.toWorking(start, end);
        if (!there || there.edited) return;
        expect(working.slice(there.start - 1, there.end)).toEqual(pushed.slice(start - 1, end));
        expect(map.toPushed(there.start, there.end)).toEqual({ start, end, edited: false });
      }),
    );
  });

  it("make a suggestion that, taken, has what was typed; and none where nothing was", () => {
    fc.assert(
      fc.property(lines, lines, fc.nat(13), fc.nat(3), (pushed, working, at, more) => {
        const start = (at % working.length) + 1;
        const end = Math.min(working.length, start + more);
        const map = new LineMap(joined(pushed), joined(working));
        const typed = typedOver(map, start, end);
        if (!typed) return;
        const taken = pushed.toSpliced(typed.start - 1, typed.end - typed.start + 1, ...typed.lines);
        expect(taken).not.toEqual(pushed);
        // What stood in the lines that were chosen stands there, in their order.
        const text = `\n${joined(taken)}`;
        expect(text).toContain(`\n${joined(working.slice(start - 1, end))}`);
      }),
    );
    expect(typedOver(new LineMap("a\nb\n", "a\nb\n"), 1, 2)).toBeNull();
    expect(typedOver(new LineMap("a\nb\n", "a\nx\nb\n"), 2, 2)).toEqual({ start: 1, end: 1, lines: ["a", "x"] });
  });
});

describe("what is shown beside them", () => {
  const revisions = [{ number: 1 }, { number: 2 }] as never;
  const moved = { revision: 2, status: "moved" as const, path: "b.ts", start: 4, end: 4, since: 2 };
  const gone = { ...moved, status: "gone" as const };

  it("is where the threads stand now: not what is gone, elsewhere, or about the text as it was", () => {
    const old = thread("old", 1);
    const threads = [
      thread("here", 2),
      thread("away", 3),
      thread("gone", 4),
      { ...old, anchor: { ...old.anchor, side: "old" } as never },
    ];
    const histories = {
      away: { side: "new" as const, positions: [moved] },
      gone: { side: "new" as const, positions: [gone] },
    };
    const said = { change: { threads, revisions }, histories, unsent: [] };
    expect(threadsIn(said, "a.ts").map(({ what }) => what.id)).toEqual(["here"]);
    expect(threadsIn(said, "b.ts").map(({ what, start }) => [what.id, start])).toEqual([["away", 4]]);
    // What is not sent is followed the same way.
    const unsent = threads.map(({ id, anchor }) => ({ id, anchor, ...NOTE }));
    const own = { change: { threads: [], revisions }, histories, unsent };
    expect(unsentIn(own, "a.ts").map(({ what }) => what.id)).toEqual(["here"]);
    expect(unsentIn(own, "b.ts").map(({ what, start }) => [what.id, start])).toEqual([["away", 4]]);
    expect([...pathsWithWords(own)].sort()).toEqual(["a.ts", "b.ts"]);
    expect([...pathsWithWords(said)].sort()).toEqual(["a.ts", "b.ts"]);
    const map = new LineMap("1\n2\n3\n", "0\n1\n2!\n3\n");
    expect(inWorking(threadsIn(said, "a.ts"), map)).toMatchObject([{ start: 3, end: 3, edited: true }]);
  });

  it("has the weight that was given to it, under the name of the machine that says it, and nothing of what is resolved", () => {
    const place = (what: Thread) => ({ what, start: 1, end: 1, edited: false });
    const shown = besides(
      [
        place(thread("a", 1)),
        place(thread("b", 1, { weight: "aside" })),
        place(thread("c", 1, { comments: [comment("bot", "Long line.")] })),
        place(thread("d", 1, { resolved: { by: "ada", at: 1, revision: 1 } })),
      ],
      [],
      PEOPLE,
    );
    expect(shown.map(({ id, severity, source }) => [id, severity, source])).toEqual([
      ["a", "warning", "lens"],
      ["b", "information", "lens"],
      ["c", "information", "Gauge"],
    ]);
    const written = threadMarkdown(
      thread("a", 1, { suggestions: [{ id: "s", start: 1, end: 1, was: ["```"], lines: ["x"], taken: null }] }),
      PEOPLE,
    );
    expect(written).toContain("Ada \\*Brandt\\*");
    expect(written).toContain("````diff\n- ```\n+ x\n````");
  });

  it("is written out where signs in it do not show, as are its first words beside its lines", () => {
    const odd = thread("a", 1, {
      comments: [comment("ada", "Take\u202e it")],
      suggestions: [{ id: "s", start: 1, end: 1, was: ["x"], lines: ["x\u2066y"], taken: null }],
    });
    const written = threadMarkdown(odd, PEOPLE);
    expect(written).toContain("Take⟨U+202E⟩ it");
    expect(written).toContain("+ x⟨U+2066⟩y");
    const [beside] = besides([{ what: odd, start: 1, end: 1, edited: false }], [], PEOPLE);
    expect(beside.message).toContain("Take⟨U+202E⟩ it");
  });
});

describe("what checks found", () => {
  const finding = (message: string, line: number | null, more: object = {}) => ({
    ...{ tool: "gauge", name: "", level: "warning" as const, message, path: "a.ts", line, endLine: line, ...more },
  });
  const view = (...findings: ReturnType<typeof finding>[]) => [
    { check: "lint", revision: 1, findings, more: 0, tests: null },
  ];
  const map = new LineMap("one\ntwo\nthree\nfour\n", "zero\none\nTWO\nthree\n");

  it("stands at its present line, under the name of its tool, and says where that line was changed", () => {
    const found = foundBesides(
      view(
        finding("moved", 1, { level: "error" }),
        finding("edited", 2, { tool: "" }),
        finding("gone", 4),
        finding("elsewhere", 1, { path: "b.ts" }),
        finding("all of it", null, { level: "note", name: "size" }),
      ),
      "a.ts",
      map,
    );
    expect(found.map(({ start, severity, source, message }) => [start, severity, source, message])).toEqual([
      [2, "error", "gauge", "moved"],
      [3, "warning", "lint", "edited\nThe line was changed since."],
      [1, "information", "gauge", "size: all of it"],
    ]);
    expect(new Set(found.map(({ id }) => id)).size).toBe(3);
  });

  it("is begun by somebody, on a day", () => {
    const day = Date.UTC(2026, 10, 21, 12);
    const begun = thread("t", 1, { comments: [{ ...comment("ada", "Why?"), at: day }] });
    expect(beginning(begun, PEOPLE)).toBe("Ada *Brandt*, 21 Nov");
    expect(beginning(begun, {})).toBe("someone, 21 Nov");
  });
});
