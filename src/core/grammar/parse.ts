import type { Hunk } from "../diff/hunk";
import type { Language } from "./languages";
import type { Interest, Syntax } from "./syntax";

/** A text to be read by a grammar, in detail where it changed. */
export interface ParseAsk {
  language: Language;
  text: string;
  interest: Interest;
  before?: Before;
}

/** The other state of the same file, and how it became this one: what is the same need not be parsed again. */
export interface Before {
  text: string;
  hunks: readonly Hunk[];
}

/** Reads texts by their grammars. */
export interface Parse {
  /** Null when the text has errors, is too large, or the grammar is not at hand. */
  (ask: ParseAsk): Syntax | null;
  /**
   * Told what will be asked for soon, file by file, what comes first in front: whoever is free may read it meanwhile. What is asked for later has to be the
   * very same asks.
   */
  ahead?: (files: readonly (readonly ParseAsk[])[]) => void;
}
