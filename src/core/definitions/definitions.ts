import { isKind, lineAt, NAME, type Syntax, tokenText, typeOf } from "../grammar/syntax";
import type { Definition, DefinitionKind } from "./definition";

/** A node that defines something, and by which of its fields the name in it is found; an empty one for a child that has none. */
interface Rule {
  types: string;
  fields: string;
  kind: DefinitionKind;
}

/** By the grammars' own names: each is one thing in all of them. */
const RULES: readonly Rule[] = [
  {
    types:
      "function_declaration function_definition generator_function_declaration function_signature function_item function_signature_item method method_declaration method_definition method_signature abstract_method_signature method_elem method_spec constructor_declaration destructor_declaration singleton_method local_function_statement operator_declaration macro_definition preproc_function_def",
    fields: "name declarator",
    kind: "function",
  },
  {
    types:
      "class_declaration abstract_class_declaration class_definition class_specifier class interface_declaration enum_declaration enum_specifier enum_definition enum_item struct_specifier struct_item struct_declaration union_specifier union_item trait_item trait_declaration type_alias_declaration type_item type_spec type_alias type_definition record_declaration annotation_type_declaration delegate_declaration alias_declaration",
    fields: "name declarator",
    kind: "type",
  },
  {
    types:
      "module internal_module mod_item namespace_definition namespace_declaration file_scoped_namespace_declaration",
    fields: "name",
    kind: "module",
  },
  {
    types:
      "variable_declarator const_item static_item const_spec var_spec const_element declaration preproc_def variable_assignment",
    fields: "name declarator pattern -",
    kind: "constant",
  },
  {
    types: "assignment short_var_declaration for_in_statement for_statement range_clause foreach_statement",
    fields: "left",
    kind: "constant",
  },
  { types: "enhanced_for_statement", fields: "name", kind: "constant" },
  { types: "for_expression for", fields: "pattern", kind: "constant" },
  { types: "for_range_loop", fields: "declarator", kind: "constant" },
  { types: "catch_clause", fields: "parameter", kind: "constant" },
  { types: "let_declaration", fields: "pattern", kind: "constant" },
  {
    types:
      "public_field_definition field_definition property_signature field_declaration enum_assignment enum_constant enum_variant enumerator enum_member_declaration property_declaration property_element enum_case",
    fields: "name property declarator",
    kind: "field",
  },
  { types: "enum_body", fields: "name", kind: "field" },
  // Of what is written as an object; in data it is told by `keysIn`.
  { types: "pair", fields: "key", kind: "field" },
  {
    types:
      "required_parameter optional_parameter default_parameter typed_parameter typed_default_parameter formal_parameter parameter simple_parameter parameter_declaration keyword_parameter",
    fields: "name pattern declarator -",
    kind: "parameter",
  },
  {
    types: "parameters formal_parameters method_parameters lambda_parameters block_parameters",
    fields: "-",
    kind: "parameter",
  },
  { types: "arrow_function", fields: "parameter", kind: "parameter" },
];

const BY_TYPE: ReadonlyMap<string, { fields: ReadonlySet<string>; kind: DefinitionKind }> = new Map(
  RULES.flatMap(({ types, fields, kind }) =>
    types.split(" ").map((type) => [type, { fields: new Set(fields.split(" ")), kind }] as const),
  ),
);

/** What stands between a name and what defines it: the fields by which one climbs from it. */
const BETWEEN: ReadonlyMap<string, ReadonlySet<string>> = new Map(
  Object.entries({
    ...{ function_declarator: "declarator", pointer_declarator: "declarator -", reference_declarator: "declarator -" },
    ...{ array_declarator: "declarator", init_declarator: "declarator", parenthesized_declarator: "-" },
    ...{ qualified_identifier: "name", variable_name: "-", namespace_name: "-" },
    ...{ object_pattern: "-", array_pattern: "-", pair_pattern: "value", rest_pattern: "-", tuple_pattern: "-" },
    ...{ assignment_pattern: "left", object_assignment_pattern: "left", expression_list: "-", pattern_list: "-" },
    ...{ list_splat_pattern: "-", dictionary_splat_pattern: "-", mut_pattern: "-", ref_pattern: "-" },
  }).map(([type, fields]) => [type, new Set(fields.split(" "))]),
);

/** Within these what is defined is known to nobody outside. */
const FUNCTIONS =
  /^(?:function_declaration|function_definition|generator_function_declaration|generator_function|function_item|function_expression|func_literal|arrow_function|method|singleton_method|method_declaration|method_definition|constructor_declaration|local_function_statement|lambda|lambda_expression|closure_expression|anonymous_function|block|do_block)$/;
