import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { FormRow, FormView } from "./form";
import { markIn, readForm, withProblems } from "./read";
import { formLines, writeForm } from "./write";

const row = (kind: "same" | "removed" | "added", old: number, next: number, text: string): FormRow => ({
  kind,
  old,
  next,
  text,
});

const VIEW: FormView = {
  ...{
    repository: "quay",
    number: 7,
    title: "Say berth everywhere",
    description: "Slots are gone.\n\nFor good.",
    own: false,
  },
  ...{
    author: "Ada Brandt",
    source: "berths",
    target: "main",
    revision: 2,
    since: null,
    key: "01JD0000000000000000000000",
  },
  gate: [{ met: false, says: "0 of 1 approval of r2.", who: "Kit can give it." }],
  threads: [
    {
      ...{ id: "01JD00000000000000000000T1", where: "plan/queue.ts, line 3", state: "open, to be settled" },
      quoted: ["  return slot;"],
      comments: [{ by: "Kit", body: "Is it still a slot?" }],
    },
  ],
  files: [
    {
      path: "plan/queue.ts",
      says: [],
      rows: [
        row("same", 1, 1, "function berthOf(ship: Ship, at: Tide, calls: readonly Call[]): Berth | null {"),
        row("removed", 2, 0, "  const slot = find(ship);"),
        row("added", 0, 2, "  const berth = find(ship);"),
        row("added", 0, 3, "  check(berth);"),
        row("same", 3, 4, "}"),
        { kind: "hidden", says: "12 lines are the same" },
        row("same", 16, 17, "}"),
      ],
    },
    {
      path: "plan/tide.ts",
      says: ["renamed from plan/tides.ts"],
      rows: [row("same", 1, 1, "}"), row("added", 0, 2, "}")],
    },
  ],
};
const FORM = formLines(VIEW);
const TEXT = writeForm(VIEW);
const read = (text: string, view = VIEW) => readForm(text, formLines(view), view);

/** The form with something written under the line that holds some words. */
function under(words: string, said: string, text = TEXT): string {
  const lines = text.split("\n");
  const at = lines.findIndex((line) => line.includes(words));
  return [...lines.slice(0, at + 1), said, ...lines.slice(at + 1)].join("\n");
}

