import { type Hunk, hunkAt } from "../../diff/hunk";
import { COMMENT, isKind, type Syntax, tokenAfter } from "../../grammar/syntax";
import type { ClassedFile } from "../classes";
import type { Lines } from "../stretch";

type Side = "old" | "new";

/** How code begins that may go on with what stands above it, and words that may take what stands below them. */
const GOES_ON = /^[([`+\-/<*.?&|,=%^]/;
const TAKES =
  /^(?:abstract|accessor|async|await|declare|get|let|override|private|protected|public|readonly|set|static|type|yield)$/;

/**
 * Whether what stands above and below code that went, or came, is what it is without it: in JavaScript a call that no semicolon ends and a bracket on the
 * next line of code are two statements only as long as something stands between them.
 */
export class Seams {
  private readonly told = new Map<Hunk, boolean>();

  constructor(private readonly file: ClassedFile) {}

  /** Of a changed line, 0-based, of one side; true where nothing stands on one end, and where other code stands in its place. */
  hold(side: Side, line: number): boolean {
    const hunk = hunkAt(this.file.hunks, side, line);
    let holds = this.told.get(hunk);
    if (holds === undefined) {
      holds = this.tell(side, hunk);
      this.told.set(hunk, holds);
    }
    return holds;
  }

  private tell(side: Side, hunk: Hunk): boolean {
    const syntaxes = this.file.syntaxes();
    if (!syntaxes) return true;
    const [old, next] = [
      { syntax: syntaxes.old, lines: { start: hunk.oldStart, end: hunk.oldEnd } },
      { syntax: syntaxes.next, lines: { start: hunk.newStart, end: hunk.newEnd } },
    ];
    const [filled, empty] = side === "old" ? [old, next] : [next, old];
    const around = neighbours(filled.syntax, filled.lines);
    const closed = neighbours(empty.syntax, empty.lines);
    if (!around.inner || closed.inner || !bothThere(around) || !bothThere(closed)) return true;
    const [first, last] = around.inner;
    const text = (node: number) => empty.syntax.text.slice(empty.syntax.start[node], empty.syntax.end[node]);
    if (text(closed.above) === ";") return true;
    if (!GOES_ON.test(text(closed.below)) && !TAKES.test(text(closed.above))) return true;
    return (
      standsAlike(filled.syntax, around.above, first, empty.syntax, closed.above, closed.below) &&
      standsAlike(filled.syntax, around.below, last, empty.syntax, closed.below, closed.above)
    );
  }
}

/** Tokens that are no comments, as nodes: the last above some lines, the first below them, and the first and last in them; -1 and null for none. */
interface Neighbours {
  above: number;
  below: number;
  inner: [first: number, last: number] | null;
}

function neighbours(syntax: Syntax, { start, end }: Lines): Neighbours {
  const { tokens, lines } = syntax;
  const isCode = (token: number) => !isKind(syntax, tokens[token], COMMENT);
  let above = tokenAfter(syntax, lines[start]) - 1;
  while (above >= 0 && !isCode(above)) above--;
  let first = above + 1;
  while (first < tokens.length && !isCode(first)) first++;
  let below = first;
  let last = -1;
  for (; below < tokens.length && syntax.start[tokens[below]] < lines[end]; below++) if (isCode(below)) last = below;
  while (below < tokens.length && !isCode(below)) below++;
  return {
    above: tokens[above] ?? -1,
    below: tokens[below] ?? -1,
    inner: last < 0 ? null : [tokens[first], tokens[last]],
  };
}

function bothThere({ above, below }: Neighbours): boolean {
  return above >= 0 && below >= 0;
}

/** Whether the outermost node that a token belongs to and its neighbour does not is of the same kind beside another neighbour, and apart from that, too. */
function standsAlike(
  before: Syntax,
  token: number,
  neighbour: number,
  after: Syntax,
  same: number,
  other: number,
): boolean {
  let [was, is] = [token, same];
  while (!holds(before, before.parent[was], neighbour)) [was, is] = [before.parent[was], after.parent[is] ?? -1];
  return is >= 0 && before.type[was] === after.type[is] && !holds(after, is, other);
}

function holds({ start, end }: Syntax, node: number, other: number): boolean {
  return node < 0 || (start[node] <= start[other] && end[other] <= end[node]);
}
