import fc from "fast-check";
import { expect, it } from "vitest";
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
});

it("takes values as they are written, and what is the same for the same", () => {
  expect(told('{"a": 1}', '{"a": 1.0}')).toEqual(["changed a 1>1.0 new 1"]);
  expect(told("a: yes\n", 'a: "yes"\n')).toEqual(['changed a yes>"yes" new 1']);
  expect(told('{"a":1,"b":[1,2]}', '{\n  "a": 1,\n  "b": [\n    1,\n    2\n  ]\n}\n')).toEqual([]);
  expect(told("a: !x 1\n", "a: !y 1\n")).toHaveLength(1);
  expect(told('{"1": 2}', "{1: 2}")).toEqual([]);
});

it("refuses what would hide something, with the line", () => {
  expect(dataChanges("a: 1\n", "a: 1\nb: 2\na: 3\n")).toMatch(/line 3 a key stands a second time/);
  expect(dataChanges("a: 1\n", "b:\n  - c\n  - {d: 1, e: 2, d: 3}\n")).toMatch(/line 3 a key stands a second time/);
  expect(dataChanges("a: 1\n", '1: a\n"1": b\n')).toHaveLength(3);
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
