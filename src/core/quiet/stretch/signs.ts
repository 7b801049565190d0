import type { LanguageId } from "../../grammar/languages";
import { ofTypes } from "../../grammar/syntax";

export type OfType = ReturnType<typeof ofTypes>;

/** Of a language, which signs say nothing. What is missing here says something. */
export interface Signs {
  /** Nodes in which a comma behind the last part says nothing. */
  lists: OfType;
  /** The same where there are two commas or more: one alone makes a list of what would be none. */
  tuples?: OfType;
  /** Nodes that are brackets around one thing, and nodes within which those say nothing. */
  brackets?: Brackets;
  /** Nodes that are brackets around several, with or without. */
  bare?: OfType;
  /** Nodes that are blocks, what one says nothing around when that is all it holds, and nodes that hold either. */
  blocks?: { node: OfType; around: OfType; within: OfType };
  /** Nodes that end where their line does, also without a semicolon; and nodes whose parts do. */
  ended?: { node: OfType; parts: OfType };
  /** Nodes that are plain texts, and what within one means something else in other quotes. `escapes`: a backslash means the same in both. */
  quotes?: { node: OfType; not: RegExp; escapes?: true };
}

export interface Brackets {
  node: OfType;
  within: OfType;
  /** Of those, the ones whose first part they say something around: `(berth): int = 1` declares nothing. */
  assigns: OfType;
  /** What they are needed around. */
  keeps: OfType;
  /** Operators that ask for them, whatever a grammar forgives. */
  asks?: RegExp;
}

export const names = (pattern: RegExp): OfType => ofTypes((name) => pattern.test(name));

/** Statements that declare nothing: what is declared in a block is known in it alone. */
const STATEMENTS =
  /^(?:expression|return|throw|break|continue|if|for|for_in|foreach|enhanced_for|while|do|switch|try|echo)_statement$/;
const BRANCHES = /^(?:(?:if|for|for_in|foreach|enhanced_for|while|do)_statement|else_clause|else_if_clause)$/;
const blocks = (node: RegExp) => ({ node: names(node), around: names(STATEMENTS), within: names(BRANCHES) });

const SCRIPT: Signs = {
  lists: names(
    /^(?:arguments|array|object|formal_parameters|object_pattern|array_pattern|named_imports|export_clause|enum_body|tuple_type|type_parameters)$/,
  ),
  brackets: {
    node: names(/^parenthesized_(?:expression|type)$/),
    within: names(
      /^(?:parenthesized_expression|type_(?:annotation|arguments|alias_declaration)|union_type|arguments|array|pair|variable_declarator|assignment_expression|augmented_assignment_expression|return_statement|arrow_function|binary_expression|ternary_expression)$/,
    ),
    assigns: names(/^(?:assignment_expression|augmented_assignment_expression|arrow_function|pair)$/),
    // An object would be a block, and a comma would part two.
    keeps: names(/^(?:object|sequence_expression|comment)$/),
    asks: /^(?:\*\*|\?\?|in)$/,
  },
  quotes: { node: names(/^string$/), not: /[\r\n]/, escapes: true },
  blocks: blocks(/^statement_block$/),
  ended: {
    node: names(
      /^(?:(?:expression|return|throw|break|continue|import|export|debugger|do)_statement|(?:lexical|variable|type_alias)_declaration)$/,
    ),
    parts: names(/^(?:object_type|interface_body)$/),
  },
};

const BY_LANGUAGE: Partial<Record<LanguageId, Signs>> = {
  javascript: SCRIPT,
  typescript: SCRIPT,
  tsx: SCRIPT,
  python: {
    lists: names(/^(?:argument_list|parameters|list|set|dictionary|import_from_statement)$/),
    tuples: names(/^tuple$/),
    brackets: {
      node: names(/^parenthesized_expression$/),
      within: names(
        /^(?:parenthesized_expression|argument_list|keyword_argument|default_parameter|list|pair|assignment|augmented_assignment|return_statement|raise_statement|assert_statement|if_statement|elif_clause|while_statement|for_statement|not_operator|boolean_operator|comparison_operator|binary_operator|conditional_expression)$/,
      ),
      assigns: names(/^(?:assignment|augmented_assignment|for_statement|pair)$/),
      keeps: names(/yield|named_expression|generator|splat|comment/),
    },
    bare: names(/^import_from_statement$/),
    quotes: { node: names(/^string$/), not: /(?!)/, escapes: true },
  },
  ruby: { lists: names(/^(?:argument_list|array|hash)$/), quotes: { node: names(/^string$/), not: /[\\#]/ } },
  php: {
    lists: names(/^(?:arguments|array_creation_expression|formal_parameters)$/),
    blocks: blocks(/^compound_statement$/),
    quotes: { node: names(/^(?:encapsed_)?string$/), not: /[\\$]/ },
  },
  css: { lists: names(/(?!)/), quotes: { node: names(/^string_value$/), not: /[\r\n]/, escapes: true } },
  go: { lists: names(/^(?:argument_list|parameter_list|literal_value)$/) },
  rust: {
    lists: names(
      /^(?:arguments|parameters|array_expression|field_declaration_list|ordered_field_declaration_list|field_initializer_list|enum_variant_list|use_list)$/,
    ),
    tuples: names(/^tuple_(?:expression|type)$/),
  },
  java: { lists: names(/^array_initializer$/), blocks: blocks(/^block$/) },
  csharp: {
    lists: names(/^(?:initializer_expression|enum_member_declaration_list)$/),
    blocks: blocks(/^block$/),
  },
  c: { lists: names(/^(?:initializer_list|enumerator_list)$/) },
  cpp: { lists: names(/^(?:initializer_list|enumerator_list)$/) },
};

/** The signs of a language that say nothing; null where all of its signs say something. */
export function signsOf(language: LanguageId): Signs | null {
  return BY_LANGUAGE[language] ?? null;
}
