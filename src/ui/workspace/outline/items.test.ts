import { expect, it } from "vitest";
import { file } from "../../testing/change";
import { type Item, orderItems, treeItems } from "./items";

const words = (items: Item[]) =>
  items.map((item) => {
    if (item.kind === "head") return item.label;
    if (item.kind === "folder") return `${item.open ? "▾" : "▸"} ${item.name} ${item.left}`;
    return item.kind === "file" ? item.file.path : item.kind;
  });
const files = [
  file("src/deep/r10.ts", { toRead: 4 }),
  file("src/deep/r9.ts", { toRead: 3, read: "read" }),
  file("src/a.ts", { toRead: 0 }),
  file("top.md", { toRead: 2 }),
];

it("lists files as they are best read: left, quiet, read", () => {
  expect(words(orderItems(files))).toEqual([
    ...["To read · 2", "src/deep/r10.ts", "top.md", "Quiet · 1", "src/a.ts", "Read · 1", "src/deep/r9.ts"],
  ]);
  expect(words(orderItems([]))).toEqual(["To read · 0", "say"]);
});

it("lists files by folder, and hides what a closed one holds, but for the file that is open", () => {
  expect(words(treeItems(files, new Set(), null))).toEqual([
    ...["Files · 4", "top.md", "▾ src 4", "src/a.ts", "▾ deep 4", "src/deep/r9.ts", "src/deep/r10.ts"],
  ]);
  const closed = new Set(["src"]);
  expect(words(treeItems(files, closed, null))).toEqual(["Files · 4", "top.md", "▸ src 4"]);
  expect(words(treeItems(files, closed, "src/deep/r9.ts"))).toEqual([
    ...["Files · 4", "top.md", "▸ src 4", "src/deep/r9.ts"],
  ]);
});
