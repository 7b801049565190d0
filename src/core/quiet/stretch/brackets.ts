import { type Syntax, tokenText } from "../../grammar/syntax";

const open = new WeakMap<Syntax, Int32Array>();

/** Whether a bracket stands open behind a token: only there a line goes on where indentation is structure, whatever a grammar forgives. */
export function isInBrackets(syntax: Syntax, token: number): boolean {
  let depths = open.get(syntax);
  if (!depths) {
    let depth = 0;
    depths = Int32Array.from(syntax.tokens, (_, n) => {
      const text = tokenText(syntax, n);
      if (/^[([{]$/.test(text)) depth++;
      else if (/^[)\]}]$/.test(text)) depth--;
      return depth;
    });
    open.set(syntax, depths);
  }
  return (depths[token] ?? 0) > 0;
}
