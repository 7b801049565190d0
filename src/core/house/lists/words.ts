/** A word of a query: what is asked by it, in a sentence, and what can be said of it. */
export interface Word {
  key: Key;
  about: string;
  /** The values that there are; or where they come from, or how they look. */
  values: readonly string[] | "people" | "asked" | "repositories" | "branch" | "count" | "span" | "path" | "label";
}

const WORDS = {
  state: {
    about: "Where it stands: going (open or a draft), open, draft, settled, merged or withdrawn.",
    values: ["going", "open", "draft", "settled", "merged", "withdrawn"],
  },
  by: { about: "Who offers it: a name, or me.", values: "people" },
  asked: { about: "Who was asked to review it: a name, me, or nobody.", values: "asked" },
  move: {
    about: "Who has to move next, by what was said and asked: me, the author, or the reviewers.",
    values: ["me", "author", "reviewers"],
  },
  with: { about: "Who has to do with it, as its author, a reviewer or in a thread: a name, or me.", values: "people" },
  in: { about: "The repository.", values: "repositories" },
  from: { about: "The branch that is offered; * stands for anything.", values: "branch" },
  into: { about: "The branch it is to merge into; * stands for anything.", values: "branch" },
  checks: {
    about: "What the checks of its newest revision say: passed, failed, running or none.",
    values: ["passed", "failed", "running", "none"],
  },
  threads: { about: "How many threads are open, such as >0.", values: "count" },
  rounds: { about: "How many revisions it has, such as >2.", values: "count" },
  load: { about: "How many lines there are to read in its newest revision, such as <100.", values: "count" },
  path: {
    about: "A path that it touches: a file, a folder such as tariff/, or an ending such as *.sql.",
    values: "path",
  },
  label: { about: "A label that it has, given by somebody or by what it touches, or none.", values: "label" },
  age: {
    about: "How long ago it was opened: >7d is more than a week ago, <12h within the last twelve hours.",
    values: "span",
  },
  still: { about: "How long nothing happened to it, such as >1w.", values: "span" },
  sort: {
    about:
      "Which come first: changed (the newest), still (what waits longest), age (the oldest), load (the shortest to read).",
    values: ["changed", "still", "age", "load"],
  },
} as const satisfies Record<string, Omit<Word, "key">>;

export type Key = keyof typeof WORDS;

/** All words of a query, by what they are written as. */
export const KEYS: ReadonlyMap<string, Word> = new Map(
  (Object.entries(WORDS) as [Key, Omit<Word, "key">][]).map(([key, word]) => [key, { key, ...word }]),
);

/** Lists that everyone has to begin with. */
export const EXAMPLES: readonly { name: string; query: string }[] = [
  { name: "Mine", query: "by:me state:going" },
  { name: "Asked of me", query: "asked:me state:going" },
  { name: "My move", query: "move:me sort:still" },
  { name: "Nobody was asked", query: "asked:nobody state:open" },
  { name: "Still for more than a week", query: "state:open still:>1w sort:still" },
];
