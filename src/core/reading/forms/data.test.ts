import fc from "fast-check";
import { expect, it } from "vitest";
import { parseDocument } from "yaml";
import { tries } from "../../testing/tries";
import { dataChanges } from "./data";

function told(old: string, next: string): string[] {
  const changes = dataChanges(old, next);
  if (typeof changes === "string") throw new Error(changes);
  return changes.map(
    ({ path, mark, before, after, side, line }) => `${mark} ${path.join(".")} ${before}>${after} ${side} ${line + 1}`,
  );
}

it("tells of each value by the way that leads to it, whatever the order of keys", () => {
  const old = '{\n\t"tide": {"slots": 3, "unit": "m"},\n\t"ships": ["Alma", "Brig"],\n\t"open": true\n}\n';
  const next = '{\n\t"ships": ["Cog", "Alma", "Brig"],\n\t"tide": {"unit": "m", "slots": 4},\n\t"shut": null\n}\n';
  expect(told(old, next)).toEqual([
    'added ships.1 null>"Cog" new 2',
    "changed tide.slots 3>4 new 3",
    "order tide null>null new 3",
    "added shut null>null new 4",
    "removed open true>null old 4",
    "order  null>null new 1",
  ]);
});

it("reads YAML with its names, several documents, and lists of things that have names", () => {
  const old = "jobs:\n  - name: build\n    run: make\n  - name: test\n    run: check\n";
  const next = "jobs:\n  - name: lint\n    run: lint\n  - name: test\n    run: check --all\n";
  expect(told(old, next)).toEqual([
    "added jobs.1 null>name: lint\n    run: lint new 2",
    "changed jobs.2.run check>check --all new 5",
    "removed jobs.1 name: build\n    run: make>null old 2",
  ]);
  expect(told("a: 1\n---\nb: 2\n", "a: 1\n---\nb: 3\n")).toEqual(["changed 2.b 2>3 new 3"]);
  expect(told("a: &x 1\nb: *x\n", "a: &x 1\nb: 1\n")).toEqual(["changed b *x>1 new 2"]);
  expect(told("", "a: 1\n")).toEqual(["added  null>a: 1 new 1"]);
  expect(told("", "%YAML 1.2\n---\na: 1\n")).toEqual(["added  null>a: 1 new 3"]);
});

it("takes values as they are written, and what is the same for the same", () => {
  expect(told('{"a": 1}', '{"a": 1.0}')).toEqual(["changed a 1>1.0 new 1"]);
  expect(told("a: yes\n", 'a: "yes"\n')).toEqual(['changed a yes>"yes" new 1']);
  expect(told('{"a":1,"b":[1,2]}', '{\n  "a": 1,\n  "b": [\n    1,\n    2\n  ]\n}\n')).toEqual([]);
  expect(told("a: !x 1\n", "a: !y 1\n")).toHaveLength(1);
  expect(told('{"b": 2}', "{b: 2}")).toEqual([]);
  expect(told("%YAML 1.1\n---\na: on\n", "%YAML 1.1\n---\n# no\na: on\n")).toEqual([]);
});

it("takes keys that are no text to everyone as they are written, too", () => {
  expect(told('{"1": 2}', "{1: 2}")).toEqual(["added 1 null>2 new 1", 'removed "1" 2>null old 1']);
  expect(told("on: push\n", '"on": push\n')).toHaveLength(2);
  expect(told('1: a\n"1": b\n', '"1": a\n1: b\n')).toEqual([
    ...['changed "1" b>a new 1', "changed 1 a>b new 2", "order  null>null new 1"],
  ]);
  expect(told("<<: {a: 1}\n", '"<<": {a: 1}\n')).toHaveLength(2);
});

it("tells what a name stands for where that becomes another value by the order alone", () => {
  expect(told("a: &x 1\nb: &x 2\nc: *x\n", "a: &x 1\nc: *x\nb: &x 2\n")).toEqual([
    "changed c *x (b)>*x (a) new 2",
    "order  null>null new 1",
  ]);
  expect(told("a: &x 1\nb: 2\nc: *x\n", "b: 2\na: &x 1\nc: *x\n")).toEqual(["order  null>null new 1"]);
  expect(told("a: &x 1\nb: 1\nc: *x\n", "a: 1\nb: &x 1\nc: *x\n")).toEqual([
    ...["changed a &x 1>1 new 1", "changed b 1>&x 1 new 2"],
  ]);
});

