/** What travels about the code around a change: what names mean, what is left alone, how lines came to be. */

import type { ChangedDefinition } from "../definitions/changed";
import type { DefinitionKind } from "../definitions/definition";
import type { Reason } from "../definitions/meant";
import type { MentionKind } from "../definitions/mentions";
import type { Outlined } from "../definitions/outline";
import type { CommitView } from "./api";

/** What a name means and where it stands, in all files of one state. Lines and columns are 1-based here. */
export interface NamedView {
  name: string;
  /** The one that is most likely meant first. */
  definitions: NamedDefinition[];
  /** The places that are none of those definitions, by file: the nearest first. */
  uses: { path: string; places: NamedPlace[] }[];
  /** How many places there are in all, as far as was looked. */
  count: number;
  /** There are more than are listed. */
  more: boolean;
}

export interface NamedDefinition {
  path: string;
  line: number;
  /** The last line of it. */
  end: number;
  column: number;
  kind: DefinitionKind;
  within: string[];
  /** Why it is taken for the one that is meant: by the name alone where nothing else speaks for it. */
  reason: Reason;
  /** Its lines with the comment above it, as many as are shown, and the line that they begin with. */
  first: number;
  text: string[];
}

export interface NamedPlace {
  line: number;
  column: number;
  text: string;
  kind: MentionKind;
  /** The line is one that the change set adds, or takes away. */
  changed: boolean;
}

/** What a change makes of definitions that others use. Each is a hint, by the name alone, with its evidence. */
export interface LeftAloneView {
  items: LeftAlone[];
  /** Not all was looked through: there was too much. */
  more: boolean;
}

/** One definition that is another one now. Lines are 1-based. */
export interface LeftAlone extends ChangedDefinition {
  /** Uses in lines that the change does not touch: the first of them, and how many there are. */
  uses: { path: string; line: number; text: string }[];
  count: number;
  /** Uses in lines that it does touch. */
  touched: number;
  /** How many other definitions have the same name: the more, the less is known of whose a use is. */
  others: number;
  /** Whether a test names it; null where there are no tests. */
  tested: boolean | null;
}

/** How a line came to be as it is: the commits that touched it, the newest first. */
export interface LineHistoryView {
  steps: LineStep[];
  /** There is more before that. */
  more: boolean;
}

/** The beginning of a thread, with the full name of who began it. */
export interface ThreadSaid {
  id: string;
  by: string;
  words: string;
}

/** A commit that touched a line, and the line in it, 1-based. */
export interface LineStep {
  commit: CommitView;
  path: string;
  line: number;
  text: string;
  /** What stood there before; null where the line came with the commit. */
  before: string | null;
  /** The change set by which it came, and what was said there about these lines. */
  change: { number: number; title: string; threads: ThreadSaid[] } | null;
}

/** The commits that touched a file, the newest first. */
export interface FileHistoryView {
  steps: FileStepView[];
  /** There is more before that. */
  more: boolean;
}

/** A commit that touched a file: its contents before and after, and the name it had before where that was another. */
export interface FileStepView {
  commit: CommitView;
  path: string;
  oldPath: string | null;
  oldId: string | null;
  newId: string | null;
  oldMode: number;
  newMode: number;
  /** The change set by which it came. */
  change: { number: number; title: string } | null;
}

/** By which commits the lines of a file came, 1-based and inclusive; `commit` is a place in the list. */
export interface BlameView {
  commits: CommitView[];
  runs: { start: number; end: number; commit: number }[];
}

/** What a file is made of, as a list to go through. Lines are 1-based here; `end` is the last one. */
export type OutlinedView = Outlined[];