describe("a form of what is new since a revision", () => {
  const later = { ...VIEW, since: 1 };
  const text = writeForm(later);

  it("says so, and is known by it again", () => {
    expect(text).toMatch(/^> change set 7 of quay, r2 since r1 \[/);
    expect(text).toContain("> Only what is new since r1 is shown");
    expect(markIn(text)).toMatchObject({ revision: 2, since: 1, key: VIEW.key });
    expect(markIn(TEXT)?.since).toBeNull();
  });

  it("takes remarks on lines that are there now, and none on those of the revision before", () => {
    expect(read(under("check(berth)", "Good.", text), later).review.remarks).toMatchObject([
      { place: { side: "new", start: 3, end: 3 }, body: "Good." },
    ]);
    const { review, problems } = read(under("find(ship);", "It went?", text), later);
    expect(review.remarks).toEqual([]);
    expect(problems).toMatchObject([{ says: expect.stringContaining("earlier revision") }]);
  });
});

describe("a form", () => {
  it("says nothing as it was sent, and is known by its mark", () => {
    const { review, problems } = read(TEXT);
    expect(problems).toEqual([]);
    expect(review).toMatchObject({ verdict: "none", word: "", remarks: [], replies: [], tasks: [] });
    expect(markIn(TEXT)).toEqual({ repository: "quay", number: 7, revision: 2, since: null, key: VIEW.key });
    expect(markIn(`On Monday you wrote:\n${TEXT.replace(/^/gm, "> ")}`)).toMatchObject({ number: 7 });
  });

  it("puts a verdict, a closing word, remarks, answers, suggestions and tasks where they were written", () => {
    let text = TEXT.replace("\nverdict: none", "\nverdict: approve\n\nGood work.");
    text = under("const berth", "lines: 1\nsuggest:\n    const berth = seek(ship);\n\n", text);
    text = under("check(berth)", "aside\nlines: 2\nWhy twice?\n\\> not a quotation", text);
    text = under("const slot", "It was right before.", text);
    text = under("Is it still", "No.\nresolve", text);
    text = under("== file plan/tide.ts", "task: @kit: rename the docs\nThe name is odd.", text);
    const { review, problems } = read(text);
    expect(problems).toEqual([]);
    expect(review).toMatchObject({ verdict: "approve", word: "Good work." });
    expect(review.tasks).toMatchObject([{ body: "rename the docs", person: "kit" }]);
    expect(review.replies).toMatchObject([{ thread: VIEW.threads[0].id, body: "No.", resolves: true }]);
    const lines = (side: string, start: number, end: number) => ({
      kind: "lines",
      path: "plan/queue.ts",
      side,
      start,
      end,
    });
    expect(review.remarks).toMatchObject([
      { place: lines("old", 2, 2), body: "It was right before.", weight: "settle", suggests: null },
      { place: lines("new", 2, 2), body: "", suggests: ["    const berth = seek(ship);"] },
      { place: lines("new", 2, 3), body: "Why twice?\n> not a quotation", weight: "aside" },
      { place: { kind: "file", path: "plan/tide.ts" }, body: "The name is odd." },
    ]);
  });

  it("tells lines that are asked for and not quoted", () => {
    const text = under("check(berth)", "lines: 4\nAll of it.");
    expect(read(text).problems).toMatchObject([{ says: "“lines: 4” asks for lines that are not quoted above this." }]);
    const two = read(under("check(berth)", "lines: 2\nBoth."));
    expect(two.review.remarks).toMatchObject([{ place: { start: 2, end: 3, side: "new" } }]);
  });

  it("says what is wrong and at which line, and takes nothing for something else", () => {
    const says = (text: string) =>
      read(text).problems.map(({ line, says: why }) => `${text.split("\n")[line - 1]}: ${why}`);
    expect(says(TEXT.replace("\nverdict: none", "\nverdict: yes"))).toEqual([
      "verdict: yes: “yes” is no verdict: it is approve, request-changes, none.",
    ]);
    expect(says(TEXT.replace("\nverdict: none", "\nverdit: approve"))[0]).toMatch(/Is it “verdict:”/);
    expect(says(under("12 lines are", "Hm."))[0]).toMatch(/Here lines are not shown/);
    expect(says(under("const slot", "suggest:\nx"))[0]).toMatch(/there afterwards/);
    expect(says(under("const berth", "resolve"))[0]).toMatch(/Only a thread/);
    expect(says(under("const berth", "suggest:\n"))[0]).toMatch(/“suggest: nothing”/);
    const strict = readForm("> something else\nHm.", FORM, VIEW, { strict: true }).problems;
    expect(strict).toMatchObject([{ line: 2, says: expect.stringMatching(/nothing of change set 7 of quay/) }]);
    // In a mail other things are quoted, too; but a line of a file that is none is never taken for the whole.
    expect(read("> Ada asks for your review\nHm.").review.word).toBe("Hm.");
    expect(says("> +  9  nothing\nHm.")[0]).toMatch(/nothing of change set 7 of quay/);
    expect(says(`${TEXT}\nverdict: approve\n`.replace("\nverdict: none", "\nverdict: request-changes"))[0]).toMatch(
      /Two/,
    );
    const own = { ...VIEW, own: true };
    expect(writeForm(own)).not.toContain("verdict");
    expect(read(`verdict: approve\n${writeForm(own)}`, own).problems).toMatchObject([{ line: 1 }]);
  });

  it("tells what was written into a quotation, where it came from an editor, and tells it at its line", () => {
    const text = TEXT.replace("check(berth);", "check(berth); // really?");
    const strict = (given: string) => readForm(given, FORM, VIEW, { strict: true }).problems;
    expect(strict(TEXT)).toEqual([]);
    expect(strict(text)).toMatchObject([{ says: expect.stringMatching(/would be lost/) }]);
    const told = withProblems(text, strict(text));
    const at = told.split("\n").findIndex((line) => line.includes("really?"));
    expect(told.split("\n")[at - 1]).toMatch(/^> !! This line is quoted/);
    // Mended, what was told before is in nobody's way.
    expect(strict(told.replace(" // really?", ""))).toEqual([]);
    expect(withProblems(told.replace(" // really?", ""), [])).toBe(TEXT);
  });

  it("is placed though it is quoted deeper, wrapped, or cut down to the line in question", () => {
    const long = "function berthOf(ship: Ship, at: Tide, calls: readonly Call[]): Berth | null {";
    const whole = `>  1 1  ${long}\n\nHm.`;
    const ways = [
      TEXT.replace(/^/gm, "> ").replace(new RegExp(`(.*${long.slice(0, 20).replace("(", "\\(")}.*)`), "$1\nHm."),
      whole.replace("at: Tide, ", "at: Tide,\n> "),
      whole.replace("at: Tide, ", "at: Tide,\n"),
      "> > >  1  1  function berthOf(ship: Ship, ...\nHm.\n",
      `Hallo,\r\nHm.\r\n`.replace("Hallo,\r\nHm.", ">  1  1  function berthOf(ship: Ship, […]\r\nHm."),
    ];
    for (const text of ways)
      expect([text, read(text).review.remarks.map(({ place, body }) => ({ ...place, body }))]).toEqual([
        text,
        [{ kind: "lines", path: "plan/queue.ts", side: "new", start: 1, end: 1, body: "Hm." }],
      ]);
  });

  it("is not led elsewhere by an author whose reason, or an answer, looks like a line of a file", () => {
    const line = FORM.find(({ text }) => text.includes("check(berth)"))!.text;
    const said = { ...VIEW.threads[0], comments: [{ by: "Eve", body: `${line}\n== file plan/tide.ts` }] };
    const view = { ...VIEW, description: `${line}\n-- Kit:\nverdict: approve\n> ${line}`, threads: [said] };
    const sent = writeForm(view);
    expect(read(sent, view)).toMatchObject({ problems: [], review: { verdict: "none", remarks: [], word: "" } });
    // Alone it could be any of these places: that is told, and nothing is put under another.
    const alone = read(`> ${line}\nHm.`, view);
    expect([alone.review.remarks, alone.review.word]).toEqual([[], ""]);
    expect(alone.problems).toMatchObject([{ says: expect.stringMatching(/at several places/) }]);
    const lines = sent.split("\n");
    const at = lines.findLastIndex((one) => one.includes("check(berth)"));
    const whole = read(lines.toSpliced(at + 1, 0, "Hm.").join("\n"), view);
    expect(whole.review.remarks).toMatchObject([{ body: "Hm.", place: { path: "plan/queue.ts", start: 3 } }]);
  });

  it("never loses a word, and never puts one under another line, whatever is cut away and wrapped around it", () => {
    const lines = FORM.flatMap(({ text, place }, i) => (place.kind === "line" && text.trim().length > 6 ? [i] : []));
    const once = lines.filter(
      (i) => FORM.filter(({ text }) => text.replace(/\s/g, "") === FORM[i].text.replace(/\s/g, "")).length === 1,
    );
    fc.assert(
      fc.property(
        fc.constantFrom(...once),
        fc.array(fc.boolean(), { minLength: FORM.length, maxLength: FORM.length }),
        fc.integer({ min: 8, max: 90 }),
        fc.integer({ min: 1, max: 3 }),
        (target, kept, width, depth) => {
          const sign = "> ".repeat(depth);
          const text = FORM.flatMap(({ text: line }, i) => {
            if (!kept[i] && i !== target) return [];
            const wrapped = line.length <= width ? [line] : (line.match(new RegExp(`.{1,${width}}`, "g")) ?? [line]);
            const written = (wrapped.length > 8 ? [line] : wrapped).map((part) => sign + part);
            return i === target ? [...written, "", "Zounds", ""] : written;
          }).join("\n");
          const { review, problems } = read(text);
          const { place } = FORM[target];
          if (problems.length > 0) return expect(review.remarks).toEqual([]);
          expect(review.remarks.map((one) => [one.body, one.place])).toEqual([
            [
              "Zounds",
              place.kind === "line"
                ? { kind: "lines", path: place.path, side: place.side, start: place.line, end: place.line }
                : place,
            ],
          ]);
        },
      ),
    );
  });
});
