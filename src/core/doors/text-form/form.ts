import type { Side } from "../../anchor/anchor";
import type { Verdict, Weight } from "../../review/shapes";

/** What a line of a text form belongs to: where something goes that is written under it. Line numbers are 1-based. */
export type Place =
  /** The head, the reason and the gate: what is written there is about the whole. */
  | { kind: "whole" }
  | { kind: "thread"; id: string }
  | { kind: "file"; path: string }
  | { kind: "line"; path: string; side: Side; line: number }
  /** Where lines are not shown: nothing can be written about them here. */
  | { kind: "hidden"; path: string }
  /** A line that an earlier revision had, in a form of what is new since. */
  | { kind: "gone"; path: string };

/** A line of a form as it is written, without the sign of a quotation, and what it belongs to. */
export interface FormLine {
  text: string;
  place: Place;
}

/** What a change set is, as far as a form tells it. */
export interface FormView {
  repository: string;
  number: number;
  title: string;
  description: string;
  author: string;
  source: string;
  target: string;
  revision: number;
  /** Where only what is new since a revision is shown: which; null for the whole. */
  since: number | null;
  /** By which the same form sent twice is carried out once. */
  key: string;
  gate: { met: boolean; says: string; who: string | null }[];
  threads: FormThread[];
  files: FormFile[];
  /** For the author: no verdict is offered. */
  own: boolean;
}

export interface FormThread {
  id: string;
  /** Where it stands, in words. */
  where: string;
  /** "open, to be settled", "an aside", "resolved". */
  state: string;
  /** The lines that it was written about. */
  quoted: string[];
  comments: { by: string; body: string }[];
}

export interface FormFile {
  path: string;
  /** What happened to it beside its lines, in sentences. */
  says: string[];
  rows: FormRow[];
}

/** A row of a file: a line with its numbers on both sides, or words for lines that are not shown. */
export type FormRow =
  | { kind: "same" | "removed" | "added"; old: number; next: number; text: string }
  | { kind: "hidden"; says: string };

/** What a form says once it is filled in. `at` are 1-based lines of the text that was sent. */
export interface FormReview {
  revision: number | null;
  key: string | null;
  verdict: Verdict;
  word: string;
  remarks: FormRemark[];
  replies: { at: number; thread: string; body: string; resolves: boolean }[];
  tasks: { at: number; body: string; person: string | null }[];
}

export interface FormRemark {
  at: number;
  place: { kind: "file"; path: string } | { kind: "lines"; path: string; side: Side; start: number; end: number };
  body: string;
  weight: Weight;
  /** The lines to stand there instead; null where nothing is suggested. */
  suggests: string[] | null;
}

/** What could not be understood, and at which line of the text, 1-based. */
export interface FormProblem {
  line: number;
  says: string;
}
