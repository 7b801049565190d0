import { childrenOf, siblingBefore, sizesOf } from "../../grammar/children";
import type { LanguageId } from "../../grammar/languages";
import { COMMENT, isKind, NAME, type Syntax, TEXT, tokenAfter, tokenText, typeOf } from "../../grammar/syntax";
import { compared } from "../names";
import { isDefinition, nameToken } from "../places";

/**
 * What stands beside others at the top of a file or in a block: a definition, a statement, a comment. Said of it is what decides whether its place among
 * them means something.
 */
export interface Member {
  /** `ahead`: there from the beginning of its block on, wherever it stands, such as a function of JavaScript. `orders`: speaks of all that follows. */
  is: "comment" | "ahead" | "definition" | "orders" | "statement";
  /** What it gives a name to; null where that cannot be told. In small letters where a language does not tell the two apart, as all words here. */
  name: string | null;
  /** Words of what is looked at when it is run, its own name aside: of a function its head, of a statement all. */
  looksAt: ReadonlySet<string>;
  /** When it is run it may run anything: it calls, or it cannot be told. */
  acts: boolean;
  /** What it takes over is told of it when it is run, and may run anything then. */
  tellsBase: boolean;
}

/** Nodes around one definition that are no more than a word before it. */
export const WRAPS = /^(?:export_statement|decorated_definition|template_declaration|ambient_declaration)$/;

const AHEAD =
  /^(?:(?:generator_)?function_(?:declaration|signature)|interface_declaration|type_alias_declaration|method_definition|(?:abstract_)?method_signature|method_declaration|trait_declaration)$/;
/** In PHP this is such a function; in others it is one that is there once it was run. */
const AHEAD_IN_PHP = /^function_definition$/;
const HAS_AHEAD: ReadonlySet<string> = new Set(["javascript", "typescript", "tsx", "php"]);
const BEGINS = /^(?:program|class_body|interface_body|declaration_list)$/;
const OF_FUNCTIONS = /function|method|module|namespace/;

const ORDERS =
  /^(?:preproc_(?!(?:end)?region)|macro_|declare_statement|namespace_|file_scoped_|using_|package_|import_declaration|text_interpolation)|directive|pragma/;
/** Of attributes of Rust only these change what stands behind what they are said of. */
const OF_MACROS = /^#!?\[\s*(?:cfg_attr\b.*)?macro_/;

/** Run only when it is called: nothing of it is looked at before. */
const LATER =
  /^(?:arrow_function|function_expression|(?:generator_)?function_(?:declaration|signature)|generator_function|method_definition|method|singleton_method|method_declaration|function_statement|anonymous_function|interface_declaration|type_alias_declaration|trait_declaration)$/;
/** Languages in which all of such a definition is run later, its head too. */
const WHOLLY_LATER: ReadonlySet<string> = new Set(["php", "bash"]);
/** Read, and not run, unless there is a call in it. */
const TYPES =
  /^(?:type|type_annotation|type_parameters|type_arguments|return_type|class_heritage|superclass|base_clause|class_interface_clause|argument_list)$/;
