import { folderOf } from "../../definitions/meant";
import { childrenOf, siblingBefore } from "../../grammar/children";
import { COMMENT, isKind, nodeText, type Syntax, typeOf } from "../../grammar/syntax";
import type { ClassedFile } from "../classes";
import type { Blocks } from "../order/blocks";
import { type MovedLines, movedWhole } from "../order/definition-order";
import { memberOf } from "../order/members";
import { blockName, firstNodeOf, isCodeLine, namedBlock, nameOf } from "../places";
import type { Departure } from "./names-left";
import type { Transfer } from "./quiet-ends";

type Pair = [old: number, next: number];

/** What moves leave behind: where code is run by another block now, and which definitions are in another file. Gathered as moves are proven, for cautions. */
export class Leavings {
  readonly transfers: Transfer[] = [];
  readonly departures: Departure[] = [];

  constructor(
    private readonly files: readonly ClassedFile[],
    private readonly blocks: Blocks,
  ) {}

  /** Notes it of the lines of a moved block that were proven. */
  note(from: number, to: number, pairs: readonly Pair[], moved: MovedLines): void {
    const transfer = this.transfer(from, to, pairs, moved);
    if (transfer) this.transfers.push(transfer);
    for (const name of this.departed(from, to, pairs, moved)) this.departures.push({ name, from, to });
  }

  /** The first of the lines that went from one named block to another or, being more than a definition that is only there, to another file; null where none did. */
  private transfer(from: number, to: number, pairs: readonly Pair[], moved: MovedLines): Transfer | null {
    const [old, next] = [this.files[from].syntax("old")!, this.files[to].syntax("new")!];
    const found = pairs.find(([i, j]) => {
      if (!isCodeLine(next, j)) return false;
      if (this.blocks.around(old, i).names !== this.blocks.around(next, j).names)
        return from !== to || !this.blocks.areSame(this.files[from].hunks, old, i, next, j);
      if (from === to || isStillAttribute(next, j)) return false;
      return !isOnlyThere(next, movedWhole(next, j, moved.next.lines));
    });
    if (!found) return null;
    const [i, j] = found;
    return {
      from: { file: from, line: i, within: blockName(old, i) },
      to: { file: to, line: j, within: blockName(next, j) },
    };
  }

  /** The names of the definitions at the top of a file that went along to another one, from which they are not seen without being imported. */
  private departed(from: number, to: number, pairs: readonly Pair[], moved: MovedLines): string[] {
    const { path, language } = this.files[from];
    const { seen } = language!;
    if (from === to || seen === "beyond") return [];
    if (seen === "folder" && folderOf(path) === folderOf(this.files[to].path)) return [];
    const old = this.files[from].syntax("old")!;
    const nodes = new Set(pairs.map(([i]) => movedWhole(old, i, moved.old.lines)));
    return [...nodes].flatMap((node) => (node > 0 && namedBlock(old, node) === null ? (nameOf(old, node) ?? []) : []));
  }
}

/**
 * Whether a node is a definition that does nothing until it is asked for. A decorator may make a route of it, a part of a class may be run when the class is: then
 * it matters which file holds it, and whether that is loaded.
 */
function isOnlyThere(syntax: Syntax, node: number): boolean {
  if (node < 0) return false;
  return syntax.language.order === "run" || syntax.language.order === "ahead"
    ? !memberOf(syntax, node).acts
    : !isAnnotated(syntax, node);
}

/** Attributes of C and C++ that make something of what they are said of without its being called, or for others to find. */
const ACTS = /\b(?:(?:con|de)structor|init_priority|section|used|retain|weak|alias|ifunc|interrupt|dllexport)\b/;
/** Attributes of Rust that do not. */
const STILL =
  /^#\[\s*(?:allow|cfg|cfg_attr|cold|default|deny|deprecated|derive|doc|expect|forbid|inline|must_use|non_exhaustive|repr|track_caller|warn)\b/;

/** Whether a part of a definition says that others look for it. */
const MARKED_BY = new Map<string, (syntax: Syntax, node: number) => boolean>([
  ["attribute_list", () => true],
  ["modifiers", (syntax, node) => childrenOf(syntax, node).some((one) => /annotation/.test(typeOf(syntax, one)))],
  ["attribute_specifier", acts],
  ["attribute_declaration", acts],
  ["ms_declspec_modifier", acts],
]);

function acts(syntax: Syntax, node: number): boolean {
  return ACTS.test(nodeText(syntax, node));
}

/** Whether a definition of a language in which all is there wherever it stands begins with what others look for, or stands behind it. */
function isAnnotated(syntax: Syntax, node: number): boolean {
  if (childrenOf(syntax, node).some((child) => MARKED_BY.get(typeOf(syntax, child))?.(syntax, child))) return true;
  if (syntax.language.id !== "rust") return false;
  for (let at = siblingBefore(syntax, node); at >= 0; at = siblingBefore(syntax, at)) {
    const isAttribute = typeOf(syntax, at) === "attribute_item";
    if (isAttribute && !STILL.test(nodeText(syntax, at))) return true;
    if (!isAttribute && !isKind(syntax, at, COMMENT)) return false;
  }
  return false;
}

/** Whether a line is an attribute of Rust that makes nothing of what stands behind it. */
function isStillAttribute(syntax: Syntax, line: number): boolean {
  const first = firstNodeOf(syntax, line);
  return first !== null && typeOf(syntax, first.node) === "attribute_item" && STILL.test(nodeText(syntax, first.node));
}
