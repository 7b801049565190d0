import { childrenOf, sizesOf } from "../../grammar/children";
import type { LanguageId } from "../../grammar/languages";
import { isMacro } from "../../grammar/macros";
import { nodeText, type Syntax, typeOf } from "../../grammar/syntax";
import { names, type OfType } from "../stretch/signs";

/** Of a language, what statements may be put into, or taken out of, and still be the same ones. What is missing here is to be read. */
export interface Nesting {
  /** Nodes that hold statements, one after the other. */
  lists: OfType;
  /** What decides whether statements are run, and names nothing: `if` and the like. */
  holders: OfType;
  /** What is run another time: what leaves a loop, or goes on with it, would be another's. */
  loops?: OfType;
  /** Parts of a holder that say by themselves when they are run: `else`. */
  branches: OfType;
  /** Parts of a holder that stand beside the one that was changed. */
  aside?: OfType;
  /** Of a list that is its own head, the word behind which the statements stand. */
  opens?: RegExp;
  /** Parts of a list that say what it is, and are none of what it holds. */
  heads?: OfType;
  /** Statements that name something for their block alone, and may be put elsewhere with all that means it. */
  local?: OfType;
  /** Statements in which any word may be such a name. */
  binds?: (syntax: Syntax, statement: number) => boolean;
  /** Statements that may be put elsewhere, where not all may. */
  only?: OfType;
  /** What may not stand in them, however deep. */
  never: OfType;
  /** More that names something in a head for what stands behind it. */
  naming?: (syntax: Syntax, node: number) => boolean;
  /** What may stand nowhere in a text. */
  nowhere?: RegExp;
  /** More that may not stand among them. */
  unless?: (syntax: Syntax, statement: number) => boolean;
}

const NOTHING = /(?!)/;
/** Where one may jump to from elsewhere, past all that was put around it. */
const LABELS = /label/;
const BRANCH = names(/^(?:(?:else|elif|else_if|finally|except)_clause|else|elsif|ensure)$/);

const SCRIPT: Nesting = {
  // Marks of JSX stand in others, or in brackets.
  lists: names(/^(?:program|statement_block|switch_case|switch_default|jsx_element|parenthesized_expression)$/),
  holders: names(
    /^(?:if_statement|else_clause|try_statement|finally_clause|statement_block|jsx_element|jsx_expression|(?:parenthesized|binary|ternary)_expression|return_statement)$/,
  ),
  heads: names(/^jsx_(?:opening|closing)_element$/),
  loops: names(/^(?:while|do)_statement$/),
  branches: BRANCH,
  aside: names(/^catch_clause$/),
  // Of a `var` and whatever else is known all over its function nothing changes.
  local: names(/^(?!variable_)\w+_(?:declaration|signature)$/),
  never: names(/^(?:import_statement|export_statement|using_declaration|ambient_declaration|(?:internal_)?module)$/),
  binds: isUsing,
  // A function of a block is known beyond it, in some ways, and in others not.
  unless: (syntax, statement) =>
    isBareText(syntax, statement) ||
    isUsing(syntax, statement) ||
    /function_declaration$/.test(typeOf(syntax, statement)),
};

const BLOCK = names(/^block$/);

/** Macros of Rust that are known to name and to keep nothing. */
const PLAIN_MACROS =
  /^(?:print|println|eprint|eprintln|write|writeln|(?:debug_)?assert(?:_eq|_ne)?|panic|todo|unreachable)!/;
function isOpenMacro(syntax: Syntax, statement: number): boolean {
  const text = nodeText(syntax, statement);
  return /^[\w:]+!/.test(text) && !PLAIN_MACROS.test(text);
}
/** What begins with a macro of C may name or keep anything. */
const beginsWithMacro = (syntax: Syntax, statement: number) =>
  isMacro(syntax, /^\w*/.exec(nodeText(syntax, statement))![0]);