it("says that keys stand in another order also where nothing else differs, wherever that is", () => {
  expect(told('{"a": 1, "b": 2}', '{"b": 2, "a": 1}')).toEqual(["order  null>null new 1"]);
  expect(told("- {a: 1}\n- {b: 1, c: 2}\n", "- {a: 1}\n- {c: 2, b: 1}\n- 3\n")).toEqual([
    ...["order 2 null>null new 2", "added 3 null>3 new 3"],
  ]);
});

it("refuses what would hide something, with the line", () => {
  expect(dataChanges("a: 1\n", "a: 1\nb: 2\na: 3\n")).toMatch(/line 3 a key stands a second time/);
  expect(dataChanges("a: 1\n", "b:\n  - c\n  - {d: 1, e: 2, d: 3}\n")).toMatch(/line 3 a key stands a second time/);
  expect(dataChanges("a: 1\n", '1: a\n"1": b\n')).toHaveLength(3);
  expect(dataChanges("a: on\n", "%YAML 1.1\n---\na: on\n")).toMatch(/begins with “%”/);
  expect(dataChanges("%TAG ! tag:a,1:\n---\na: !x 1\n", "%TAG ! tag:b,1:\n---\na: !x 1\n")).toMatch(/with “%”/);
  expect(dataChanges("a: 1\n", "a: [1\n")).toMatch(/cannot be read as data/);
  expect(dataChanges("a: 1\n", "[".repeat(300) + "]".repeat(300))).toMatch(/nests too deep/);
});

it("reads a document of very many keys", () => {
  const text = (value: number) =>
    `{${Array.from({ length: 20_000 }, (_, n) => `"key ${n}": ${value * n}`).join(",\n")}}`;
  expect(dataChanges(text(1), text(2))).toHaveLength(19_999);
});

it("says nothing only where both states are the same data, and something wherever they are not", () => {
  const data = fc.jsonValue({ maxDepth: 3 });
  fc.assert(
    fc.property(data, data, (old, next) => {
      const text = (value: unknown) => JSON.stringify(value, null, 2);
      const same = text(old) === text(next);
      const changes = dataChanges(text(old), text(next));
      if (typeof changes === "string") expect(changes).toMatch(/cannot be read|second time/);
      else if (same) expect(changes).toEqual([]);
      else if (changes.length === 0) expect.fail(`${text(old)} and ${text(next)}`);
    }),
  );
});

/** A document as a reader of some version of YAML takes it, whatever the order of keys; null where that cannot read it. */
function taken(text: string, version: "1.1" | "1.2"): string | null {
  const canonical = (value: unknown): unknown =>
    value instanceof Map
      ? [...value].map(([key, one]) => JSON.stringify([typeof key, canonical(key), canonical(one)])).sort()
      : Array.isArray(value)
        ? value.map(canonical)
        : [typeof value, String(value)];
  try {
    const document = parseDocument(text, { version, merge: true });
    return document.errors.length > 0 ? null : JSON.stringify(canonical(document.toJS({ mapAsMap: true })));
  } catch {
    return null;
  }
}

it("tells nothing but an order only of what is the same to readers of both versions of YAML", () => {
  const key = fc.constantFrom("a", "b", "c", "on", '"on"', "1", '"1"', "<<", "!!str 1", "~", "&y d");
  const value = fc.constantFrom("&x 1", "&x 2", "&y {on: 1}", "*x", "*x", "*y", "{c: *x}", "[*x, 1]", "on", "");
  const lines = fc.uniqueArray(
    fc.tuple(key, value).map(([one, other]) => `${one}: ${other}`),
    { minLength: 2, maxLength: 5, selector: (line) => line.split(":")[0] },
  );
  const states = lines.chain((old) => fc.tuple(fc.constant(old), fc.shuffledSubarray(old, { minLength: old.length })));
  /** The same with other quotation marks. */
  const requoted = (line: string) =>
    line.replace(/^(?:"(\w+)"|(\w+|~|<<))(?=:)/, (_, quoted, bare) => quoted ?? `"${bare}"`);
  let same = 0;
  fc.assert(
    fc.property(states, fc.nat(9), ([old, shuffled], at) => {
      const texts = [old, shuffled.map((line, n) => (n === at ? requoted(line) : line))].map((all) => all.join("\n"));
      const changes = dataChanges(texts[0], texts[1]);
      if (typeof changes === "string" || changes.some(({ mark }) => mark !== "order")) return;
      for (const version of ["1.1", "1.2"] as const) {
        const [before, after] = texts.map((text) => taken(text, version));
        if (before !== null && after !== null) expect(after).toBe(before);
      }
      same++;
    }),
    { numRuns: tries(2_000) },
  );
  expect(same).toBeGreaterThan(tries(100));
});
