import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ReviewEvent } from "../../review/events";
import { replay } from "../../review/evolve";
import { type Block, toText } from "./blocks";
import { toHtml } from "./html";
import { isGathered, type MessageFacts, messageOf, subjectOf, toldTo } from "./message";

const revision = { head: "h1", target: "t", base: "b" };
const opened = {
  repository: "r",
  number: 7,
  title: "Hold",
  description: "Why <b>.",
  source: "s",
  target: "main",
  revision,
};
let at = 0;
const event = (by: string, kind: string, data: unknown): ReviewEvent =>
  ({ id: `e${++at}`, stream: "c", version: 1, at, by, kind, data }) as ReviewEvent;
const anchor = { kind: "lines", revision: 1, blob: "x", side: "new", path: "a.ts", start: 2, end: 2, text: ["go();"] };
const remark = { thread: "t1", comment: "k1", anchor, body: "Why?", weight: "aside" };
const review = event("ben", "reviewed", { revision: 1, verdict: "approve", remark: "Good.", remarks: [remark] });
const log = [event("ada", "opened", opened), review];

const facts = (events: ReviewEvent[], to = "ada"): MessageFacts => ({
  change: replay(events)!,
  repository: "quay",
  gate: { open: true, conditions: [] },
  address: "http://lens.example/r/quay/c/7",
  name: (id) => id.toUpperCase(),
  to,
});

