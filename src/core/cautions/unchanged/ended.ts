import type { Hunk } from "../../diff/hunk";
import { indentOf } from "../../diff/scopes";
import type { Syntax } from "../../grammar/syntax";
import { counted } from "../../plain/words";
import { mayAlwaysHold } from "../../quiet/constant";
import { standingOn } from "../../quiet/places";
import { Reach } from "../../quiet/reached";
import type { Caution } from "../caution";
import { deadByLook, mayLeaveByLook } from "./by-look/dead";
import { lookedAs } from "./by-look/named";
import { longRuns, saidOfRuns } from "./runs";
import type { Still } from "./still";

/** What leaves a block, a function or a program. */
const LEAVES =
  /(?:^[ \t]*\{|^|[;}])[ \t]*(?:return|throw|raise|break|continue|goto|exit|exec|die|__halt_compiler|abort|quit|fail|_exit|longjmp|panic|unreachable|todo|unimplemented|(?:(?:std::)?process(?:\.|::)|sys\.|os\._?|(?:System\.)?Environment\.|System\.)(?:exit|abort|FailFast)|log\.(?:fatal|panic)\w*|std::(?:terminate|abort|_?exit))\b/i;
/** Where one way out of two begins, and a way out. */
const OTHERWISE = /\b(?:else|elif|elsif|elseif|catch|except|finally)\b/i;
const WAY_OUT = /\b(?:return|throw|raise|exit|die|break|continue|goto|panic)\b/;
/** What ends the block of the line above, or begins another part of it. */
const ENDS =
  /^[ \t]*(?:[\])};]|(?:else|elif|elsif|elseif|end|fi|done|esac|case|default|when|rescue|ensure|except|finally|catch|in|while)\b)/;
