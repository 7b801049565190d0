import type { FileChange } from "@/core/diff/tree";
import { pathOf } from "./paths";

/** What stands between NULs; a last one that is empty is left out. */
export function splitAtNul(bytes: Buffer): Buffer[] {
  const fields: Buffer[] = [];
  for (let at = 0; at < bytes.length; ) {
    const end = bytes.indexOf(0, at);
    const stop = end < 0 ? bytes.length : end;
    fields.push(bytes.subarray(at, stop));
    at = stop + 1;
  }
  return fields;
}

/** One entry of git's raw format: modes and ids, and the path they are about. */
export function readChange(meta: string, path: Buffer): FileChange {
  const [oldMode, newMode, oldId, newId] = meta.slice(1).split(" ");
  const change = { oldMode: Number.parseInt(oldMode, 8), newMode: Number.parseInt(newMode, 8) };
  return {
    ...pathOf(path),
    oldId: change.oldMode === 0 ? null : oldId,
    newId: change.newMode === 0 ? null : newId,
    ...change,
  };
}
