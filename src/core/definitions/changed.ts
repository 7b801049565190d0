import { groupedBy } from "../plain/grouped";
import type { Definition, DefinitionKind } from "./definition";

/** A definition that others can depend on and that a change makes another one. Lines are 0-based. */
export interface ChangedDefinition {
  name: string;
  kind: DefinitionKind;
  within: string[];
  /** The file and line in which it stands now; of one that went, where it stood. */
  path: string;
  line: number;
  what: "added" | "changed" | "removed";
  /** What it was and is to others; "" where it was not, or is no more. */
  before: string;
  after: string;
}

/** What one file defines in both states. */
export interface DefinedIn {
  path: string;
  oldPath: string;
  old: readonly Definition[];
  next: readonly Definition[];
}

const COUNTED: ReadonlySet<DefinitionKind> = new Set(["function", "type", "constant", "field"]);

/**
 * Definitions that came, went, or are another one to whoever uses them: another name, other parameters, another type or value. One that stands in
 * another file now, as it was, did not change. What is known within a function alone is left out.
 *
 * @example `hold(slot)` that became `hold(slot, until)` is changed; with another body only, it is not
 */
export function changedDefinitions(files: readonly DefinedIn[]): ChangedDefinition[] {
  const result: ChangedDefinition[] = [];
  const gone: ChangedDefinition[] = [];
  const come: ChangedDefinition[] = [];
  for (const { path, oldPath, old, next } of files) {
    const before = byName(old);
    const after = byName(next);
    for (const [key, definition] of after) {
      const was = before.get(key);
      if (!was) come.push(changed(definition, path, "added"));
      else if (was.signature !== definition.signature)
        result.push({ ...changed(definition, path, "changed"), before: was.signature });
    }
    for (const [key, definition] of before) if (!after.has(key)) gone.push(changed(definition, oldPath, "removed"));
  }
  // What went in one file and came in another was moved: the first that went, so it is the last of its list.
  const waiting = groupedBy(gone.reverse(), keyOf);
  for (const one of come) {
    const was = waiting.get(keyOf(one))?.pop();
    if (!was) result.push(one);
    else if (was.before !== one.after) result.push({ ...one, what: "changed", before: was.before });
  }
  return [...result, ...[...waiting.values()].flat().reverse()];
}

/** Definitions that others can use, by their names and what they lie in; several of one name each by which of them it is. */
function byName(definitions: readonly Definition[]): Map<string, Definition> {
  const result = new Map<string, Definition>();
  const times = new Map<string, number>();
  for (const definition of definitions) {
    if (definition.scope !== null || !COUNTED.has(definition.kind)) continue;
    const key = keyOf(definition);
    const before = times.get(key) ?? 0;
    times.set(key, before + 1);
    result.set(`${key}\0${before}`, definition);
  }
  return result;
}

function keyOf({ name, within }: { name: string; within: readonly string[] }): string {
  return [...within, name].join("\0");
}

function changed(
  { name, kind, within, line, signature }: Definition,
  path: string,
  what: "added" | "changed" | "removed",
): ChangedDefinition {
  const [before, after] = what === "removed" ? [signature, ""] : ["", signature];
  return { name, kind, within, path, line, what, before, after };
}
