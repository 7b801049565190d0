import { indentOf } from "../../../diff/scopes";
import { LANGUAGES } from "../../../grammar/languages";
import { blockEnds, commentsIn } from "./blocks";
import { statesByLook } from "./states";

/** A statement that leaves its block, a function or the program, as it begins a line; by words that may be names, too, where it looks like one. */
const LEAVES =
  /^[ \t]*(?:(?:do[ \t]+return|return|(?:re)?throw|raise|goto|break|continue)\b(?![ \t]*(?:[=:.,)[|]|->))|(?:exit|die|croak|finish|unreachable|fatalError|preconditionFailure|exitProcess|quit|(?:os|sys|process)\.exit|@?panic|revert|TODO)(?:\(|[ \t]*(?:;|\r?$)|[ \t]+(?:\/b\b|[-\d"'$])))/;
/** Languages in which a condition may stand behind what is done, and where it does. */
const MODIFIED = /\.(?:p[lm]|t|rb|rake|erb|cr|coffee|bats|ex|exs)$/i;
const MODIFIER = /[ \t](?:if|unless|when|while|until|for|and|or)\b/;
/** What is done in its order, and no grammar reads. */
const PROGRAMS =
  /\.(?:kts?|swift|scala|sc|sbt|dart|groovy|gradle|lua|luau|p[lm]|t|r|jl|zig|nim|exs?|vim|tcl|awk|gd|sol|cr|coffee|hx|cu|glsl|wgsl|hlsl|metal|mm?|fish|d|vala|bat|cmd)$/i;
/** What something may lead to all the same: another way, a case, a label, a definition; and what ends a block. */
const REACHED =
  /^[ \t]*(?:[\])};]|(?::|@)?\w+:(?:[ \t\r]|$)|:\w|(?:else|elif|elsif|elseif|end\w*|fi|done|esac|case|default|when|rescue|ensure|except|finally|catch|in|loop|until|while|label|(?:export|pub|public|private|protected|internal|static|async|local|override|inline|suspend|abstract|final|open)\b.*|function|func|fun|fn|def|defp?|sub|proc|class|struct|enum|trait|interface|object|module|impl|extension|protocol|type|namespace|BEGIN|END)\b)/;
/** A line behind which a single statement may stand that belongs to it. */
const HEADS = /\)[ \t]*\r?$|^[ \t]*(?:\}[ \t]*)?(?:else|do|try)[ \t]*\r?$/;
/** A comment where the format is not known by its signs, and the condition of a preprocessor, which parts what it stands between. */
const COMMENT = /^[ \t]*(?:\/[/*]|\*|#)/;
const CONDITION = /^[ \t]*#[ \t]*(?:if|el|endif)/;
/** A line that decides whether the next one is done. */
const JOINS = /(?:\|\||&&|[\\|?]|\?:)[ \t]*\r?$/;
/** A line that goes on with the one above it at the same depth. */
const CONTINUES = /^[ \t]*(?:[)\]}.?&|+]|:[ \t])/;
/** A line that goes on in the next one at the same depth. */
const GOES_ON = /(?:[,(=+*&|?<-]|\b(?:and|or|not))[ \t]*\r?$/;

/** What may leave a block in a program that no grammar reads, also where it names itself another one than it is; null of what is none. */
export function mayLeaveByLook(path: string): ((line: string) => boolean) | null {
  const isProgram = PROGRAMS.test(path) || LANGUAGES.some(({ blocks, paths }) => blocks && paths.test(path));
  return isProgram ? (line) => LEAVES.test(line) : null;
}

/**
 * Of each line of a program, whether it stands behind what leaves its block, by the look of the lines: how deep they stand, and how they begin. Of comments, texts and empty lines it is
 * not known: null.
 *
 * @example deadByLook("a.kt", ["fun f() {", "  return", "  go()", "}"]) // [false, false, true, false]
 */
export function deadByLook(path: string, lines: readonly string[]): (boolean | null)[] {
  const states = statesByLook(path, lines);
  const [isModified, isWords] = [MODIFIED.test(path), blockEnds(path)?.words !== undefined];
  const reader = new DeadReader(
    (line) => LEAVES.test(line) && !(isModified && MODIFIER.test(line)),
    (above) => !isWords && HEADS.test(above),
  );
  const comment = commentsIn(path) ?? COMMENT;
  return lines.map((line, at) => {
    if (CONDITION.test(line)) reader.reset();
    return line.trim() === "" || comment.test(line) || (states && states[at] !== "code")
      ? null
      : reader.read(line, indentOf(line));
  });
}

/** Goes through the lines of a program that say something. */
class DeadReader {
  /** How deep what is not reached stands. */
  #dead = Number.POSITIVE_INFINITY;
  /** Whether what leaves goes on yet. */
  #goesOn = false;
  #above = "";
  #indent = -1;

  constructor(
    private readonly leaves: (line: string) => boolean,
    private readonly isHeadOfOne: (line: string) => boolean,
  ) {}

  /** What stands above leads to nothing below any more. */
  reset(): void {
    this.#dead = Number.POSITIVE_INFINITY;
    this.#goesOn = false;
  }

  /** Whether a line is not reached. */
  read(line: string, indent: number): boolean {
    this.#goesOn &&=
      indent > this.#dead || (indent === this.#dead && (GOES_ON.test(this.#above) || CONTINUES.test(line)));
    if (!this.#goesOn && (indent < this.#dead || (indent === this.#dead && REACHED.test(line))))
      this.#dead = Number.POSITIVE_INFINITY;
    const isDead = !this.#goesOn && this.#dead < Number.POSITIVE_INFINITY;
    const isOneOf = JOINS.test(this.#above) || (this.#indent < indent && this.isHeadOfOne(this.#above));
    if (this.#dead === Number.POSITIVE_INFINITY && !isOneOf && this.leaves(line)) {
      this.#dead = indent;
      this.#goesOn = true;
    }
    [this.#above, this.#indent] = [line, indent];
    return isDead;
  }
}
