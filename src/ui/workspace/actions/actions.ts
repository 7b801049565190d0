/** The headings under which the sheet of keys lists actions. */
export const SUBJECTS = ["Going on", "What is shown", "Remarks and threads", "The change set"] as const;
type Subject = (typeof SUBJECTS)[number];

export interface Action {
  /** In small letters, as {@link keyOf} names them: "d", "shift d", "arrowdown". None: only by the command field. */
  keys: readonly string[];
  /** What it does, to follow "You can …". */
  label: string;
  subject: Subject;
}

const going = (label: string, ...keys: string[]): Action => ({ keys, label, subject: "Going on" });
const shown = (label: string, ...keys: string[]): Action => ({ keys, label, subject: "What is shown" });
const talk = (label: string, ...keys: string[]): Action => ({ keys, label, subject: "Remarks and threads" });
const whole = (label: string, ...keys: string[]): Action => ({ keys, label, subject: "The change set" });

/** Everything that can be done by a key or by its name. The parts of the workspace say what happens then: see `useActions`. */
export const ACTIONS = {
  "next-line": going("go to the next line", "arrowdown"),
  "previous-line": going("go to the previous line", "arrowup"),
  "page-down": going("go on by a page", "pagedown"),
  "page-up": going("go back by a page", "pageup"),
  "first-line": going("go to the first line", "home"),
  "last-line": going("go to the last line", "end"),
  "next-difference": going("go to the next difference, on into the next file", "d"),
  "previous-difference": going("go to the previous difference", "shift d"),
  "next-alike": going("go to the next place with the same change", "="),
  "previous-alike": going("go to the previous place with the same change", "+"),
  "next-left-alone": going("go to the next use of what changed that is not in the change set", ";"),
  "next-file": going("go to the next file", "f"),
  "previous-file": going("go to the previous file", "shift f"),
  "read-next": going("mark the file read and go to the next unread one", "m"),
  "next-unread": going("go to the next file that is not read", "n"),
  "mark-unread": going("mark the file unread", "u"),
  parts: going("go to a part of this file by its name", "'"),
  search: going("search in what changed, or in the changed files", "/"),
  "go-to": going("go to a file, or do something by its name", "ctrl k"),

  "next-name": shown("see what the next name of the line means, and where it is used", "."),
  "previous-name": shown("see what the name before it means", ","),
  "open-nearest": shown("open the hidden or folded lines nearest to where you are", "o"),
  "whole-file": shown("show the whole file, or only what changed", "shift o"),
  "open-block": shown("open the block around the line, then the one around that", "e"),
  evidence: shown("show what stood there before, and why it changed", "y"),
  "file-history": shown("see how the file came to be, commit by commit", "#"),
  "who-and-when": shown("show beside each line who wrote it, and when", "*"),
  verify: shown("verify a fold: what proves it, and both sides whole", "z"),
  drawn: shown("show a text as it reads, a table by its cells, data by its keys; or line by line", "-"),
  raw: shown("show everything raw, or fold the quiet lines", "v"),
  columns: shown("show this file in two columns, or in one", "k"),
  "columns-of-all": shown("show all files as it fits, in one column, in two", "shift k"),
  frame: shown("open what the change set is and what is read of it, or fold it to a line", "shift b"),
  "outline-shape": shown("list the files by folder, or as they are best read"),
  "outline-narrow": shown("narrow the outline to marks, or open it", "<"),
  wrap: shown("wrap long lines, or leave each in one", "l"),
  "whole-line": shown("see all of a very long line, piece by piece", "shift l"),

  "select-down": talk("select one line more", "shift arrowdown"),
  "select-up": talk("select one line less", "shift arrowup"),
  "end-selection": talk("select nothing", "escape"),
  remark: talk("write a remark on the line or lines", "w"),
  "remark-on-file": talk("write a remark on the file as a whole", "shift w"),
  "hide-remarks": talk("hide the remarks, or show them", "h"),
  "next-thread": talk("go to the next open thread", "t"),
  "next-unanswered": talk("go to the next thread that waits for an answer of the author", "q"),
  reply: talk("reply in the thread", "r"),
  settle: talk("resolve the thread, or open it again", "x"),
  "then-and-now": talk("see then and now: what the lines of the thread said, and say", "i"),
  take: talk("take the suggestions you picked", "p"),

  brief: whole("read the brief", "b"),
  "all-or-new": whole("read all of the change set, or only what is new to you", "a"),
  revisions: whole("choose the revisions from which to which you read", "j"),
  "next-commit": whole("read the next commit by itself", "c"),
  "previous-commit": whole("read the previous commit by itself", "shift c"),
  "more-commits": whole("read one commit more along with those shown", "g"),
  "fewer-commits": whole("read one commit less along with those shown", "shift g"),
  send: whole("send the review", "s"),
  merge: whole("merge it"),
  keys: whole("see what each key does", "?"),
} satisfies Record<string, Action>;

export type ActionId = keyof typeof ACTIONS;
export const ACTION_IDS = Object.keys(ACTIONS) as ActionId[];

/** By each key, what it does. */
export const BY_KEY: ReadonlyMap<string, ActionId> = new Map(
  ACTION_IDS.flatMap((id) => ACTIONS[id].keys.map((key): [string, ActionId] => [key, id])),
);

/** The name of a pressed key: "d", "shift d", "ctrl k", "arrowdown", "?". Shift is named for letters and for keys that write nothing. */
export function keyOf({
  key: pressed,
  ctrlKey,
  shiftKey,
  altKey = false,
  code = "",
}: Pick<KeyboardEvent, "key" | "ctrlKey" | "shiftKey"> & Partial<Pick<KeyboardEvent, "altKey" | "code">>): string {
  // With Alt some keyboards write another sign: then the place of the key says which letter it is.
  const [, letter] = (altKey && /^Key([A-Z])$/.exec(code)) || [];
  const key = letter ?? (pressed.length === 1 ? pressed.toUpperCase() : pressed);
  const shift = shiftKey && (/^\p{Lu}$/u.test(key) || key.length > 1);
  return `${ctrlKey ? "ctrl " : ""}${shift ? "shift " : ""}${key.toLowerCase()}`;
}

const SIGNS: Record<string, string> = {
  ...{ arrowdown: "↓", arrowup: "↑", pagedown: "Page ↓", pageup: "Page ↑", escape: "Esc" },
};

/** A key as it is shown: "Shift D", "Ctrl K", "↓". */
export function keyLabel(key: string): string {
  return key
    .split(" ")
    .map((part) => SIGNS[part] ?? part.charAt(0).toUpperCase() + part.slice(1))
    .join(" ");
}
