import fc from "fast-check";
import { expect, it } from "vitest";
import { completions, readQuery, writePart } from "./query";
import { EXAMPLES, KEYS } from "./words";

function read(text: string) {
  const query = readQuery(text);
  if (!query.ok) throw new Error(query.refusal.reason);
  return query.value;
}
const reason = (text: string) => {
  const query = readQuery(text);
  return query.ok ? "" : query.refusal.reason;
};

it("reads words with what is said of them, and what has to be in the text", () => {
  expect(read('by:me state:open "tide table" -in:berth-planner lock')).toEqual({
    sort: "changed",
    terms: [
      { key: "by", value: "me", not: false },
      { key: "state", value: "open", not: false },
      { key: "text", value: "tide table", not: false },
      { key: "in", value: "berth-planner", not: true },
      { key: "text", value: "lock", not: false },
    ],
  });
  expect(read("rounds:>2 threads:0 age:<12h still:>1w sort:still")).toEqual({
    sort: "still",
    terms: [
      { key: "rounds", than: "more", number: 2, not: false },
      { key: "threads", than: "exactly", number: 0, not: false },
      { key: "age", than: "less", span: 43_200_000, not: false },
      { key: "still", than: "more", span: 604_800_000, not: false },
    ],
  });
  expect(read('from:"a b" "open end').terms.map((term) => "value" in term && term.value)).toEqual(["a b", "open end"]);
  expect(read("").terms).toEqual([]);
});

it("refuses what means nothing, with a sentence that names it", () => {
  expect(reason("owner:me")).toMatch(/“owner:” is no word of a query/);
  expect(reason("state:shut")).toMatch(/“state:shut” means nothing here. Where it stands: going/);
  expect(reason("age:7")).toMatch(/“age:7” means nothing/);
  expect(reason("rounds:many")).toMatch(/means nothing/);
  expect(reason("by:")).toMatch(/Say what “by:” is to be/);
  expect(reason("sort:size")).toMatch(/is no order/);
  expect(reason("a ".repeat(40))).toMatch(/30 things at most/);
  expect(reason("x".repeat(501))).toMatch(/500 characters/);
});

it("reads whatever is written without a hitch, and what it writes itself as it was meant", () => {
  fc.assert(fc.property(fc.string({ maxLength: 100 }), (text) => void readQuery(text)));
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom("a", " ", "-", ":", "*"), minLength: 1, maxLength: 12 }), (value) => {
      fc.pre(value.trim() === value && value !== "");
      expect(read(writePart("from", value)).terms).toEqual([{ key: "from", value, not: false }]);
    }),
  );
  for (const { query } of EXAMPLES) expect(read(query).terms.length).toBeGreaterThan(0);
});

it("offers what could come next", () => {
  const known = { people: ["anders", "rosa"], repositories: ["tide-tables"], labels: ["tariff"] };
  const offered = (text: string) => completions(text, text.length, known);
  expect(offered("st")).toEqual({ from: 0, options: ["state:", "still:"] });
  expect(offered("by:me -asked:")).toEqual({
    from: 6,
    options: ["-asked:me", "-asked:nobody", "-asked:anders", "-asked:rosa"],
  });
  expect(offered("by:r").options).toEqual(["by:rosa"]);
  expect(offered("in:t").options).toEqual(["in:tide-tables"]);
  expect(offered("label:").options).toEqual(["label:none", "label:tariff"]);
  expect(offered("age:>").options).toEqual([]);
  expect(offered("").options).toEqual([]);
  expect(KEYS.size).toBeGreaterThan(10);
});
