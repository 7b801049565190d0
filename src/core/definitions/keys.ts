import { type Syntax, tokenText, typeOf } from "../grammar/syntax";
import { firstThat } from "../plain/first-that";
import type { Definition } from "./definition";
import { lastLine, lineOf, MOST_WITHIN } from "./survey";

const PAIRS = /^(?:pair|block_mapping_pair|flow_pair)$/;
const SELECTED = /^(?:class_name|id_name)$/;
const TABLES = /^(?:table|table_array_element)$/;

/** Keys of data, each within those that lead to it; of style sheets the classes and ids. */
export function keysIn(syntax: Syntax): Definition[] {
  const result: Definition[] = [];
  const key = (name: string, token: number, node: number, within: string[]): Definition => {
    const line = lineOf(syntax, token);
    const column = syntax.start[token] - syntax.lines[line];
    const end = lastLine(syntax, node) + 1;
    return { name, kind: "key", line, column, start: line, end, within, scope: null, signature: "" };
  };
  const open: number[] = [];
  const around: string[] = [];
  for (let node = 1; node < syntax.type.length; node++) {
    const type = typeOf(syntax, node);
    if (SELECTED.test(type)) {
      result.push(key(syntax.text.slice(syntax.start[node], syntax.end[node]), node, node, []));
      continue;
    }
    if (!PAIRS.test(type) && !TABLES.test(type)) continue;
    while (open.length > 0 && syntax.end[open[open.length - 1]] <= syntax.start[node]) {
      open.pop();
      around.pop();
    }
    const token = syntax.tokens[keyToken(syntax, node)];
    if (token === undefined) continue;
    const name = syntax.text.slice(syntax.start[token], syntax.end[token]).replace(/^(["'])(.*)\1$/s, "$2");
    result.push(key(name, token, node, around.slice(-MOST_WITHIN)));
    open.push(node);
    around.push(name);
  }
  return result;
}

/** The first token of a key, brackets aside. */
function keyToken(syntax: Syntax, node: number): number {
  let token = firstToken(syntax, node);
  while (token < syntax.tokens.length && /^(?:\[+|["'])$/.test(tokenText(syntax, token))) token++;
  return token;
}

function firstToken({ tokens }: Syntax, node: number): number {
  return firstThat(tokens.length, (at) => tokens[at] >= node);
}
