import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { diffLines } from "../../diff/lines";
import { tries } from "../../testing/tries";
import { blocksIn, definitionsFor, definitionsIn, definitionsOf, isComment, shownBlocks } from "./prose";

const shown = (old: string, next: string) => {
  const [a, b] = [old.split("\n"), next.split("\n")];
  return shownBlocks(a, b, diffLines(a, b)).map(({ kind, text }) => `${kind}: ${text.replaceAll("\n", "⏎")}`);
};

describe("a text in Markdown, drawn with what changed", () => {
  it("is cut at empty lines, and never within code or a list", () => {
    const lines = [
      "# Tides",
      "",
      "High",
      "and low.",
      "",
      "```",
      "a",
      "",
      "b",
      "```",
      "",
      "- one",
      "",
      "- two",
      "",
      "  more",
      "",
      "End",
    ];
    expect(blocksIn(lines).map(({ start, end }) => lines.slice(start, end).join("⏎"))).toEqual([
      ...["# Tides", "High⏎and low.", "```⏎a⏎⏎b⏎```", "- one⏎⏎- two⏎⏎  more", "End"],
    ]);
    // A fence that never ends holds the rest.
    expect(blocksIn(["~~~", "a", "", "b"])).toEqual([{ start: 0, end: 4 }]);
    // Nor within what is not drawn.
    for (const [begins, ends] of [
      ...[
        ["<!-- a", "-->"],
        ["<pre>", "x</pre>"],
        ["<?php", "?>"],
        ["<!DOCTYPE", ">"],
        ["<![CDATA[", "]]>"],
      ],
    ]) {
      expect(blocksIn([begins, "", "```", "", ends, "", "b"])).toEqual([
        ...[
          { start: 0, end: 5 },
          { start: 6, end: 7 },
        ],
      ]);
      expect(blocksIn(["```", begins, "```", "", "b"])).toHaveLength(2);
    }
    expect(blocksIn(["<!-- a -->", "", "b"])).toHaveLength(2);
  });

  it("shows a block that was edited as it was, then as it is, and the others once", () => {
    expect(shown("# A\n\nOne.\n\nTwo.\n\nThree.", "# A\n\nOne!\n\nTwo.\n\nNew.\n\nThree.")).toEqual([
      ...["same: # A", "removed: One.", "added: One!", "same: Two.", "added: New.", "same: Three."],
    ]);
    expect(shown("One.\n\nTwo.", "Two.")).toEqual(["removed: One.", "same: Two."]);
    expect(shown("One.", "One.\n\nTwo.")).toEqual(["same: One.", "added: Two."]);
    expect(shown("a\nb\nc", "a\nc")).toEqual(["removed: a⏎b⏎c", "added: a⏎c"]);
    expect(shown("a", "a\nb")).toEqual(["removed: a", "added: a⏎b"]);
  });

  it("shows what did not change, too, where what begins above makes another thing of it", () => {
    expect(shown("Ask two.\n\nThen go.", "<!--\n\nAsk two.\n\n-->\n\nThen go.")).toEqual([
      ...["removed: Ask two.", "added: <!--⏎⏎Ask two.⏎⏎-->", "same: Then go."],
    ]);
    expect(shown("```\n\nAsk two.\n\n```", "Ask two.")).toEqual(["removed: ```⏎⏎Ask two.⏎⏎```", "added: Ask two."]);
  });

  it("knows a comment that is nothing else", () => {
    expect(["<!-- a -->", "<!--\n\na -->\n", "<!-- a", "<!-->"].map(isComment)).toEqual([true, true, true, true]);
    expect(["a <!-- b -->", "<!-- a --> b", "<!--> a -->", "<!---> a -->"].map(isComment)).toEqual([
      ...[false, false, false, false],
    ]);
  });

  it("knows where links lead that a block names, by the first definition of its text that is one", () => {
    const lines = [
      "[Tide  table]: /t 'Tides'",
      "[tide table]: /other",
      "",
      "```",
      "[code]: /c",
      "```",
      "",
      "a",
      "[b]: /b",
    ];
    const all = definitionsIn([
      ...lines,
      "",
      "[^1]: a footnote",
      "",
      "   [b\\]c]: <d e>",
      "",
      "    [in]: code",
      "",
      "[x]:",
    ]);
    expect([...all.values()]).toEqual([
      { label: "Tide  table", leadsTo: "/t 'Tides'" },
      { label: "b\\]c", leadsTo: "<d e>" },
    ]);
    expect(definitionsFor("See the [TIDE table] and [it][tide\ntable], [b], [code].", all)).toBe(
      "[Tide  table]: /t 'Tides'\n\n",
    );
    expect(definitionsFor("[![Tides][b\\]c]][]", all)).toBe("[b\\]c]: <d e>\n\n");
    expect(definitionsFor("tide table", all)).toBe("");
    expect(definitionsOf("[a]: /a\n[b]: /b\nthen\n[c]: /c").map(({ label }) => label)).toEqual(["a", "b"]);
  });

  it("finds definitions among brackets that never close, at once", () => {
    const open = "[".repeat(100_000);
    expect(definitionsIn([`${open}]: /a`, "", `[${"a".repeat(100_000)}`]).size).toBe(0);
    expect(definitionsFor(`${open}${"[a".repeat(100_000)}`, definitionsIn(["[a]: /a"]))).toBe("");
  });

  it("leaves out no line that says something, on either side, and tells nothing as the same that is not", () => {
    const line = fc.constantFrom("", "", "- a", "text", "# b", "```", "  c", "<!--", "-->");
    const lines = fc.array(line, { maxLength: 14 });
    fc.assert(
      fc.property(lines, lines, (old, next) => {
        const blocks = shownBlocks(old, next, diffLines(old, next));
        const said = (kinds: string[]) =>
          blocks
            .filter(({ kind }) => kinds.includes(kind))
            .flatMap(({ text }) => text.split("\n").filter((one) => one.trim() !== ""));
        const all = (of: readonly string[]) => of.filter((one) => one.trim() !== "");
        expect(said(["same", "added"])).toEqual(all(next));
        expect(said(["same", "removed"])).toEqual(all(old));
        const whole = blocksIn(old).map(({ start, end }) => old.slice(start, end).join("\n"));
        for (const { kind, text } of blocks) if (kind === "same") expect(whole).toContain(text);
        // What was taken away is in what is shown as removed.
        const removed = said(["removed"]);
        for (const hunk of diffLines(old, next))
          for (const one of all(old.slice(hunk.oldStart, hunk.oldEnd))) expect(removed).toContain(one);
      }),
      { numRuns: tries(500) },
    );
  });
});
