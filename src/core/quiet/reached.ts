import { childrenOf } from "../grammar/children";
import type { LanguageId } from "../grammar/languages";
import { COMMENT, isKind, NAME, ofTypes, SMALL, type Syntax, TEXT, typeOf } from "../grammar/syntax";
import { asked } from "./constant";
import { isDefinition } from "./places";

/** Statements behind which nothing of the same block is reached. */
const ENDS = /^(?:(?:return|throw|raise|break|continue|goto|exit)(?:_statement|_expression)?|flow_control_statement)$/;
/** What ends a program, or throws, as a call: by how it begins. */
const EXITS: Partial<Record<LanguageId, RegExp>> = {
  bash: /^(?:(?:exit|return)\b|exec\s+[A-Za-z./"$])/,
  c: /^(?:_?exit|_Exit|abort|longjmp)\(/,
  cpp: /^(?:(?:std::)?(?:_?exit|_Exit|abort|terminate)|longjmp)\(/,
  csharp: /^(?:System\.)?Environment\.(?:Exit|FailFast)\(/,
  go: /^(?:os\.Exit|panic|log\.(?:Fatal|Panic)\w*|runtime\.Goexit)\(/,
  java: /^System\.exit\(/,
  javascript: /^process\.(?:exit|abort)\(/,
  typescript: /^process\.(?:exit|abort)\(/,
  tsx: /^process\.(?:exit|abort)\(/,
  php: /^(?:exit|die|__halt_compiler)\b/i,
  python: /^(?:(?:sys\.|os\._)?exit|quit)\(/,
  ruby: /^(?:exit!?|abort|raise|throw|fail)(?![\w.?=])/,
  rust: /^(?:(?:std::)?process::(?:exit|abort)\(|(?:panic|unreachable|todo|unimplemented)!)/,
};
/** So much of a call is looked at, in UTF-16 units. */
const LONGEST_EXIT = 40;
/** A block by itself: what leaves it leaves the one around it. */
const isPlainBlock = ofTypes((name) => /^(?:statement_block|compound_statement|block|statement_list)$/.test(name));
const isList = ofTypes((name) => name === "statement_list");
/** So many blocks in blocks are looked into. */
const MOST_WITHIN = 50;
/** What takes over where a block is left by an error, or is not gone through. */
const takesOver = ofTypes((name) =>
  /^(?:rescue|ensure|else|elsif|(?:catch|except|except_group|finally|else|elif)_clause)$/.test(name),
);
/** Where a jump leads. */
const isLabel = ofTypes((name) => name === "labeled_statement");
const holdsStatements = ofTypes((name) =>
  /block|body|compound|statement_list|case|clause|^(?:program|module|source_file|translation_unit|then|else|ensure|rescue|begin|do|do_group|subshell)$/.test(
    name,
  ),
);
const mayExit = ofTypes((name) =>
  /^(?:command|call|identifier|(?:function_)?call_expression|macro_invocation|(?:method_)?invocation(?:_expression)?)$/.test(
    name,
  ),
);
const BRANCHES = /^(?:if|elif|while|unless|preproc_if|preproc_elif|conditional|ternary|switch|else_if|elsif)(?:_|$)/;
const endsBlock = ofTypes((name) => ENDS.test(name));
const isBranch = ofTypes((name) => BRANCHES.test(name));
const isConditional = ofTypes((name) => /^(?:if|unless)_?(?:statement|expression|modifier)?$/.test(name));
const isLoop = ofTypes((name) => /^(?:while|until|for|loop)(?:_(?:statement|expression|modifier))?$/.test(name));
const isTry = ofTypes((name) => name === "try_statement");
const isFinally = ofTypes((name) => name === "finally_clause");
const isCatch = ofTypes((name) => /^(?:catch|except|except_group)_clause$/.test(name));
/** What is done where a condition is not met. */
const isOtherwise = ofTypes((name) => /^(?:preproc_)?(?:else|elsif|else_?if|elif)(?:_clause)?$/.test(name));
const isElse = ofTypes((name) => /^else(?:_clause)?$/.test(name));
/** What is done where one is met, without brackets of its own. */
const isDone = ofTypes((name) => name === "then");
const WORDS = /^(?:if|unless|while|until|for|loop)$/;
const isStatement = ofTypes((name) => name === "expression_statement");
const isJoined = ofTypes((name) => name === "binary_expression");
/** What is joined by it to nothing is never asked. */
const NEVER_GOES_ON = /^(?:false|null|undefined|0|''|"")\s*&&/;

/** So much of a condition is looked at, and so much of a loop, in UTF-16 units. */
const LONGEST_HEAD = 300;
const LONGEST_LOOP = 20_000;

/**
 * Tells of nodes whether they can never be reached: in a branch whose condition is false as it stands, or behind what leaves their block. Where a syntax is not taken apart everywhere, it
 * says so rather too often.
 */
export class Reach {
  private readonly known = new Map<number, boolean>();
  /** Of a node, the first of its children that leaves it, and the first behind that to which something may jump. */
  private readonly leaves = new Map<number, [leaving: number, label: number]>();
  /** Of a node in a list of statements, whether nothing goes on behind it. */
  private readonly ending = new Map<number, boolean>();
  private readonly exits: RegExp | undefined;

  constructor(readonly syntax: Syntax) {
    this.exits = EXITS[syntax.language.id];
  }

  isDead(node: number): boolean {
    const { syntax, known } = this;
    const above = syntax.parent[node];
    if (above < 0) return false;
    const before = known.get(node);
    if (before !== undefined) return before;
    const dead =
      (isJoined(syntax, above) && NEVER_GOES_ON.test(this.text(above, 30))) ||
      (isBranch(syntax, above) && this.isNeverDone(node, above)) ||
      (this.isBehind(node, above) && this.isReached(node) && !isDefinition(syntax, node)) ||
      this.isDead(above);
    known.set(node, dead);
    return dead;
  }

  /** Whether a part of a branch is not done, by its condition: what is done where that is met, or what otherwise. */
  private isNeverDone(node: number, above: number): boolean {
    const holds = asked(this.text(above, LONGEST_HEAD));
    if (holds === null) return false;
    const otherwise = childrenOf(this.syntax, above).find((part) => isOtherwise(this.syntax, part));
    return holds === node >= (otherwise ?? Number.POSITIVE_INFINITY);
  }

  private text(node: number, most: number): string {
    const { text, start, end } = this.syntax;
    return text.slice(start[node], Math.min(end[node], start[node] + most));
  }

  private isBehind(node: number, above: number): boolean {
    // One way of a condition is not behind the other.
    if (!holdsStatements(this.syntax, above)) return false;
    const [first, label] = this.leaving(above);
    return first < node && node < label && !takesOver(this.syntax, node);
  }

  private hasParts(node: number): boolean {
    return this.syntax.depth[node + 1] > this.syntax.depth[node];
  }

  /** Whether a node was left whole, since it lies apart from all changes. */
  private isWhole(node: number): boolean {
    const { syntax } = this;
    return (
      !this.hasParts(node) && syntax.end[node] - syntax.start[node] > SMALL && !isKind(syntax, node, TEXT | COMMENT)
    );
  }

  /** Brackets and words that close a block are not what is reached in it. */
  private isReached(node: number): boolean {
    return this.hasParts(node) || isKind(this.syntax, node, NAME) || this.isWhole(node);
  }

  private leaving(above: number, within = 0): [number, number] {
    const { syntax, leaves } = this;
    const found = leaves.get(above);
    if (found !== undefined) return found;
    const isList = holdsStatements(syntax, above);
    // What leaves its block is itself reached as a whole.
    const children = endsBlock(syntax, above) ? [] : childrenOf(syntax, above);
    const first = children.find((node) => this.ends(node, isList, within)) ?? Number.POSITIVE_INFINITY;
    const label = children.find((node) => node > first && isLabel(syntax, node)) ?? Number.POSITIVE_INFINITY;
    leaves.set(above, [first, label]);
    return [first, label];
  }

  /** Whether nothing goes on behind a node, in a list of statements or elsewhere. */
  private ends(node: number, isList: boolean, within: number): boolean {
    const { syntax } = this;
    // `exit();` and the like are wrapped once.
    const at = isStatement(syntax, node) && this.hasParts(node) ? node + 1 : node;
    if (endsBlock(syntax, at)) return true;
    if (!isList) return false;
    let ending = this.ending.get(node);
    if (ending === undefined) {
      ending = this.endsList(node, at, within);
      this.ending.set(node, ending);
    }
    return ending;
  }

  private endsList(node: number, at: number, within: number): boolean {
    const { syntax } = this;
    if (this.exits !== undefined && mayExit(syntax, at) && this.exits.test(this.text(at, LONGEST_EXIT))) return true;
    if (within >= MOST_WITHIN) return false;
    return (
      (isPlainBlock(syntax, node) && this.isLeft(node, within)) ||
      // All of the statements of a block, behind which there is nothing.
      (isList(syntax, node) && this.isWhole(node)) ||
      (isConditional(syntax, at) && this.isLeftEitherWay(at, within)) ||
      (isLoop(syntax, at) && this.neverEnds(at)) ||
      (isTry(syntax, at) && this.isTriedInVain(at, within))
    );
  }

  private isLeft(block: number, within: number): boolean {
    const [first, label] = this.leaving(block, within + 1);
    return Number.isFinite(first) && !Number.isFinite(label);
  }

  /** Whether one of some parts of a statement leaves what it stands in: a block, or a statement without one. */
  private oneLeaves(parts: readonly number[], within: number): boolean {
    return parts.some((part) => this.leadsOut(part, within));
  }

  /** What was left whole is taken to lead out: it is the same in both states, and what is told by it has to hold where all is taken apart. */
  private leadsOut(part: number, within: number): boolean {
    if (this.isWhole(part)) return true;
    return isDone(this.syntax, part) ? this.isLeft(part, within) : this.ends(part, true, within + 1);
  }

  /** Whether a condition that is met as it stands leaves what it stands in, or each way of one does. */
  private isLeftEitherWay(node: number, within: number): boolean {
    const { syntax } = this;
    const parts = childrenOf(syntax, node);
    const otherwise = parts.findIndex((part) => isOtherwise(syntax, part));
    const [done, others] = otherwise < 0 ? [parts, []] : [parts.slice(0, otherwise), parts.slice(otherwise)];
    if (!this.oneLeaves(done, within)) return false;
    if (this.alwaysHolds(parts)) return true;
    const leaves = (part: number) => {
      // A word by itself, or brackets.
      if (!this.isReached(part)) return true;
      return isOtherwise(syntax, part) && this.hasParts(part)
        ? this.oneLeaves(childrenOf(syntax, part), within)
        : this.leadsOut(part, within);
    };
    return others.some((part) => isElse(syntax, part)) && others.every(leaves);
  }

  private neverEnds(loop: number): boolean {
    const { syntax } = this;
    if (syntax.end[loop] - syntax.start[loop] > LONGEST_LOOP) return false;
    const said = this.text(loop, LONGEST_LOOP);
    if (/\b(?:break|goto|last)\b/.test(said)) return false;
    return /^(?:loop\s*\{|for\s*(?:\{|\(\s*;\s*;\s*\)))/.test(said) || this.alwaysHolds(childrenOf(syntax, loop));
  }

  /** Whether what is done at the end leaves, or what is tried and all that takes over. */
  private isTriedInVain(node: number, within: number): boolean {
    const { syntax } = this;
    const parts = childrenOf(syntax, node);
    const leaves = (part: number) => this.oneLeaves(childrenOf(syntax, part), within);
    if (parts.some((part) => isFinally(syntax, part) && leaves(part))) return true;
    const catches = parts.filter((part) => isCatch(syntax, part));
    const tried = parts.filter((part) => isPlainBlock(syntax, part));
    return !parts.some((part) => isElse(syntax, part)) && this.oneLeaves(tried, within) && catches.every(leaves);
  }

  /** Whether the condition of a statement, by its parts, is met as it stands: `if (true)`, `while :`, `unless false`. */
  private alwaysHolds(parts: readonly number[]): boolean {
    const { syntax } = this;
    const word = parts.find((part) => WORDS.test(typeOf(syntax, part)));
    if (word === undefined) return false;
    return asked(syntax.text.slice(syntax.start[word], syntax.start[word] + LONGEST_HEAD)) === true;
  }
}
