import { COMMENT, isKind, lineAt, type Syntax } from "./syntax";

/** Words by which checkers and the like are told to leave alone what comes next. */
const TO_TOOLS =
  /[-:=@]\s*(?:ignore|disable|suppress|skip|expect-error|nocheck|off)\b|\bdisable=|\bignore next\b|\bno(?:lint|qa|sec|semgrep|inspection)/i;
/** So much of a comment is looked at, in UTF-16 units. */
const LOOKED_AT = 400;

/**
 * Whether a node is a comment on a line of its own that gives an order to a tool, or to the language: it speaks of what follows, so that another thing
 * behind it is another order.
 *
 * @example // of `// lint-disable-next-line` and of `//go:embed berths.csv`, not of `go(); // why`
 */
export function isOrder(syntax: Syntax, node: number): boolean {
  if (!isKind(syntax, node, COMMENT)) return false;
  const { text, start, end, lines, language } = syntax;
  const said = text.slice(start[node], Math.min(end[node], start[node] + LOOKED_AT));
  if (language.placed?.test(said)) return true;
  const before = text.slice(lines[lineAt(syntax, start[node])], start[node]);
  return before.trim() === "" && TO_TOOLS.test(said);
}
