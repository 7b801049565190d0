import { firstThat } from "../plain/first-that";
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

/** A comment on a line of its own, by its look: what nobody asked for was not taken apart, and may hold some. */
const OWN_LINE = /^[ \t]*(?:\/[/*]|#)[^\n]{0,400}/gm;
/** Orders that go on until another takes them back, and those that do. */
const GOES_ON = /^\W*(?:\w+[-:]\s*(?:disable\b(?![-:]?(?:next|line))|off\b|nocheck)|\w+-format off\b|nolintbegin\b)/i;
const TAKES_BACK = /^\W*(?:\w+[-:]\s*(?:enable|on)\b|\w+-format on\b|nolintend\b)/i;

interface Order {
  /** Where it stands in the text. */
  place: number;
  says: string;
}

const KNOWN = new WeakMap<Syntax, Order[]>();

/** The order to a tool that counts at a place until it is taken back, in its words: the last that was given above, empty for none. */
export function orderAbove(syntax: Syntax, place: number): string {
  const orders = KNOWN.get(syntax) ?? ordersIn(syntax.text);
  KNOWN.set(syntax, orders);
  const behind = firstThat(orders.length, (at) => orders[at].place >= place);
  return orders[behind - 1]?.says ?? "";
}

function ordersIn(text: string): Order[] {
  const orders: Order[] = [];
  for (const { 0: line, index: place } of text.matchAll(OWN_LINE)) {
    if (GOES_ON.test(line)) orders.push({ place, says: line.trim() });
    else if (TAKES_BACK.test(line)) orders.push({ place, says: "" });
  }
  return orders;
}