/** Of those, what is one in some grammars only: elsewhere it is any block. */
const BLOCKS = /^(?:block|do_block)$/;
const FUNCTION_VALUES =
  /^(?:arrow_function|function_expression|generator_function|func_literal|lambda|closure_expression)$/;
const CLASS_VALUES = /^class$/;
/** Objects of which a member that something is assigned to is a field. */
const SELVES = /^(?:self|this)$/;

const LONGEST_SIGNATURE = 2_000;

/**
 * Everything that a text defines, in order, as its grammar reads it. The syntax must have been read with its fields. What a name means elsewhere
 * is told by {@link meant}.
 */
export function definitionsIn(syntax: Syntax): Definition[] {
  if (syntax.language.identifiers === null) return keysIn(syntax);
  const result: Definition[] = [];
  const known = new Set<string>();
  for (const [token, node] of syntax.tokens.entries()) {
    const named = nodeDefinedBy(syntax, node);
    if (!named) continue;
    const scope = scopeOf(syntax, named.node, named.kind);
    const name = tokenText(syntax, token);
    const kind = scope === null && named.kind === "constant" && isInClass(syntax, named.node) ? "field" : named.kind;
    // What is assigned again was defined before.
    const again = `${name} ${scope?.start} ${kind === "constant" || kind === "field" ? "" : syntax.start[node]}`;
    if (known.has(again)) continue;
    known.add(again);
    const line = lineAt(syntax, syntax.start[node]);
    result.push({
      ...{ name, kind, line, column: syntax.start[node] - syntax.lines[line], scope },
      ...{ start: lineAt(syntax, syntax.start[named.node]), end: lastLine(syntax, named.node) + 1 },
      within: namesAround(syntax, named.node, kind === "field"),
      signature: signatureOf(syntax, named.node),
    });
  }
  return result;
}

/** What a token defines, if it does. */
function nodeDefinedBy(syntax: Syntax, token: number): { node: number; kind: DefinitionKind } | null {
  const isName = isKind(syntax, token, NAME) || (typeOf(syntax, token) === "word" && fieldOf(syntax, token) === "name");
  if (!isName) return null;
  for (let at = token, steps = 0; steps < 8; steps++) {
    const above = syntax.parent[at];
    if (above <= 0) return null;
    const type = typeOf(syntax, above);
    const field = fieldOf(syntax, at) || "-";
    const rule = BY_TYPE.get(type);
    if (rule?.fields.has(field)) return { node: above, kind: valueKind(syntax, above) ?? rule.kind };
    if ((type === "attribute" || type === "member_expression") && isOwnField(syntax, above, at))
      return { node: syntax.parent[above], kind: "field" };
    if (!BETWEEN.get(type)?.has(field)) return null;
    at = above;
  }
  return null;
}

/** `self.slot = …` and `this.slot = …`. */
function isOwnField(syntax: Syntax, member: number, name: number): boolean {
  if (!/^(?:attribute|property)$/.test(fieldOf(syntax, name)) || fieldOf(syntax, member) !== "left") return false;
  return SELVES.test(syntax.text.slice(syntax.start[member + 1], syntax.end[member + 1]));
}

/** What a constant is that holds a function or class. */
function valueKind(syntax: Syntax, node: number): DefinitionKind | null {
  for (const child of childrenOf(syntax, node)) {
    if (fieldOf(syntax, child) !== "value" && fieldOf(syntax, child) !== "right") continue;
    const type = typeOf(syntax, child);
    if (FUNCTION_VALUES.test(type)) return "function";
    if (CLASS_VALUES.test(type)) return "type";
  }
  return null;
}

function scopeOf(syntax: Syntax, node: number, kind: DefinitionKind): Definition["scope"] {
  // A field is found through what it belongs to, wherever that is.
  if (kind === "field") return null;
  const within = (at: number) => ({ start: lineAt(syntax, syntax.start[at]), end: lastLine(syntax, at) + 1 });
  for (let at = kind === "parameter" ? node : syntax.parent[node]; at > 0; at = syntax.parent[at]) {
    const type = typeOf(syntax, at);
    if (FUNCTIONS.test(type) && (!BLOCKS.test(type) || syntax.language.id === "ruby")) return within(at);
  }
  // A parameter of what has no body means nothing beyond it.
  return kind === "parameter" ? within(syntax.parent[node]) : null;
}

function isInClass(syntax: Syntax, node: number): boolean {
  for (let at = syntax.parent[node]; at > 0; at = syntax.parent[at])
    if (BY_TYPE.get(typeOf(syntax, at))?.kind === "type") return true;
  return false;
}

