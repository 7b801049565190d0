import { comparePaths } from "../diff/order";

/** A line of files that are shown as a tree. */
export type Branch<F> =
  /** A folder; its name may be several of the path at once, where each has nothing in it but the next. */
  | { kind: "folder"; path: string; name: string; depth: number; files: readonly F[] }
  | { kind: "file"; file: F; depth: number };

/**
 * Files as a tree, one line for each folder and file, folders before what is in them. Within a folder its files come first and then
 * the folders in it, by name, numbers as numbers.
 *
 * @example treeOf([{ path: "a/b/x" }, { path: "a/b/y" }]) // a/b (depth 0), x (depth 1), y (depth 1)
 */
export function treeOf<F extends { path: string }>(files: readonly F[]): Branch<F>[] {
  const sorted = [...files].sort((a, b) => comparePaths(a.path, b.path));
  const result: Branch<F>[] = [];
  /** The files from `from` up to `to` all lie in the folder that is `prefix` characters of their paths. */
  const grow = (from: number, to: number, prefix: number, depth: number) => {
    for (let at = from; at < to; ) {
      const { path } = sorted[at];
      let slash = path.indexOf("/", prefix);
      if (slash < 0) {
        result.push({ kind: "file", file: sorted[at++], depth });
        continue;
      }
      let end = at;
      while (end < to && sorted[end].path.startsWith(path.slice(0, slash + 1))) end++;
      // A folder with nothing in it but one other is named together with that.
      for (let next = path.indexOf("/", slash + 1); next >= 0; next = path.indexOf("/", slash + 1)) {
        const deeper = path.slice(0, next + 1);
        if (!sorted.slice(at, end).every((file) => file.path.startsWith(deeper))) break;
        slash = next;
      }
      const folder = path.slice(0, slash);
      result.push({ kind: "folder", path: folder, name: folder.slice(prefix), depth, files: sorted.slice(at, end) });
      grow(at, end, slash + 1, depth + 1);
      at = end;
    }
  };
  grow(0, sorted.length, 0, 0);
  return result;
}
