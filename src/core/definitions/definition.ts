/** What is defined: how it is called in the interface. */
export type DefinitionKind = "function" | "type" | "module" | "constant" | "field" | "parameter" | "key";

/** A place where a name gets its meaning. Lines and columns are 0-based, columns in UTF-16 units, ends exclusive. */
export interface Definition {
  name: string;
  kind: DefinitionKind;
  line: number;
  column: number;
  /** The lines of all that defines it, from its head to its end. */
  start: number;
  end: number;
  /** The names of the definitions that it lies in, the outermost first. */
  within: string[];
  /** The lines in which the name means this, where that is a part of the file; null where it is known beyond. */
  scope: { start: number; end: number } | null;
  /** What others depend on: its head without its body, white space made one; of a constant its value, too. */
  signature: string;
}
