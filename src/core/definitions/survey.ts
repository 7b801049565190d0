import { lineAt, type Syntax } from "../grammar/syntax";
import type { DefinitionKind } from "./definition";
import { BY_TYPE } from "./rules";

/** What is known of every node before any definition is asked for: each list has one entry a node, -1 for none. */
export interface Survey {
  /** The innermost function that a node lies in. */
  function: Int32Array;
  /** The innermost node around it that can hold definitions. */
  holder: Int32Array;
  /** Of a node that holds a function or a class as its value: which of the two. */
  value: Map<number, DefinitionKind>;
  /** Where the body of a node begins, or that of what is its value, as a place in the text. */
  body: Map<number, number>;
}

/** So many definitions around one are named: nobody reads more, and hostile texts nest without end. */
export const MOST_WITHIN = 20;

/** Within these what is defined is known to nobody outside. */
const FUNCTIONS =
  /^(?:function_declaration|function_definition|generator_function_declaration|generator_function|function_item|function_expression|func_literal|arrow_function|method|singleton_method|method_declaration|method_definition|constructor_declaration|local_function_statement|lambda|lambda_expression|closure_expression|anonymous_function)$/;
/** In Ruby these are functions; elsewhere they are any block. */
const BLOCKS = /^(?:block|do_block)$/;
const FUNCTION_VALUES =
  /^(?:arrow_function|function_expression|generator_function|func_literal|lambda|closure_expression)$/;
const CLASS_VALUES = /^class$/;
const HOLDERS: ReadonlySet<DefinitionKind> = new Set(["function", "type", "module", "constant"]);

/** What a type of node is here. */
interface Role {
  isFunction: boolean;
  isHolder: boolean;
  value: DefinitionKind | null;
}

/** Looks at each node once, from the root on, so that a text costs as much as it is long, however it nests. */
export function surveyOf(syntax: Syntax): Survey {
  const { type, parent, start } = syntax;
  const roles = new Map<number, Role>();
  const survey: Survey = {
    function: new Int32Array(type.length).fill(-1),
    holder: new Int32Array(type.length).fill(-1),
    value: new Map(),
    body: new Map(),
  };
  for (let node = 1; node < type.length; node++) {
    const above = parent[node];
    const around = roleOf(syntax, type[above], roles);
    survey.function[node] = around.isFunction ? above : survey.function[above];
    survey.holder[node] = around.isHolder ? above : survey.holder[above];
    const field = fieldOf(syntax, node);
    const { value } = field === "value" || field === "right" ? roleOf(syntax, type[node], roles) : NOTHING;
    if (value) survey.value.set(above, value);
    if (field !== "body") continue;
    // Of a constant that is a function, the body is its grandchild.
    for (const one of [above, parent[above]]) if (one > 0 && !survey.body.has(one)) survey.body.set(one, start[node]);
  }
  return survey;
}

const NOTHING: Role = { isFunction: false, isHolder: false, value: null };

function roleOf({ language, typeName }: Syntax, type: number, roles: Map<number, Role>): Role {
  let role = roles.get(type);
  if (!role) {
    const name = typeName(type);
    role = {
      isFunction: FUNCTIONS.test(name) || (language.id === "ruby" && BLOCKS.test(name)),
      isHolder: name === "impl_item" || HOLDERS.has(BY_TYPE.get(name)?.kind ?? "parameter"),
      value: FUNCTION_VALUES.test(name) ? "function" : CLASS_VALUES.test(name) ? "type" : null,
    };
    roles.set(type, role);
  }
  return role;
}

/** The field of its parent that a node is; "" for none. */
export function fieldOf({ field, fieldName }: Syntax, node: number): string {
  return field && fieldName ? fieldName(field[node]) : "";
}

/** The lines on which a node begins and ends, 0-based. */
export function lineOf(syntax: Syntax, node: number): number {
  return lineAt(syntax, syntax.start[node]);
}

export function lastLine(syntax: Syntax, node: number): number {
  return lineAt(syntax, Math.max(syntax.start[node], syntax.end[node] - 1));
}
