import { ODD } from "../cautions/characters";
import { skeleton } from "../cautions/confusable";
import { visible, visibleWords } from "../cautions/visible";
import { groupedBy } from "../plain/grouped";

/** What is known where a ref is to be made. */
export interface KnownNames {
  branches: readonly string[];
  tags: readonly string[];
}

/**
 * Why no branch or tag may be made under some names, in a sentence for each that may not. Names are refused that git or a person would take for
 * something else: `HEAD`, a full ref, an id, an option, another kind of ref of the same name, or signs that cannot be seen. There can be thousands of
 * either: what is known is gone through once.
 *
 * @param refs in full: `refs/heads/…` or `refs/tags/…`
 * @example wrongRefNames(["refs/heads/-x"], { branches: [], tags: [] }) // ["-x: a branch of this name would be taken for an option."]
 */
export function wrongRefNames(refs: readonly string[], { branches, tags }: KnownNames): string[] {
  let looks: Map<string, string[]> | null = null;
  const known: Known = {
    branches: new Set(branches),
    tags: new Set(tags),
    twinOf: (name) => {
      looks ??= groupedBy(branches, skeleton);
      return looks.get(skeleton(name))?.find((other) => other !== name);
    },
  };
  return refs.flatMap((ref) => wrongRefName(ref, known) ?? []);
}

interface Known {
  branches: ReadonlySet<string>;
  tags: ReadonlySet<string>;
  /** Another branch that looks like one of this name. */
  twinOf: (name: string) => string | undefined;
}

function wrongRefName(ref: string, { branches, tags, twinOf }: Known): string | null {
  const [, kind, name] = /^refs\/(heads|tags)\/(.+)$/s.exec(ref) ?? [];
  if (!kind) return `${visible(ref)}: only branches and tags can be pushed here.`;
  const what = kind === "heads" ? "branch" : "tag";
  const no = (why: string) => `${visible(name)}: a ${what} of this name ${why}.`;
  if (name === "HEAD" || /^(?:FETCH_|ORIG_|MERGE_)HEAD$/.test(name)) return no("would be taken for git’s own");
  if (/^(?:refs|heads|tags|remotes)\//.test(name)) return no("would be taken for another ref");
  if (/^[0-9a-f]{40}(?:[0-9a-f]{24})?$/.test(name)) return no("would be taken for a commit");
  if (name.startsWith("-")) return no("would be taken for an option");
  if (ODD.test(name)) return no("holds signs that cannot be seen");
  if (kind === "tags" && branches.has(name)) return no("would stand before the branch of that name");
  if (kind === "heads" && tags.has(name)) return no("would stand behind the tag of that name");
  const twin = /[^\x00-\x7f]/.test(name) ? twinOf(name) : undefined;
  if (twin !== undefined) return no(`would be taken for ${twin}`);
  return null;
}

/** The first of some names of branches that would be read as another one, with what does not show in it written out; null where there is none. */
export function hidingName(...names: readonly string[]): string | null {
  const name = names.find((one) => visibleWords(one) !== one);
  return name === undefined ? null : visibleWords(name);
}
