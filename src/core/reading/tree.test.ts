import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { treeOf } from "./tree";

describe("files as a tree", () => {
  const part = fc.constantFrom("a", "b", "src", "r9", "r10", "x.ts", "a.b");
  const path = fc.array(part, { minLength: 1, maxLength: 5 }).map((parts) => `${parts.join("/")}~`);

  it("lists each file once, under its folders, each of which is named once before what is in it", () => {
    fc.assert(
      fc.property(fc.uniqueArray(path, { maxLength: 30 }), (paths) => {
        const folders: string[] = [];
        const seen: string[] = [];
        for (const branch of treeOf(paths.map((path) => ({ path })))) {
          if (branch.kind === "folder") {
            folders.push(branch.path);
            expect(branch.files.map(({ path }) => path).sort()).toEqual(
              paths.filter((path) => path.startsWith(`${branch.path}/`)).sort(),
            );
            expect(branch.path.endsWith(branch.name)).toBe(true);
          } else {
            const { path } = branch.file;
            seen.push(path);
            const above = folders.filter((folder) => path.startsWith(`${folder}/`));
            expect(above.length).toBe(branch.depth);
            const folder = path.slice(0, Math.max(0, path.lastIndexOf("/")));
            expect(folder === "" || above.at(-1) === folder).toBe(true);
          }
        }
        expect([...seen].sort()).toEqual([...paths].sort());
        expect(new Set(folders).size).toBe(folders.length);
      }),
    );
  });

  it("names folders that hold nothing but the next together, and counts numbers as numbers", () => {
    const files = ["src/deep/r10.ts", "src/deep/r9.ts", "src/deep/r09.ts", "top.md"].map((path) => ({ path }));
    expect(treeOf(files).map((b) => `${b.depth} ${b.kind === "folder" ? b.name : b.file.path}`)).toEqual([
      "0 top.md",
      "0 src/deep",
      "1 src/deep/r09.ts",
      "1 src/deep/r9.ts",
      "1 src/deep/r10.ts",
    ]);
  });
});
