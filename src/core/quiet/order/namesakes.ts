import { childrenOf } from "../../grammar/children";
import { lineAt, type Syntax } from "../../grammar/syntax";
import { addTo } from "../../plain/grouped";
import { type MovedSide, movedWhole } from "./definition-order";
import { givenBy } from "./given-names";
import { nameOfMember } from "./members";

/**
 * Tells of definitions that went elsewhere whether another of their name is there, or was beside them where they come from. Of two of one name one
 * counts: so a check that only seems to have moved may be none there, or another may take its place where it was.
 */
export class Namesakes {
  private readonly known = new WeakMap<Syntax, Map<number, Map<string, number[]>>>();

  /** Asks it of the definition that a moved line lies in. */
  has(syntax: Syntax, line: number, { lines, all }: MovedSide): boolean {
    const { order } = syntax.language;
    // Where there is one of a name, or several are told apart, nothing takes the place of another.
    if (order === "always" || order === "declared") return false;
    const node = movedWhole(syntax, line, lines);
    const name = node < 0 ? null : nameOfMember(syntax, node);
    if (name === null) return false;
    const named = this.namedIn(syntax, Math.max(0, syntax.parent[node])).get(name) ?? [];
    return named.some((other) => other !== node && !all.has(lineAt(syntax, syntax.start[other])));
  }

  /** The members of a holder by the words that they may give a name to. What lies apart from what changed is not taken apart: its first words are told. */
  private namedIn(syntax: Syntax, holder: number): Map<string, number[]> {
    const holders = this.known.get(syntax) ?? new Map<number, Map<string, number[]>>();
    this.known.set(syntax, holders);
    let named = holders.get(holder);
    if (!named) {
      named = new Map();
      for (const member of childrenOf(syntax, holder))
        for (const word of givenBy(syntax, member)) addTo(named, word, member);
      holders.set(holder, named);
    }
    return named;
  }
}
