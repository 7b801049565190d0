import type { Caution } from "../cautions/caution";
import { cautionsInText } from "../cautions/cautions";
import type { Comparison } from "../diff/compare";
import { namedIn } from "../diff/order";

/** What a file says by itself, whatever else changed: it can be found out on any thread. */
export interface Survey {
  /** The other files that it names, see {@link namedIn}. */
  names: string[];
  /** What the eye does not see in what was added to it. */
  cautions: Caution[];
}

/** Surveys one file, given its two states and how they differ; null for what could not be compared. */
export function surveyOf(
  path: string,
  old: readonly string[],
  next: readonly string[],
  comparison: Comparison | null,
): Survey {
  const names = namedIn(path, next.length > 0 ? next : old);
  if (!comparison) return { names, cautions: [] };
  return { names, cautions: cautionsInText({ path, old, next, ...comparison }) };
}