const HOLDERS: ReadonlySet<DefinitionKind> = new Set(["function", "type", "module", "constant"]);

/** The names of what a node lies in, the outermost first; of a field without the function in which it is assigned to. */
function namesAround(syntax: Syntax, node: number, isField: boolean): string[] {
  const names: string[] = [];
  for (let at = syntax.parent[node]; at > 0; at = syntax.parent[at]) {
    const type = typeOf(syntax, at);
    const kind = BY_TYPE.get(type)?.kind;
    if (type === "impl_item") names.unshift(implemented(syntax, at));
    if (!kind || !HOLDERS.has(kind) || (isField && kind === "function")) continue;
    const name = nameIn(syntax, at);
    if (name !== null) names.unshift(name);
  }
  return names;
}

/** What an `impl` of Rust is of. */
function implemented(syntax: Syntax, node: number): string {
  for (const child of childrenOf(syntax, node))
    if (fieldOf(syntax, child) === "type") return syntax.text.slice(syntax.start[child], syntax.end[child]);
  return "";
}

/** The name that a node defines. */
function nameIn(syntax: Syntax, node: number): string | null {
  for (let t = firstToken(syntax, node); t < syntax.tokens.length; t++) {
    if (syntax.start[syntax.tokens[t]] >= syntax.end[node]) return null;
    if (nodeDefinedBy(syntax, syntax.tokens[t])?.node === node) return tokenText(syntax, t);
  }
  return null;
}

function firstToken({ tokens }: Syntax, node: number): number {
  let low = 0;
  let high = tokens.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (tokens[middle] >= node) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** The text of a definition up to its body, or to its end. */
function signatureOf(syntax: Syntax, node: number): string {
  const { depth, start, end, text } = syntax;
  let stop = end[node];
  for (let at = node + 1; depth[at] > depth[node]; at++)
    if (depth[at] <= depth[node] + 2 && fieldOf(syntax, at) === "body") {
      stop = start[at];
      break;
    }
  return text
    .slice(start[node], Math.min(stop, start[node] + LONGEST_SIGNATURE))
    .replace(/\s+/g, " ")
    .trim();
}

function* childrenOf({ depth }: Syntax, node: number): Generator<number> {
  for (let at = node + 1; depth[at] > depth[node]; at++) if (depth[at] === depth[node] + 1) yield at;
}

function fieldOf({ field, fieldName }: Syntax, node: number): string {
  return field && fieldName ? fieldName(field[node]) : "";
}

function lastLine(syntax: Syntax, node: number): number {
  return lineAt(syntax, Math.max(syntax.start[node], syntax.end[node] - 1));
}

const PAIRS = /^(?:pair|block_mapping_pair|flow_pair)$/;
const SELECTED = /^(?:class_name|id_name)$/;
const TABLES = /^(?:table|table_array_element)$/;

/** Keys of data, each within those that lead to it; of style sheets the classes and ids. */
function keysIn(syntax: Syntax): Definition[] {
  const result: Definition[] = [];
  const key = (name: string, token: number, node: number, within: string[]): Definition => {
    const line = lineAt(syntax, syntax.start[token]);
    const column = syntax.start[token] - syntax.lines[line];
    const end = lastLine(syntax, node) + 1;
    return { name, kind: "key", line, column, start: line, end, within, scope: null, signature: "" };
  };
  const around: { node: number; name: string }[] = [];
  for (let node = 1; node < syntax.type.length; node++) {
    const type = typeOf(syntax, node);
    if (SELECTED.test(type)) {
      result.push(key(syntax.text.slice(syntax.start[node], syntax.end[node]), node, node, []));
      continue;
    }
    if (!PAIRS.test(type) && !TABLES.test(type)) continue;
    while (around.length > 0 && syntax.end[around[around.length - 1].node] <= syntax.start[node]) around.pop();
    const token = syntax.tokens[keyToken(syntax, node)];
    if (token === undefined) continue;
    const name = syntax.text.slice(syntax.start[token], syntax.end[token]).replace(/^(["'])(.*)\1$/s, "$2");
    result.push(
      key(
        name,
        token,
        node,
        around.map((one) => one.name),
      ),
    );
    around.push({ node, name });
  }
  return result;
}

/** The first token of a key, brackets aside. */
function keyToken(syntax: Syntax, node: number): number {
  let token = firstToken(syntax, node);
  while (token < syntax.tokens.length && /^(?:\[+|["'])$/.test(tokenText(syntax, token))) token++;
  return token;
}
