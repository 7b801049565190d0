import { indentOf } from "../../diff/scopes";
import type { LanguageId } from "../../grammar/languages";
import { ofTypes, type Syntax } from "../../grammar/syntax";
import { withoutEnd } from "../../plain/without-end";
import { firstNodeOf, isCodeLine } from "../../quiet/places";
import type { Caution } from "../caution";
import { partOrOwn } from "./run-on";
import { runsOf } from "./runs";
import type { Still } from "./still";

/** Languages in which a line ends a statement, but for one that ends in a backslash; and whether a node in them is one of its own. */
const LINES_END: Partial<Record<LanguageId, (syntax: Syntax, node: number) => boolean>> = {
  python: ofTypes((name) => /_(?:statement|definition)$/.test(name)),
  bash: ofTypes((name) => /(?:^|_)(?:command|pipeline|list|statement|assignments?|definition)$/.test(name)),
  ruby: (syntax, node) => holdsStatements(syntax, Math.max(0, syntax.parent[node])),
};
const holdsStatements = ofTypes((name) => /^(?:program|body_statement|then|else|do|begin|block_body)$/.test(name));
/** Where a comment may begin: what ends in a backslash there goes on with nothing. */
const COMMENT = /(?:^|\s)#/;

/**
 * Where a line that did not change goes on with what stands above it, which ends in a backslash now, or goes on with it no more, and is indented as if nothing had come of it.
 *
 * @example // "trial=yes" became "trial=yes \" above "check_all"
 * // [{ kind: "switched", says: "1 unchanged line is a part of the statement above now.", line: 2 }]
 */
export function continuedLines(file: Still): Caution[] {
  const { language, old, next } = file;
  const isStatement = language && LINES_END[language.id];
  if (!isStatement) return [];
  const some = runsOf(file).filter((run) => {
    const [was, is] = [goesOn(old[run.old - 1]), goesOn(next[run.next - 1])];
    if (was === is || next[run.next].trim() === "") return false;
    const isDeeper = indentOf(next[run.next]) > indentOf(next[run.next - 1] ?? "");
    return is !== isDeeper;
  });
  const read = some.length > 0 ? file.syntaxes() : null;
  if (!read) return [];
  const isOwn = (syntax: Syntax, line: number) => {
    const first = isCodeLine(syntax, line) ? firstNodeOf(syntax, line) : null;
    return first !== null && isStatement(syntax, first.node);
  };
  // Within brackets and texts a line goes on with or without a backslash.
  const linesThat = (are: boolean) =>
    some.flatMap((run) =>
      isOwn(read.old, run.old) !== are && isOwn(read.next, run.next) === are ? [run.next + 1] : [],
    );
  return partOrOwn(linesThat(false), linesThat(true));
}

/** Whether a line, where there is one, ends in a backslash that no other one takes its meaning from. */
function goesOn(line: string | undefined): boolean {
  if (line === undefined || COMMENT.test(line)) return false;
  const text = withoutEnd(line, "\r");
  return (text.length - withoutEnd(text, "\\").length) % 2 === 1;
}
