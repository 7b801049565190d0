import type { DefinitionKind } from "./definition";

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

/** By the type of a node: what it defines, and through which fields the name in it is found. */
export const BY_TYPE: ReadonlyMap<string, { fields: ReadonlySet<string>; kind: DefinitionKind }> = new Map(
  RULES.flatMap(({ types, fields, kind }) =>
    types.split(" ").map((type) => [type, { fields: new Set(fields.split(" ")), kind }] as const),
  ),
);

/** What stands between a name and what defines it: the fields by which one climbs from it. */
export const BETWEEN: ReadonlyMap<string, ReadonlySet<string>> = new Map(
  Object.entries({
    ...{ function_declarator: "declarator", pointer_declarator: "declarator -", reference_declarator: "declarator -" },
    ...{ array_declarator: "declarator", init_declarator: "declarator", parenthesized_declarator: "-" },
    ...{ qualified_identifier: "name", variable_name: "-", namespace_name: "-" },
    ...{ object_pattern: "-", array_pattern: "-", pair_pattern: "value", rest_pattern: "-", tuple_pattern: "-" },
    ...{ assignment_pattern: "left", object_assignment_pattern: "left", expression_list: "-", pattern_list: "-" },
    ...{ list_splat_pattern: "-", dictionary_splat_pattern: "-", mut_pattern: "-", ref_pattern: "-" },
  }).map(([type, fields]) => [type, new Set(fields.split(" "))]),
);
