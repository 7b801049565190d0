import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { compareFiles } from "./compare";
import { stepsOf, traceLines } from "./history";

const bytes = (lines: readonly string[]) => Buffer.from(lines.map((line) => `${line}\n`).join(""));
const trace = (...states: string[][]) =>
  traceLines(
    states[0].length,
    states.slice(1).map((state, i) => compareFiles(bytes(states[i]), bytes(state))),
  );

describe("the history of lines", () => {
  it("knows every step that edited a line, and the one that removed it", () => {
    const history = trace(
      ["const free = 2;", "const paid = 3;", "run(free);", "stop();"],
      ["const free = 4;", "const paid = 3;", "run(free);", "stop();"],
      ["const free = 4;", "const paid = 3;", "run(free, paid);", "stop();", "log();"],
      ["const paid = 3;", "run(free, paid);", "stop();", "log();"],
    );
    expect(history.old).toEqual([
      { start: 0, end: 1, steps: [0, 2] },
      { start: 2, end: 3, steps: [1] },
    ]);
    expect(history.next).toEqual([
      { start: 1, end: 2, steps: [1] },
      { start: 3, end: 4, steps: [1] },
    ]);
  });

  it("leaves exactly the lines that were never touched without steps", () => {
    const text = fc.array(fc.constantFrom("a();", "b();", "let c = 1;", "let c = 2;", "", "}"), { maxLength: 12 });
    fc.assert(
      fc.property(fc.array(text, { minLength: 2, maxLength: 5 }), (states) => {
        const { old, next } = trace(...states);
        const untouched = (touched: typeof old, lines: string[]) =>
          lines.filter((_, line) => stepsOf(touched, line).length === 0);
        // What nothing touched stands on both ends, in the same order with the same words.
        expect(untouched(old, states[0])).toEqual(untouched(next, states[states.length - 1]));
        for (const { steps } of [...old, ...next]) expect(steps).toEqual([...new Set(steps)].sort((a, b) => a - b));
      }),
    );
  });
});