/** A line behind which a single statement may be indented. */
const OPENS = /(?:[{(:>]|\b(?:else|do|then))[ \t]*\r?$|^[ \t]*(?:(?:if|for|while|else|switch|case|unless)\b|[}] *else)/;
const COMMENT = /^[ \t]*(?:\/\/|#|\/?\*)/;

/** What is said of lines by whether they are reached now. */
const SAYS = {
  gone: "where nothing is reached any more: what changed above them ends before",
  back: "where they are reached now, and were not: read them as new ones",
};

/**
 * Where lines that did not change are never reached any more, since something above them returns, throws or ends the program now; or are reached again.
 *
 * @example // "exit 0" was put above twelve commands of a script
 * // [{ kind: "switched", says: "12 unchanged lines stand where nothing is reached any more: what changed above them ends before.", line: 3 }]
 */
export function endedLines(file: Still): Caution[] {
  const { language, old, next, hunks } = file;
  const name = lookedAs(file.path, next);
  const mayLeave = language?.blocks ? null : mayLeaveByLook(name);
  if (!language?.blocks && !mayLeave) return [];
  const runs = longRuns(file);
  const looked = { at: 0 };
  const mayEnd = ({ oldStart, oldEnd, newStart, newEnd }: Hunk) =>
    leavesBefore(next, newStart, newEnd, mayLeave, looked) ||
    leavesBefore(old, oldStart, oldEnd, mayLeave, looked) ||
    branchesIn(next, newStart, newEnd) !== branchesIn(old, oldStart, oldEnd);
  if (runs.length === 0 || !hunks.some(mayEnd)) return [];
  const tell = ({ was, is }: { was: IsDead; is: IsDead }) =>
    saidOfRuns(
      runs,
      (before, after) => {
        const [wasDead, isDead] = [was(before), is(after)];
        return wasDead === isDead || wasDead === null || isDead === null ? null : isDead ? SAYS.gone : SAYS.back;
      },
      (count) => `in ${counted(count, "other place")}`,
    );
  const read = file.syntaxes();
  if (!read) {
    const [was, is] = [deadByLook(name, old), deadByLook(name, next)];
    return tell({ was: (line) => was[line], is: (line) => is[line] });
  }
  const told = tell(deadIn(read));
  const whole = told.length > 0 ? file.detailed() : null;
  return whole ? tell(deadIn(whole)) : told;
}

/** Whether a line is never reached, 0-based; null of one without code. */
type IsDead = (line: number) => boolean | null;

function deadIn({ old, next }: { old: Syntax; next: Syntax }): { was: IsDead; is: IsDead } {
  return { was: deadAt(new Reach(old)), is: deadAt(new Reach(next)) };
}

function deadAt(reach: Reach): IsDead {
  return (line) => {
    const node = standingOn(reach.syntax, line);
    return node === null ? null : reach.isDead(node);
  };
}

/** Whether some lines may leave a block that goes on behind it, by their look. Cheap: nothing is parsed for it. */
function leavesBefore(
  lines: readonly string[],
  from: number,
  to: number,
  mayLeave: ((line: string) => boolean) | null,
  looked: { at: number },
): boolean {
  for (let line = from; line < to; line++) {
    const text = lines[line];
    if (mayLeave?.(text) || mayAlwaysHold(text)) return true;
    if (LEAVES.test(text) && (goesOn(lines, line) || isInOneWay(lines, line, looked))) return true;
  }
  return false;
}

/** How many ways there are in some lines that one may go in place of another; none where none of them leads out. */
function branchesIn(lines: readonly string[], from: number, to: number): number {
  let branches = 0;
  let leads = false;
  for (let line = from; line < to; line++) {
    if (OTHERWISE.test(lines[line])) branches++;
    leads ||= WAY_OUT.test(lines[line]);
  }
  return leads ? branches : 0;
}

/** Whether a line that leaves something stands deeper than what it could end, or has something beside it below. */
function goesOn(lines: readonly string[], line: number): boolean {
  const indent = indentOf(lines[line]);
  const before = nearest(lines, line, -1);
  if (before >= 0 && indentOf(lines[before]) < indent && !OPENS.test(lines[before])) return true;
  // A block by itself is left, and what it stands in with it.
  if (
    before > 0 &&
    /^[ \t]*\{[ \t]*\r?$/.test(lines[before]) &&
    /[;{}][ \t]*\r?$/.test(lines[nearest(lines, before, -1)] ?? "")
  )
    return true;
  let behind = nearest(lines, line, 1);
  const isWhole = /[;}][ \t]*\r?$/.test(lines[line]);
  // What it says may go on there.
  while (
    behind >= 0 &&
    ((!isWhole && indentOf(lines[behind]) > indent) || /^[ \t]*[)\]}]+[;,)]*[ \t]*\r?$/.test(lines[behind])) &&
    behind - line < FURTHEST
  ) {
    if (indentOf(lines[behind]) < indent) return false;
    behind = nearest(lines, behind, 1);
  }
  return behind >= 0 && indentOf(lines[behind]) >= indent && !ENDS.test(lines[behind]);
}

/** Whether a line stands in one way of several that may be gone: then all of them may lead out. So too where too many lines were looked at to tell. */
function isInOneWay(lines: readonly string[], line: number, looked: { at: number }): boolean {
  const indent = indentOf(lines[line]);
  const leave = (step: 1 | -1) => {
    let at = nearest(lines, line, step);
    while (at >= 0 && indentOf(lines[at]) >= indent && looked.at++ < MOST_LOOKED_AT) at = nearest(lines, at, step);
    return at >= 0 && (OTHERWISE.test(lines[at]) || indentOf(lines[at]) >= indent);
  };
  return leave(1) || leave(-1);
}

/** So many lines of one file are gone through for its ways. */
const MOST_LOOKED_AT = 100_000;

/** So many lines may one statement have. */
const FURTHEST = 40;

/** The nearest line in a direction that says something; -1 for none. */
function nearest(lines: readonly string[], line: number, step: 1 | -1): number {
  let at = line + step;
  while (at >= 0 && at < lines.length && (lines[at].trim() === "" || COMMENT.test(lines[at]))) at += step;
  return at >= 0 && at < lines.length ? at : -1;
}
