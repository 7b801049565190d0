import { type Hunk, hunkAt } from "../../diff/hunk";
import { COMMENT, isKind, type Syntax, tokenAfter } from "../../grammar/syntax";
import type { ClassedFile } from "../classes";
import type { Lines } from "../stretch/range";

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

  /** Of a changed line, 0-based, of one side. */
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
    const { file } = this;
    const syntaxes = file.syntaxes();
    // Of a file that came or went nothing stands around it.
    if (!syntaxes) return file.old.length === 0 || file.next.length === 0;
    const [old, next] = [
      { syntax: syntaxes.old, lines: { start: hunk.oldStart, end: hunk.oldEnd } },
      { syntax: syntaxes.next, lines: { start: hunk.newStart, end: hunk.newEnd } },
    ];
    const [filled, other] = side === "old" ? [old, next] : [next, old];
    const was = neighbours(filled.syntax, filled.lines);
    const is = neighbours(other.syntax, other.lines);
    if (!was.inner) return true;
    const [first, last] = was.inner;
    const [below, above] = [is.inner?.[0] ?? is.below, is.inner?.[1] ?? is.above];
    return (
      (!mayJoin(other.syntax, is.above, below) ||
        standsAlike(filled.syntax, was.above, first, other.syntax, is.above, below)) &&
      (!mayJoin(other.syntax, above, is.below) ||
        standsAlike(filled.syntax, was.below, last, other.syntax, is.below, above))
    );
  }
}

/** Whether a token and the next one look as if they could belong together where a line ends between them. */
function mayJoin({ text, start, end }: Syntax, above: number, below: number): boolean {
  if (above < 0 || below < 0) return false;
  const before = text.slice(start[above], end[above]);
  return before !== ";" && (GOES_ON.test(text.slice(start[below], end[below])) || TAKES.test(before));
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

/** Whether the outermost node that a token belongs to and its neighbour does not is of the same kind beside another neighbour, and apart from that, too. */
function standsAlike(
  before: Syntax,
  token: number,
  neighbour: number,
  after: Syntax,
  same: number,
  other: number,
): boolean {
  // At the beginning or end of a text nothing else was there to be joined to.
  if (token < 0) return false;
  let [was, is] = [token, same];
  while (!holds(before, before.parent[was], neighbour)) [was, is] = [before.parent[was], after.parent[is] ?? -1];
  return is >= 0 && before.type[was] === after.type[is] && !holds(after, is, other);
}

function holds({ start, end }: Syntax, node: number, other: number): boolean {
  return node < 0 || (start[node] <= start[other] && end[other] <= end[node]);
}