const CALLS = /[(`=]/;
/** Where what a class takes over is told of it and may do anything then (`__init_subclass__`, `inherited`); but for these, which do nothing. */
const TELLS_ITS_BASE: Partial<Record<LanguageId, RegExp>> = { python: /^argument_list$/, ruby: /^superclass$/ };
const STILL_BASE =
  /^(?:object|(?:abc\.)?ABC|(?:enum\.)?(?:Int|Str)?(?:Enum|Flag)|(?:typing\.)?(?:Protocol|NamedTuple|TypedDict)|(?:Base|Value|Type|Key|Index|Lookup|Runtime|OS|IO)?(?:Exception|Error))$/;
/** What may be run and does nothing to others. Signs and words such as `class` are nodes of their own, named by themselves. */
const STILL =
  /^(?:\W+|class|def|async|pass|const|let|var|export|default|abstract|declare|readonly|static|public|private|protected|override|enum|module|end|type|identifier|property_identifier|private_property_identifier|type_identifier|shorthand_property_identifier|constant|name|dotted_name|accessibility_modifier|override_modifier|lexical_declaration|variable_declaration|variable_declarator|export_statement|ambient_declaration|class_declaration|abstract_class_declaration|class|class_body|public_field_definition|field_definition|enum_declaration|enum_body|enum_assignment|decorated_definition|class_definition|function_definition|parameters|lambda_parameters|default_parameter|typed_parameter|typed_default_parameter|list_splat_pattern|dictionary_splat_pattern|keyword_separator|positional_separator|block|body_statement|pass_statement|expression_statement|assignment|string|string_literal|template_string|number|integer|float|true|false|null|none|undefined|ellipsis|array|list|tuple|dictionary|pair|object|unary_expression|unary_operator|comment)$/i;
/** Texts that are put together of others when they are run. */
const PUT_TOGETHER = /\$\{|#\{|^(?=[a-z]{1,3}["'])[a-z]{0,2}f/i;
/** Decorators of Python that are known to do nothing but to what they stand before. */
const HARMLESS_DECORATOR =
  /^@(?:(?:abc|functools|typing|contextlib|dataclasses)\.)?(?:property|staticmethod|classmethod|abstractmethod|cached_property|override|final|contextmanager|asynccontextmanager|dataclass)$|^@\w+\.(?:setter|getter|deleter)$/;

/** Says it of a node. Of one that was not taken apart, see {@link readTree}, only whether it is a comment, ahead, or orders something. */
export function memberOf(syntax: Syntax, node: number): Member {
  const statement = { is: "statement", name: null, looksAt: new Set<string>(), acts: true, tellsBase: false } as const;
  const type = typeOf(syntax, node);
  if (isKind(syntax, node, COMMENT)) return { ...statement, is: "comment", acts: false };
  const text = syntax.text.slice(syntax.start[node], syntax.end[node]);
  if (ORDERS.test(type) || OF_MACROS.test(text) || isScriptOrder(syntax, type, text))
    return { ...statement, is: "orders" };
  const inner = unwrapped(syntax, node);
  const name = nameOf(syntax, inner);
  if (isAhead(syntax, inner)) {
    // What is done to it is done where it stands: routes are told in this way, and answer in their order.
    if (isMarked(syntax, inner)) return { ...statement, is: "definition", name };
    const isNamed = name !== null || isUnnamed(type) || childrenOf(syntax, inner).length === 0;
    return { ...statement, is: isNamed ? "ahead" : "statement", name, acts: false };
  }
  return { is: isDefinition(syntax, node) ? "definition" : "statement", name, ...whenRun(syntax, node, name) };
}

/** `"use strict"`, at the beginning of a script or function. */
function isScriptOrder({ language }: Syntax, type: string, text: string): boolean {
  return HAS_AHEAD.has(language.id) && type === "expression_statement" && /^["']/.test(text);
}

/** Whether a decorator or attribute speaks of a definition, in it or right before it. */
function isMarked(syntax: Syntax, node: number): boolean {
  if (childrenOf(syntax, node).some((child) => MARKS.test(typeOf(syntax, child)))) return true;
  let before = siblingBefore(syntax, node);
  while (before >= 0 && isKind(syntax, before, COMMENT)) before = siblingBefore(syntax, before);
  return before >= 0 && MARKS.test(typeOf(syntax, before));
}

const MARKS = /^(?:decorator|attribute_list)$/;
const TOLD_OF_METHODS = /^def\s+(?:self\s*\.\s*)?(?:singleton_)?method_(?:added|removed|undefined)\b/;
/** So much of a method holds its name, in UTF-16 units. */
const HEAD = 100;

/** What is exported without a name has none to be taken. */
function isUnnamed(type: string): boolean {
  return type === "export_statement";
}

/** The definition that a node wraps; the node itself where it wraps none. To the grammar of TypeScript a namespace is an expression. */
function unwrapped(syntax: Syntax, node: number): number {
  if (typeOf(syntax, node) === "expression_statement" && typeOf(syntax, node + 1) === "internal_module")
    return node + 1;
  if (!WRAPS.test(typeOf(syntax, node))) return node;
  for (const child of childrenOf(syntax, node))
    if (isDefinition(syntax, child) || WRAPS.test(typeOf(syntax, child))) return unwrapped(syntax, child);
  return node;
}

/** The name that a member gives to what it defines; null where that cannot be told. */
export function nameOfMember(syntax: Syntax, node: number): string | null {
  return nameOf(syntax, unwrapped(syntax, node));
}

function isAhead(syntax: Syntax, node: number): boolean {
  const { id } = syntax.language;
  const type = typeOf(syntax, node);
  if (!HAS_AHEAD.has(id) || !(AHEAD.test(type) || (id === "php" && AHEAD_IN_PHP.test(type)))) return false;
  let above = syntax.parent[node];
  while (above > 0 && WRAPS.test(typeOf(syntax, above))) above = syntax.parent[above];
  if (above <= 0 || BEGINS.test(typeOf(syntax, above))) return true;
  return OF_FUNCTIONS.test(typeOf(syntax, syntax.parent[above]));
}

/** The name is among the first parts of a definition, or of the only one that it declares. */
function nameOf(syntax: Syntax, node: number): string | null {
  const { language, text, start, end } = syntax;
  if (language.order === "declared") return declaredName(syntax, node);
  const children = childrenOf(syntax, node);
  const declared = children.filter((child) => typeOf(syntax, child) === "variable_declarator");
  if (declared.length > 0) return declared.length === 1 ? nameOf(syntax, declared[0]) : null;
  if (!isDefinition(syntax, node)) return null;
  for (const child of children) {
    const type = typeOf(syntax, child);
    if (isKind(syntax, child, NAME) || /^(?:word|function_name|type_identifier)$/.test(type))
      return compared(syntax.language, text.slice(start[child], end[child]));
    if (/parameters|_body|block|computed|string/.test(type)) return null;
  }
  return null;
}

/** In C the name stands within what declares it: behind the type, and behind what it belongs to. */
function declaredName(syntax: Syntax, node: number): string | null {
  const { depth, tokens, start, end } = syntax;
  let declarator = node + 1;
  while (depth[declarator] > depth[node] && typeOf(syntax, declarator) !== "function_declarator") declarator++;
  const isFunction = depth[declarator] > depth[node];
  let token = nameToken(syntax, node);
  if (isFunction) {
    const [named] = childrenOf(syntax, declarator);
    token = tokenAfter(syntax, end[named] - 1);
    if (start[tokens[token]] < start[declarator] || !isKind(syntax, tokens[token], NAME)) return null;
  }
  return token < 0 ? null : tokenText(syntax, token);
}

/** All words that stand in a node, those of comments and texts among them. */
export function wordsOf(syntax: Syntax, node: number): Set<string> {
  const { text, start, end } = syntax;
  return new Set(compared(syntax.language, text.slice(start[node], end[node])).match(/[\p{L}\p{N}_$]+/gu));
}

function whenRun(syntax: Syntax, node: number, name: string | null): Pick<Member, "looksAt" | "acts" | "tellsBase"> {
  const { language, text, start, end } = syntax;
  const sizes = sizesOf(syntax);
  const looksAt = new Set<string>();
  let acts = false;
  let tellsBase = false;
  const look = (at: number) => {
    for (const word of wordsOf(syntax, at)) looksAt.add(word);
  };
  for (let at = node; at < node + sizes[node]; ) {
    const type = typeOf(syntax, at);
    const said = () => text.slice(start[at], end[at]);
    // What is looked at as one is not taken apart.
    let size = sizes[at];
    if (isLater(syntax, at, type)) acts ||= isMadeWhenRun(syntax, at);
    else if (type === "decorator") {
      look(at);
      acts ||= language.id !== "python" || !HARMLESS_DECORATOR.test(said().trim());
    } else if (TYPES.test(type)) {
      look(at);
      const taken = said().replace(/^\((.*)\)$/s, "$1");
      acts ||= CALLS.test(taken);
      tellsBase ||= TELLS_ITS_BASE[language.id]?.test(type) === true && !areStill(taken);
    } else if (isKind(syntax, at, TEXT)) {
      if (!isKind(syntax, at, COMMENT)) look(at);
      acts ||= PUT_TOGETHER.test(said());
    } else {
      if (size === 1 && isKind(syntax, at, NAME)) look(at);
      acts ||= !STILL.test(type);
      size = 1;
    }
    at += size;
  }
  if (name !== null) looksAt.delete(name);
  return { looksAt, acts, tellsBase };
}

function areStill(bases: string): boolean {
  return bases.split(",").every((base) => base.trim() === "" || STILL_BASE.test(base.trim()));
}

function isLater(syntax: Syntax, node: number, type: string): boolean {
  const { id } = syntax.language;
  if (id === "python") return type === "block" && typeOf(syntax, syntax.parent[node]) === "function_definition";
  return LATER.test(type) || (WHOLLY_LATER.has(id) && type === "function_definition");
}

/** A method whose name is worked out, or that something is done to, when its class is; of Ruby one that is told of each that follows. */
function isMadeWhenRun(syntax: Syntax, node: number): boolean {
  const { language, text, start } = syntax;
  if (language.id === "ruby") return TOLD_OF_METHODS.test(text.slice(start[node], start[node] + HEAD));
  return (
    typeOf(syntax, node) === "method_definition" &&
    (isMarked(syntax, node) || childrenOf(syntax, node).some((child) => /computed/.test(typeOf(syntax, child))))
  );
}
