import type { Hunk } from "../../diff/hunk";
import { goesOnIn } from "./likeness";
import { IN_SIGHT } from "./runs";

/** Two states of a text. */
interface Texts {
  old: readonly string[];
  next: readonly string[];
}

/**
 * Whether a hunk begins or ends more blocks than what stood there, or others, by the brackets on its lines. Cheap: nothing is parsed for it.
 *
 * @param words what ends blocks instead, where words do
 */
export function opensOrEnds(file: Texts, hunk: Hunk, words?: RegExp): boolean {
  const { oldStart, oldEnd, newStart, newEnd } = hunk;
  const [was, is] = [openedBy(file.old, oldStart, oldEnd, words), openedBy(file.next, newStart, newEnd, words)];
  if (was.open !== is.open || was.lowest !== is.lowest) return true;
  return is.all > was.all && (is.open > is.lowest + 1 || (is.open > is.lowest && mayGoOn(file, hunk)));
}

/** Whether the line that opens the one block that stays open behind a hunk, and for longer than is in sight, may have gone on in another one of it. */
function mayGoOn({ old, next }: Texts, { oldStart, oldEnd, newStart, newEnd }: Hunk): boolean {
  if (openedBy(next, newEnd, newEnd + IN_SIGHT + 1).lowest < 0) return false;
  const [was, is] = [openBehind(old, oldStart, oldEnd), openBehind(next, newStart, newEnd)];
  const others: string[] = [];
  for (let line = newStart; line < newEnd; line++) if (line !== is && next[line].includes("{")) others.push(next[line]);
  return !isWholeHead(old[was]) || !isWholeHead(next[is]) || goesOnIn(old[was], next[is], others);
}

/** Whether what a line opens begins on it, by its look: it is no bracket alone, and closes none of a line above. */
function isWholeHead(line: string): boolean {
  return !/^[ \t]*\{/.test(line) && line.split("(").length >= line.split(")").length;
}

/** The last of some lines that opens a bracket which they do not close. */
function openBehind(lines: readonly string[], from: number, to: number): number {
  let closed = 0;
  for (let line = to - 1; line > from; line--) {
    const text = lines[line];
    for (let at = text.length - 1; at >= 0; at--) {
      if (text[at] === "}") closed++;
      else if (text[at] === "{" && closed-- === 0) return line;
    }
  }
  return from;
}

/** How many brackets some lines open, and how many more than they close, and how many blocks around them they end at the most, below nothing; where words end blocks, how many of those there are. */
function openedBy(
  lines: readonly string[],
  from: number,
  to: number,
  words?: RegExp,
): { all: number; open: number; lowest: number } {
  let all = 0;
  let open = 0;
  let lowest = 0;
  for (let line = from; line < Math.min(to, lines.length); line++) {
    if (words) {
      open += lines[line].match(words)?.length ?? 0;
      continue;
    }
    const text = lines[line];
    let [opens, closes] = [text.indexOf("{"), text.indexOf("}")];
    while (opens >= 0 || closes >= 0) {
      if (closes < 0 || (opens >= 0 && opens < closes)) {
        all++;
        open++;
        opens = text.indexOf("{", opens + 1);
      } else {
        lowest = Math.min(lowest, --open);
        closes = text.indexOf("}", closes + 1);
      }
    }
  }
  return { all, open, lowest };
}
