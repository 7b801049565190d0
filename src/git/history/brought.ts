import { isObjectId } from "@/core/diff/tree";
import { git } from "../run";

/** So far back commits are looked at, from the newest on. */
const MOST = 20_000;

/** A commit of a history with its parents, and the change sets that its message names. */
interface Told {
  id: string;
  parents: string[];
  numbers: number[];
}

/** What might have brought a commit: itself where its message names a change set, or the first merge that does and brought it. */
export interface Brought {
  by: string;
  numbers: number[];
}

/**
 * For each of some commits of the history of `to`, what may have brought it: by what messages say alone, so it has to be held against what is
 * known. One walk over the history, the oldest merge first: what a merge brought is what its other parents lead to and its first does not.
 */
export async function broughtTo(
  folder: string,
  commits: ReadonlySet<string>,
  to: string,
  signal?: AbortSignal,
): Promise<Map<string, Brought[]>> {
  const result = new Map<string, Brought[]>();
  if (!isObjectId(to) || commits.size === 0) return result;
  const history = await historyOf(folder, to, signal);
  const byId = new Map(history.map((one) => [one.id, one]));
  const seen = new Set<string>();
  /** Looks at everything that was not seen and that a commit leads to. */
  const walk = (from: readonly string[], note: (one: Told) => void) => {
    const waiting = [...from];
    for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
      const one = byId.get(id);
      if (!one || seen.has(id)) continue;
      seen.add(id);
      note(one);
      waiting.push(...one.parents);
    }
  };
  // Oldest first: the history lists children before parents.
  for (const merge of [...history].reverse()) {
    const [first, ...others] = merge.parents;
    if (others.length === 0 || merge.numbers.length === 0) continue;
    walk([first], () => undefined);
    walk(others, ({ id }) => commits.has(id) && result.set(id, [{ by: merge.id, numbers: merge.numbers }]));
  }
  for (const id of commits) {
    const own = byId.get(id)?.numbers ?? [];
    if (own.length > 0) result.set(id, [{ by: id, numbers: own }, ...(result.get(id) ?? [])]);
  }
  return result;
}

async function historyOf(folder: string, to: string, signal?: AbortSignal): Promise<Told[]> {
  const format = "%H%x01%P%x01%(trailers:key=Change-Set,valueonly,separator=%x2C)";
  const args = ["log", "-z", "--topo-order", `--max-count=${MOST}`, `--format=${format}`, to];
  const { code, stdout } = await git(folder, args, { answers: [128], signal });
  if (code !== 0) return [];
  return stdout
    .toString("utf8")
    .split("\0")
    .flatMap((entry) => {
      const [id, parents = "", numbers = ""] = entry.trim().split("\x01");
      return id ? [{ id, parents: parents.split(" ").filter(Boolean), numbers: numbersIn(numbers) }] : [];
    });
}

/** So many change sets may one message name. */
const MOST_NAMED = 20;

function numbersIn(text: string): number[] {
  return text
    .slice(0, 1_000)
    .split(",", MOST_NAMED)
    .map((one) => Number(one.trim()))
    .filter((number) => Number.isSafeInteger(number) && number > 0);
}
