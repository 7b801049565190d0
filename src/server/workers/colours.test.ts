import { afterEach, describe, expect, it, vi } from "vitest";
import { COLOUR_CLASSES } from "@/core/views/api";
import { colourLines, languageOf } from "./colours";
import { threadTime } from "./thread-time";

const classAt = (runs: number[], column: number) => {
  let at = 0;
  for (let i = 0; i < runs.length; i += 2) {
    at += runs[i];
    if (column < at) return COLOUR_CLASSES[runs[i + 1]];
  }
  return "plain";
};

afterEach(() => {
  vi.restoreAllMocks();
});

describe("colours", () => {
  it("know a file's language by its name", () => {
    const answers = ["a.ts", "b.PY", "Makefile", "x/Dockerfile", "c.hpp", "noext", "odd.zzz", ".gitattributes"].map(
      languageOf,
    );
    expect(answers).toEqual(["ts", "py", "make", "docker", "cpp", null, null, "ini"]);
  });

  it("cover every character of a line once, across lines, and name its parts", async () => {
    const lines = ["/* a comment", "goes on */ const berth = 'N4';\r", "", "\treturn hold(42);"];
    const coloured = await colourLines("a.ts", lines);
    expect(coloured).toHaveLength(lines.length);
    for (const [i, runs] of coloured.entries()) {
      if (runs.length > 0) expect(runs.filter((_, n) => n % 2 === 0).reduce((a, b) => a + b, 0)).toBe(lines[i].length);
    }
    expect(classAt(coloured[0], 4)).toBe("comment");
    expect(classAt(coloured[1], 2)).toBe("comment");
    expect(classAt(coloured[1], 12)).toBe("keyword");
    expect(classAt(coloured[1], 27)).toBe("string");
    expect(classAt(coloured[3], 9)).toBe("function");
    expect(classAt(coloured[3], 14)).toBe("constant");
  });

  it("are left out where there is nothing to gain: unknown languages, enormous files and lines", async () => {
    expect(await colourLines("a.zzz", ["x"])).toEqual([]);
    expect(await colourLines("a.ts", Array(400).fill("x".repeat(9_000)))).toEqual([]);
    expect(await colourLines("a.ts", ["const a = 1;", `const b = "${"y".repeat(3_000)}";`])).toMatchObject([
      expect.any(Array),
      [],
    ]);
  });

  it("go on where a file is coloured piece by piece, and end where it takes too long", async () => {
    const lines = [
      "/* it begins",
      ...Array<string>(60).fill(`one ${"word ".repeat(300)}`),
      "and ends */ const berth = 1;",
    ];
    const coloured = await colourLines("a.ts", lines);
    expect(coloured).toHaveLength(lines.length);
    for (const runs of coloured.slice(0, -1)) expect(classAt(runs, 0)).toBe("comment");
    expect(classAt(coloured.at(-1)!, 4)).toBe("comment");
    expect(classAt(coloured.at(-1)!, 14)).toBe("keyword");
    let now = 0;
    const tick = () => {
      now += 6_000;
      return now;
    };
    vi.spyOn(performance, "now").mockImplementation(tick);
    vi.spyOn(threadTime, "now").mockImplementation(tick);
    const cut = await colourLines("a.ts", lines);
    expect(cut).toHaveLength(lines.length);
    expect(cut[0]).toEqual(coloured[0]);
    expect(cut.at(-1)).toEqual([]);
  });
});
