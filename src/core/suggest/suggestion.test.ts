import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readText, writeText } from "../diff/text";
import { applyEdits, creditIn, type Edit, suggestionMessage, wrongSuggestions } from "./suggestion";

const line = fc.string({ maxLength: 6 }).map((text) => text.replace(/[\r\n]/g, "x"));
/** A text, and edits of it that do not overlap. */
const edited = fc
  .tuple(
    fc.array(line, { minLength: 1, maxLength: 30 }),
    fc.array(fc.tuple(fc.nat(5), fc.nat(3), fc.array(line, { maxLength: 4 })), { maxLength: 6 }),
  )
  .map(([lines, wishes]) => {
    const edits: Edit[] = [];
    let at = 1;
    for (const [gap, more, next] of wishes) {
      const start = at + gap;
      const end = start + more;
      if (end > lines.length) break;
      edits.push({ start, end, was: lines.slice(start - 1, end), lines: next, name: `line ${start}` });
      at = end + 1;
    }
    return { lines, edits };
  });

describe("edits carried out", () => {
  it("change what they name and nothing else, in whichever order they are given", () => {
    fc.assert(
      fc.property(edited, fc.boolean(), ({ lines, edits }, returns) => {
        const text = lines.map((text) => (returns ? `${text}\r` : text));
        const result = applyEdits(text, [...edits].reverse());
        const expected: string[] = [];
        for (let i = 1; i <= lines.length; i++) {
          const edit = edits.find(({ start, end }) => start <= i && i <= end);
          if (!edit) expected.push(text[i - 1]);
          else if (edit.start === i) expected.push(...edit.lines.map((next) => (returns ? `${next}\r` : next)));
        }
        expect(result).toEqual({ ok: true, value: expected });
      }),
    );
  });

  it("are refused whole when two want one line, or a line is no longer what it was", () => {
    const edit = (start: number, end: number, was: string[]): Edit => ({
      ...{ start, end, was, lines: ["new"], name: `the one for line ${start}` },
    });
    const reason = (...edits: Edit[]) => {
      const result = applyEdits(["a", "b", "c"], edits);
      return result.ok ? result.value.join() : result.refusal.reason;
    };
    expect(reason(edit(1, 2, ["a", "b"]), edit(3, 3, ["c"]))).toBe("new,new");
    expect(reason(edit(1, 2, ["a", "b"]), edit(2, 3, ["b", "c"]))).toMatch(
      /line 1 and the one for line 2 want the same/,
    );
    expect(reason(edit(2, 2, ["B"]))).toMatch(/have changed since/);
    expect(reason(edit(4, 4, [""]))).toMatch(/have changed since/);
  });
});

describe("text that is read and written", () => {
  it("gives the same bytes, whatever they are", () => {
    const odd = fc.uint8Array({ maxLength: 40 });
    const wide = fc.string({ maxLength: 20 }).map((text) => Buffer.from(`\ufeff${text}`, "utf16le"));
    fc.assert(
      fc.property(fc.oneof(odd, wide, fc.string().map(Buffer.from)), (bytes) => {
        expect(Buffer.from(writeText(readText(bytes)) ?? [])).toEqual(Buffer.from(bytes));
      }),
    );
    expect(writeText({ lines: ["€"], encoding: "latin-1", missingFinalNewline: true })).toBeNull();
  });
});

describe("a suggestion", () => {
  const base = { id: "s", start: 2, end: 3, was: ["a", "b"], lines: ["c"] };
  it("is refused with its reason while it changes nothing, or wants what another has", () => {
    expect(wrongSuggestions([base], "x.ts")).toBeNull();
    expect(wrongSuggestions([{ ...base, lines: ["a", "b"] }], "x.ts")).toMatch(/changes nothing/);
    expect(wrongSuggestions([base, { ...base, id: "t", start: 3, end: 3, was: ["b"] }], "x.ts")).toMatch(/same line 3/);
    expect(wrongSuggestions([{ ...base, end: 2 }], "x.ts")).toMatch(/do not exist/);
  });

  it("is credited once to each who made one, in a block of trailers", () => {
    const ann = { name: "Ann <x>", email: "ann@x" };
    const message = creditIn(suggestionMessage(["Name it"]), [ann, ann]);
    expect(message).toBe("Take a suggestion: Name it\n\nCo-authored-by: Ann  x <ann@x>\n");
    expect(creditIn(message, [ann])).toBe(message);
    expect(creditIn("Do it\n\nRefs: #3\n", [ann])).toBe("Do it\n\nRefs: #3\nCo-authored-by: Ann  x <ann@x>\n");
  });
});