/** What C says of a type by its own words alone: any other may be a macro, which may ask for the end of its block. A type that is told there has a name, too. */
const PLAIN_TYPE =
  /^(?:const\s+)?(?:(?:struct|enum)\s+\w+\b\s*(?!\s|\{)|(?:unsigned|signed)\s|(?:int|char|long|short|float|double|bool|size_t)\b)/;
/** Nor by an attribute, which may ask for that as well. */
const isPlainInC = (declaration: string) =>
  PLAIN_TYPE.test(declaration) && !/__|\[\[/.test(declaration.split("=", 1)[0]);
/** What names types, or may. */
function bindsInC(syntax: Syntax, statement: number): boolean {
  return (
    /^(?:type_definition|alias_declaration|using_declaration|namespace_\w+|\w+_specifier)$/.test(
      typeOf(syntax, statement),
    ) || beginsWithMacro(syntax, statement)
  );
}

/** What names more than its declarators, keeps something, or may. */
function isOpenInC(syntax: Syntax, statement: number): boolean {
  return typeOf(syntax, statement) === "declaration"
    ? !isPlainInC(nodeText(syntax, statement))
    : bindsInC(syntax, statement);
}

const BY_LANGUAGE: Partial<Record<LanguageId, Nesting>> = {
  javascript: SCRIPT,
  typescript: SCRIPT,
  tsx: SCRIPT,
  python: {
    lists: names(/^(?:module|block)$/),
    holders: names(
      /^(?:if_statement|elif_clause|else_clause|try_statement|finally_clause|except_clause|with_statement|block)$/,
    ),
    loops: names(/^while_statement$/),
    branches: BRANCH,
    never: names(/^future_import_statement$/),
    unless: isBareText,
  },
  ruby: {
    lists: names(/^(?:program|body_statement|then|else|begin|ensure|do|block_body)$/),
    holders: names(/^(?:if|unless|then|else|elsif|begin|ensure|body_statement)$/),
    branches: BRANCH,
    aside: names(/^rescue$/),
    never: names(NOTHING),
  },
  bash: {
    lists: names(/^(?:program|if_statement|elif_clause|else_clause|compound_statement|do_group|case_item)$/),
    holders: names(/^(?:if_statement|elif_clause|else_clause)$/),
    branches: BRANCH,
    opens: /^(?:then|else|\{)$/,
    never: names(NOTHING),
    // What is read as a whole is read before any of it is run; and a condition is what was run last.
    unless: (syntax, statement) =>
      /\b(?:alias|unalias|shopt|set)\b|\$\{?[?_]|PIPESTATUS/.test(nodeText(syntax, statement)),
  },
  php: {
    lists: names(/^(?:program|compound_statement)$/),
    holders: names(/^(?:if_statement|else_clause|else_if_clause|try_statement|finally_clause|compound_statement)$/),
    branches: BRANCH,
    aside: names(/^catch_clause$/),
    only: names(/^(?:(?:expression|echo|if|foreach|for|while|do|switch|return|try|unset|throw)_statement|comment)$/),
    never: names(LABELS),
    // Where statements are counted, one more is one more.
    nowhere: /\bdeclare\s*\(\s*ticks\b/i,
  },
  java: {
    lists: names(/^(?:block|constructor_body)$/),
    holders: names(/^(?:if_statement|try_statement|finally_clause|synchronized_statement|block)$/),
    loops: names(/^(?:while|do)_statement$/),
    branches: BRANCH,
    aside: names(/^catch_clause$/),
    local: names(/_declaration$/),
    never: names(/pattern/),
    naming: namesByType,
    binds: (syntax, statement) => holds(syntax, statement, isPattern) || holds(syntax, statement, namesByType),
    unless: (syntax, statement) => holds(syntax, statement, namesByType),
  },
  csharp: {
    lists: BLOCK,
    holders: names(/^(?:if_statement|try_statement|finally_clause|lock_statement|block)$/),
    loops: names(/^(?:while|do)_statement$/),
    branches: BRANCH,
    aside: names(/^catch_clause$/),
    local: names(/^local_/),
    never: names(/label|pattern|^declaration_expression$/),
    binds: (syntax, statement) => holds(syntax, statement, isPattern) || isUsing(syntax, statement),
    unless: isUsing,
  },
  go: {
    lists: names(/^statement_list$/),
    holders: names(/^(?:if_statement|block|statement_list)$/),
    branches: BRANCH,
    local: names(/_declaration$/),
    never: names(LABELS),
  },
  rust: {
    lists: BLOCK,
    holders: names(/^(?:if_expression|else_clause|expression_statement|block)$/),
    branches: BRANCH,
    // What is declared is let go of where its block ends.
    binds: (syntax, statement) =>
      /_declaration$|_item$|^macro_definition$/.test(typeOf(syntax, statement)) || isOpenMacro(syntax, statement),
    only: names(/^(?:expression_statement|line_comment|block_comment)$/),
    never: names(LABELS),
    unless: isOpenMacro,
  },
  c: {
    lists: names(/^compound_statement$/),
    holders: names(/^(?:if_statement|else_clause|compound_statement)$/),
    loops: names(/^(?:while|do)_statement$/),
    branches: BRANCH,
    local: names(/^declaration$/),
    never: names(/label|^case_statement$|^preproc_/),
    binds: isOpenInC,
    unless: isOpenInC,
  },
  cpp: {
    lists: names(/^compound_statement$/),
    holders: names(/^(?:if_statement|else_clause|compound_statement)$/),
    loops: names(/^(?:while|do)_statement$/),
    branches: BRANCH,
    // What is declared is let go of where its block ends.
    binds: (syntax, statement) => typeOf(syntax, statement) === "declaration" || bindsInC(syntax, statement),
    only: names(/^(?:(?:expression|if|for|while|do|switch|return|throw)_statement|comment)$/),
    never: names(/label|^case_statement$|^preproc_/),
    unless: beginsWithMacro,
  },
  css: {
    lists: names(/^(?:stylesheet|block)$/),
    holders: names(/^(?:media_statement|supports_statement|block)$/),
    branches: BRANCH,
    only: names(/^(?:rule_set|comment)$/),
    never: names(NOTHING),
  },
};

/** What statements may be put into in a language; null where that says nothing. */
export function nestingOf(language: LanguageId): Nesting | null {
  return BY_LANGUAGE[language] ?? null;
}

/** What is let go of at the end of its block, and of which not every grammar knows. */
function isUsing(syntax: Syntax, statement: number): boolean {
  return /^(?:await\s+)?using\b/.test(nodeText(syntax, statement));
}

function isPattern(syntax: Syntax, node: number): boolean {
  return /pattern|^declaration_expression$/.test(typeOf(syntax, node));
}

/** `berth instanceof Quay quay` names what is known behind the statement, too. */
function namesByType(syntax: Syntax, node: number): boolean {
  return typeOf(syntax, node) === "instanceof_expression" && childrenOf(syntax, node).length > 3;
}

/** Whether something is the case of a node, or of some that stands in it. */
function holds(syntax: Syntax, node: number, is: (syntax: Syntax, node: number) => boolean): boolean {
  const end = node + sizesOf(syntax)[node];
  for (let at = node; at < end; at++) if (is(syntax, at)) return true;
  return false;
}

/** A text by itself at the head of its function is an order, or says what the function is for. */
function isBareText(syntax: Syntax, statement: number): boolean {
  if (typeOf(syntax, statement) !== "expression_statement") return false;
  const [first, ...more] = childrenOf(syntax, statement);
  const rest = more.filter((node) => nodeText(syntax, node) !== ";");
  return rest.length === 0 && (first === undefined || /string/.test(typeOf(syntax, first)));
}
