import fc from "fast-check";
import { expect, it } from "vitest";
import { hasKeyTwice, type NotebookPart, notebookParts } from "./notebook";

const code = (source: string | string[], id?: string, outputs: unknown[] = []) => ({
  ...{ cell_type: "code", source, outputs, metadata: {}, execution_count: 1 },
  ...(id ? { id } : {}),
});
const book = (...cells: unknown[]) => JSON.stringify({ cells, metadata: {}, nbformat: 4, nbformat_minor: 5 });

function parts(old: string, next: string): NotebookPart[] {
  const result = notebookParts(old, next);
  if (typeof result === "string") throw new Error(result);
  return result;
}
const told = (old: string, next: string) =>
  parts(old, next).map((part) =>
    part.mark === "same"
      ? `same ${part.count}`
      : part.mark === "about"
        ? `about ${part.keys}`
        : `${part.mark} ${part.before?.lines.join("|") ?? ""}>${part.after?.lines.join("|") ?? ""}`,
  );

it("tells cell by cell what came, went and changed, wherever it stands now", () => {
  const old = book(code("a = 1", "1"), code(["b\n", "c"], "2"), code("gone", "3"));
  const next = book(code("first", "0"), code("a = 1", "1"), code("b\nd", "2"));
  expect(told(old, next)).toEqual(["added >first", "same 1", "removed gone>", "changed b|c>b|d"]);
  // Without ids by their places.
  expect(told(book(code("a"), code("b")), book(code("a"), code("c")))).toEqual(["same 1", "changed b>c"]);
  expect(told("", book(code("a")))).toEqual(["added >a"]);
});

it("draws text and images of outputs, and says of the rest that it is not drawn", () => {
  const outputs = [
    { output_type: "stream", name: "stdout", text: ["one\n", "two"] },
    { output_type: "display_data", data: { "image/png": "aGFyYm91cg==\n", "text/html": "<script>x()</script>" } },
    { output_type: "display_data", data: { "image/svg+xml": "<svg/>", "image/jpeg": "javascript:x()" } },
    { output_type: "error", ename: "Tide", evalue: "too low", traceback: [] },
  ];
  const [part] = parts(book(), book(code("a", "1", outputs)));
  expect(part.mark === "added" && part.after?.outputs).toEqual([
    { kind: "text", text: "one\ntwo" },
    { kind: "image", source: "data:image/png;base64,aGFyYm91cg==" },
    { kind: "untold", type: "text/html", length: 20 },
    { kind: "untold", type: "image/svg+xml", length: 6 },
    { kind: "untold", type: "image/jpeg", length: 14 },
    { kind: "text", text: "Tide: too low" },
  ]);
});

it("takes no cell for the same of which anything differs but the number of its run, drawn or not", () => {
  const html = (text: string) => [{ output_type: "display_data", data: { "text/html": text } }];
  const cell = { ...code("a", "1", html("<b>1</b>")), metadata: { tags: ["x"] } };
  const of = (other: object) => told(book(cell), book({ ...cell, ...other }));
  expect(of({ execution_count: 9, metadata: { tags: ["x"] } })).toEqual(["same 1"]);
  expect(of({ outputs: html("<b>2</b>") })).toEqual(["changed a>a"]);
  expect(of({ metadata: { tags: ["skip"] } })).toEqual(["changed a>a"]);
  expect(of({ attachments: { "a.png": {} } })).toEqual(["changed a>a"]);
  expect(of({ constructor: 1 })).toEqual(["changed a>a"]);
  expect(of({ execution_count: { hidden: 1 } })).toEqual(["changed a>a"]);
  const [part] = parts(book(), book(code("a", "1", [{ ...html("<p>")[0], ename: "E" }])));
  expect(part.mark === "added" && part.after?.outputs).toEqual([
    { kind: "text", text: "E: " },
    { kind: "untold", type: "text/html", length: 3 },
  ]);
});

it("tells that what the notebook says of itself is changed, such as the language that it is run in", () => {
  const kernel = (language: string) =>
    JSON.stringify({ cells: [code("ls")], metadata: { kernelspec: { language } }, nbformat: 4 });
  expect(told(kernel("python"), kernel("bash"))).toEqual(["about metadata", "same 1"]);
  expect(told(kernel("python"), kernel("python"))).toEqual(["same 1"]);
  // Also without a cell, and under names that programs have a meaning for.
  expect(told('{"cells": [], "metadata": {"a": 1}}', '{"cells": [], "metadata": {"a": 2}}')).toEqual([
    "about metadata",
  ]);
  expect(told('{"cells": []}', '{"cells": [], "__proto__": 1, "constructor": 2}')).toEqual([
    "about __proto__,constructor",
  ]);
  expect(told("", kernel("bash"))).toEqual(["added >ls"]);
});

it("refuses what is no notebook, and what would hide something", () => {
  expect(notebookParts("{", book())).toMatch(/cannot be read/);
  expect(notebookParts("[]", book())).toMatch(/no notebook/);
  expect(notebookParts('{"cells": [], "\\u0063ells": []}', book())).toMatch(/key stands twice/);
  expect(hasKeyTwice('{"a": {"a": 1}, "b": [{"a": 1}, {"a": "{\\"a\\": "}]}')).toBe(false);
});

it("finds a key that stands twice, and none that does not, in any JSON", () => {
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 4 }), (value) => {
      const text = JSON.stringify(value);
      expect(hasKeyTwice(text)).toBe(false);
      expect(hasKeyTwice(`{"x": ${text}, "y": 1, "x": 2}`)).toBe(true);
    }),
  );
});