describe("a message", () => {
  it("says who, what, where and how it stands, and how to get no more", () => {
    const message = toText(messageOf([review], facts(log)));
    expect(subjectOf([review], facts(log))).toBe("[quay 7] Hold: BEN approves r1");
    for (const words of [
      "BEN approves r1.",
      "a.ts, line 2 (an aside)",
      "> go();",
      "Why?",
      "?thread=t1",
      "can be merged",
    ])
      expect(message).toContain(words);
    expect(message).toMatch(/You are the author.*\nhttp:\/\/lens\.example\/r\/quay\/c\/7\/mail\n$/);
    expect(toText(messageOf([review], facts(log, "cy")))).toContain("You take part");
  });

  it("tells what a comment says now, and nothing of one that was deleted", () => {
    const ids = { thread: "t1", comment: "k1" };
    const edited = [...log, event("ben", "edited", { ...ids, body: "Why not?" })];
    expect(toText(messageOf([review], facts(edited)))).toContain("Why not?");
    const erased = [...edited, event("ben", "erased", ids)];
    expect(toText(messageOf([review], facts(erased)))).not.toMatch(/Why|go\(\)/);
  });

  it("asks again whom it is meant for, and nobody about a draft until that is ready", () => {
    const ofRole = () => ["cy", "dee"];
    const again = event("ada", "asked-again", { people: ["ben"], revision: 1 });
    expect(toldTo(replay([...log, again])!, again, ofRole)).toEqual(["ben"]);
    expect(subjectOf([again], facts([...log, again], "ben"))).toBe("[quay 7] Hold: ADA asks you to look again, at r1");
    const draft = event("ada", "opened", { ...opened, draft: true });
    const asked = event("ada", "asked", { invited: [{ person: "ben" }, { role: "contributor" }] });
    expect(toldTo(replay([draft, asked])!, asked, ofRole)).toEqual([]);
    const pushed = event("ada", "revised", { revision: { ...revision, head: "h2" } });
    expect(toldTo(replay([draft, asked, pushed])!, pushed, ofRole)).toEqual([]);
    const ready = event("ada", "readied", {});
    expect(toldTo(replay([draft, asked, pushed, ready])!, ready, ofRole)).toEqual(["ben", "cy", "dee"]);
    expect(toText(messageOf([ready], facts([draft, asked, ready])))).toContain("ADA asks for your review.");
  });

  it("goes to those who have to do with it, but never to whoever did it", () => {
    const told = (made: ReviewEvent) => toldTo(replay([...log, made])!, made, () => ["cy", "ada"]).sort();
    expect(told(event("cy", "reviewed", { revision: 1, verdict: "none", remark: "Hm", remarks: [] }))).toEqual([
      "ada",
      "ben",
    ]);
    expect(told(event("ada", "replied", { thread: "t1", comment: "k2", body: "So." }))).toEqual(["ben"]);
    expect(told(event("ada", "resolved", { thread: "t1" }))).toEqual([]);
    expect(told(event("ada", "resolved", { thread: "t1", comment: "k3", body: "Done." }))).toEqual(["ben"]);
    expect(told(event("ada", "asked", { invited: [{ person: "dee" }, { role: "keeper" }] }))).toEqual(["cy", "dee"]);
    expect(told(event("ben", "reacted", { thread: "t1", comment: "k1", reaction: "agreed", on: true }))).toEqual([]);
    expect(isGathered(review)).toBe(false);
  });

  it("takes every word in it as text, whoever wrote it", () => {
    const hostile = fc.oneof(
      fc.string(),
      fc.constantFrom(
        "[x](javascript:alert(1))",
        "![x](http://evil.example/x.png)",
        "<script>x</script>",
        '"><img src=x onerror=y>',
        "</pre><b>",
        "&lt;",
        "'",
        "</body>",
      ),
    );
    const lines = fc.array(hostile, { maxLength: 3 });
    const block: fc.Arbitrary<Block> = fc.oneof(
      fc.record({ kind: fc.constantFrom("says" as const, "head" as const, "words" as const), words: hostile }),
      fc.record({ kind: fc.constant("quote" as const), lines }),
      fc.record({ kind: fc.constant("change" as const), was: lines, lines }),
      fc.record({ kind: fc.constant("link" as const), words: hostile, to: hostile }),
      fc.record({ kind: fc.constant("foot" as const), words: hostile, to: hostile }),
    );
    const OURS =
      /^<\/?(?:!doctype html|html|head|body|p|strong|em|del|h[1-6]|div|pre|code|blockquote|ul|ol|li|hr|br|table|thead|tbody|tr|th|td|a)(?: (?:style|href|class|align|start|title)="[^"]*")*>$/;
    fc.assert(
      fc.property(fc.array(block, { maxLength: 5 }), (blocks) => {
        for (const [tag] of toHtml(blocks).matchAll(/<(?:"[^"]*"|[^">])*>?/g)) {
          expect(tag).toMatch(OURS);
          expect(tag).not.toMatch(/href="\s*javascript:/i);
        }
      }),
    );
  });

  it("writes out what does not show, wherever it stands", () => {
    const odd = "a\u202eb";
    const blocks: Block[] = [
      ...[
        { kind: "says" as const, words: odd },
        { kind: "head" as const, words: odd },
      ],
      ...[
        { kind: "words" as const, words: `${odd} &#x2066;` },
        { kind: "quote" as const, lines: [odd] },
      ],
      { kind: "change", was: [odd], lines: [odd] },
    ];
    for (const made of [toText(blocks), toHtml(blocks)]) {
      expect(made.match(/a⟨U\+202E⟩b/g)).toHaveLength(6);
      expect(made).not.toMatch(/[\u202e\u2066]/);
    }
  });

  it("shows code in its order, whichever way its words are written", () => {
    const code = '("\u05d0", 0, "\u05d1")';
    const html = toHtml([
      { kind: "quote", lines: [code] },
      { kind: "change", was: [code], lines: [code] },
      { kind: "words", words: `Why \`${code}\`?` },
    ]);
    expect(html.match(/\("<bdi>\u05d0<\/bdi>", 0, "<bdi>\u05d1<\/bdi>"\)/g)).toHaveLength(4);
  });

  it("renders what people write, and fetches nothing", () => {
    const html = toHtml([
      { kind: "words", words: "**Mind** the `tide`:\n\n- silt\n- <b>mud</b> ![a chart](http://x.example/1.png)" },
    ]);
    expect(html).toContain("<strong>Mind</strong> the <code>tide</code>:");
    expect(html).toContain("<li>silt</li>");
    expect(html).toContain("&#x3C;b>mud&#x3C;/b>");
    expect(html).toContain("[image: a chart]");
    expect(html).not.toMatch(/<img|x\.example/);
  });

  it("shows the beginning of what is long, rendered", () => {
    const html = toHtml([{ kind: "words", words: `It is **long**. ${"word ".repeat(40_000)}` }]);
    expect(html).toContain("<strong>long</strong>");
    expect(html.length).toBeLessThan(25_000);
  });

  it("leaves as it was written what a page would still render, since a server does it for all", () => {
    for (const words of ["> a\n".repeat(700), `${"-  ".repeat(20)}x`])
      expect(toHtml([{ kind: "words", words }])).not.toMatch(/<(?:blockquote|li)/);
  });

  it("goes out whatever anyone wrote, however deep or odd", () => {
    for (const words of [">".repeat(6_000), "[".repeat(6_000), "*a_".repeat(4_000), `${"- ".repeat(3_000)}x`]) {
      const html = toHtml([
        { kind: "words", words },
        { kind: "words", words: "What another wrote." },
      ]);
      expect(html).toContain("What another wrote.");
    }
  });
});
