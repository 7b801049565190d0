import type { LanguageId } from "../../grammar/languages";
import { lineAt, ofTypes, type Syntax, tokenAfter } from "../../grammar/syntax";
import { firstNodeOf, isIndentedBlock, standingOn } from "../../quiet/places";

/** So many lines may the head of a block have. */
export const LONGEST_HEAD = 8;

/** A block, the one around it, and how many they are together; on which line it begins, and what it belongs to. */
export interface Block {
  start: number;
  from: number;
  line: number;
  around: Block | null;
  depth: number;
}

/** The blocks of a text, by its lines, 0-based. */
export interface Blocks {
  /** Whether a line begins with code: not with a comment, and not within something that began above. */
  isCode(line: number): boolean;
  /** The innermost one around a line. One that begins there holds what is behind it. */
  around(line: number): Block | null;
  /** The blocks of a depth that begin on some lines. */
  begun(from: number, to: number, depth: number): Block[];
}

/** Nodes that hold statements or members, in brackets or between words. */
const isBlock = ofTypes((name) =>
  /^(?:statement_block|(?:class|interface|switch|enum)_body|block|(?:field_)?declaration_list|(?:match|switch|do|script)_block|compound_statement|accessor_list|body_statement|begin|then|else|do|do_group)$/.test(
    name,
  ),
);
/** Where others are blocks: in shells a condition holds its commands itself, and data holds data. */
const BLOCKS: Partial<Record<LanguageId, typeof isBlock>> = {
  bash: ofTypes((name) => /^(?:compound_statement|do_group|if_statement|case_item|subshell)$/.test(name)),
  json: ofTypes((name) => name === "object"),
};
/** Blocks that begin with their first statement. */
const isUnbracketed = ofTypes((name) => /^(?:body_statement|then)$/.test(name));
/** What such a block is no condition of: names are told apart by it, and merging two of them changes nothing. */
const isNamespace = ofTypes((name) => /namespace|linkage/.test(name));
/** By the grammar. Each node is asked once, however deep it lies. */
export class ReadBlocks implements Blocks {
  private readonly known = new Map<number, Block | null>();

  private readonly holds: (syntax: Syntax, node: number) => boolean;

  constructor(private readonly syntax: Syntax) {
    this.holds = BLOCKS[syntax.language.id] ?? isBlock;
  }

  isCode(line: number): boolean {
    return standingOn(this.syntax, line) !== null;
  }

  around(line: number): Block | null {
    const { syntax } = this;
    const first = firstNodeOf(syntax, line);
    const node = first ? syntax.parent[syntax.tokens[first.token]] : standingOn(syntax, line);
    let block = node === null ? null : this.of(node);
    while (block && block.start >= syntax.lines[line]) block = block.around;
    return block;
  }

  begun(from: number, to: number, depth: number): Block[] {
    const { syntax } = this;
    const { tokens, parent, start, lines } = syntax;
    const begun: Block[] = [];
    let last = -1;
    for (let at = tokenAfter(syntax, lines[from]); start[tokens[at]] < lines[to]; at++) {
      const block = this.of(parent[tokens[at]]);
      if (block?.depth !== depth || block.start < lines[from] || block.start <= last) continue;
      last = block.start;
      begun.push(block);
    }
    return begun;
  }

  private of(node: number): Block | null {
    const { syntax, known } = this;
    const passed: number[] = [];
    let at = node;
    for (; at > 0 && !known.has(at); at = syntax.parent[at]) passed.push(at);
    let block = at > 0 ? known.get(at)! : null;
    for (const one of passed.reverse()) {
      // Where no bracket opens it, with what it belongs to.
      const isWithHead = isUnbracketed(syntax, one) || isIndentedBlock(syntax, one);
      const start = syntax.start[isWithHead ? syntax.parent[one] : one];
      if (this.holds(syntax, one) && !isNamespace(syntax, Math.max(0, syntax.parent[one])))
        block = {
          start,
          from: lineAt(syntax, syntax.start[Math.max(0, syntax.parent[one])]),
          line: lineAt(syntax, start),
          around: block,
          depth: (block?.depth ?? 0) + 1,
        };
      known.set(one, block);
    }
    return block;
  }
}
