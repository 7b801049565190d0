import { childrenOf } from "../../grammar/children";
import type { DefinitionsAreThere } from "../../grammar/languages";
import { typeOf } from "../../grammar/syntax";
import { givenBy } from "./given-names";
import type { State } from "./member-state";
import type { Member } from "./members";

/** Two members of one holder, with the nodes that they are. */
export interface Two {
  state: State;
  own: Member;
  node: number;
  other: Member;
  at: number;
}

/** Whether two members mean the same in either order; null where that can only be told of what is taken apart. */
export function commute(two: Two): boolean | null {
  if (two.other.is === "comment") return true;
  if (two.own.is === "orders" || two.other.is === "orders") return false;
  return BY_ORDER[two.state.syntax.language.order](two);
}

const BY_ORDER: Record<DefinitionsAreThere, (two: Two) => boolean | null> = {
  // Of Go, functions of this name are run in their order, and of C# the parts of one type; statements of Rust among definitions are macros, which may
  // define others.
  always: (two) => {
    const { state, own, node, at } = two;
    if (typeOf(state.syntax, at) === "expression_statement") return false;
    return own.name === "init" || IN_PARTS.test(typeOf(state.syntax, node)) ? hasOtherName(two) : true;
  },
  ahead: (two) => {
    const { state, own, other, at } = two;
    if (own.is === "ahead" || isImport(two)) return hasOtherName(two);
    // What is not taken apart may be marked further in.
    if (other.is === "ahead") return state.isApart(at) ? null : hasOtherName(two);
    return BY_ORDER.run(two);
  },
  declared: ({ state, own, node, other, at }) => {
    if (state.isApart(at) || state.isApart(node)) return null;
    if (own.name === null || own.name === other.name) return false;
    if (other.is === "statement" ? !DECLARES.test(typeOf(state.syntax, at)) : other.name === null) return false;
    // What a call means is told by what of that name was declared before: nothing, to compilers of C that only warn, is a function of anything.
    const named = other.name === null ? other.looksAt : new Set([other.name]);
    return !state.words(at).has(own.name) && !meet(named, state.words(node));
  },
  run: ({ state, own, node, other, at }) => {
    if (state.isApart(at) || state.isApart(node)) return null;
    const acts = [own, other].some((one) => one.acts || one.tellsBase);
    if (acts || own.name === null || own.name === other.name) return false;
    if (other.looksAt.has(own.name) || (other.name !== null && own.looksAt.has(other.name))) return false;
    return other.is === "statement" ? !meet(other.looksAt, own.looksAt) : other.name !== null;
  },
};

const IN_PARTS = /^(?:class|struct|interface|record(?:_struct)?)_declaration$/;
const DECLARES = /^(?:declaration|field_declaration|type_definition|access_specifier)$/;

function hasOtherName({ state, own, other, at }: Two): boolean | null {
  if (own.name === null) return true;
  if (childrenOf(state.syntax, at).length > 0) return own.name !== other.name;
  return [...givenBy(state.syntax, at)].includes(own.name) ? null : true;
}

/** Of scripts: imported names are there before anything else is run. `import x = require("x")` is a call. */
function isImport({ state: { syntax }, at }: Two): boolean {
  if (typeOf(syntax, at) !== "import_statement") return false;
  return !/\brequire\b/.test(syntax.text.slice(syntax.start[at], syntax.end[at]));
}

function meet(some: ReadonlySet<string>, others: ReadonlySet<string>): boolean {
  for (const word of some) if (others.has(word)) return true;
  return false;
}
