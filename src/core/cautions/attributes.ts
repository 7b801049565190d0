import { addTo } from "../plain/grouped";
import { visible } from "./visible";

/** Attributes by which a checkout holds other bytes than the repository; `binary` is git's own name for some of them. */
const CONVERTING = new Set(["filter", "working-tree-encoding", "eol", "text", "crlf", "ident", "binary"]);
/** What is taken for generated, and folded away. */
const GENERATED = new Set(["lens-generated"]);
/** Attributes that change neither, as git and others know them; one that nobody knows can stand for several in a file of attributes further up. */
const HARMLESS =
  /^(?:diff|merge|whitespace|delta|encoding|export-ignore|export-subst|conflict-marker-size|linguist-.*)$/;

/**
 * What a change of a file of attributes can do once it is merged, as a sentence: by which of its lines, come or gone, a checkout holds other bytes than are
 * read here, and by which files are folded away. Names that stand for several attributes are followed, also where they were there before. Lines of both
 * texts are without their ends.
 *
 * @example attributesSentence(".gitattributes", [], ["*.js text"]); // "Once merged, a checkout can hold other bytes than are read here, by “*.js text”."
 */
export function attributesSentence(path: string, old: readonly string[], next: readonly string[]): string {
  const [before, after] = [new Attributes(path, old), new Attributes(path, next)];
  const come = after.lines.filter((line) => !before.has(line));
  const gone = before.lines.filter((line) => !after.has(line));
  if (come.length + gone.length === 0 && before.lines.join("\n") !== after.lines.join("\n"))
    return "The same lines stand in another order: of those that fit a file the last one decides.";
  const told = (asks: (state: Attributes) => (line: string) => boolean) =>
    few([
      ...come.filter(asks(after)).map(quoted),
      ...gone.filter(asks(before)).map((line) => `${quoted(line)}, no longer`),
    ]);
  const naming = (wanted: ReadonlySet<string>) => (state: Attributes) => {
    const names = state.withNames(wanted);
    return (line: string) => wordsOf(line).some((word) => names.has(nameOf(word)));
  };
  const converts = told(naming(CONVERTING));
  const marks = told(naming(GENERATED));
  const open = told((state) => (line) => state.mayName(line));
  const says: string[] = [];
  if (converts) says.push(`Once merged, a checkout can hold other bytes than are read here, by ${converts}.`);
  if (open) says.push(`What a name stands for can be said in another file of attributes: ${open}.`);
  if (marks)
    says.push(
      `Once merged, this decides what is taken for generated and folded away: ${marks}. In this change set it hides nothing.`,
    );
  return says.join(" ") || "This file says what is taken for generated, and what a checkout makes of files.";
}

const MOST_SAID = 10;
const few = (all: readonly string[]) =>
  [...all.slice(0, MOST_SAID), ...(all.length > MOST_SAID ? [`and ${all.length - MOST_SAID} more`] : [])].join(", ");

const MACRO = /^\[attr\](\S+)/;
const quoted = (line: string) => `“${visible(line)}”`;

/** The words of a line behind its pattern, which may be in quotes, or behind the name that it gives. */
const wordsOf = (line: string) =>
  line
    .replace(/^"(?:\\.|[^"\\])*"|^\S+/, "")
    .trim()
    .split(/\s+/);
const nameOf = (word: string) => word.replace(/^[-!]/, "").replace(/=.*$/s, "");

/** One state of a file of attributes. */
class Attributes {
  readonly lines: readonly string[];
  private readonly all: ReadonlySet<string>;
  private readonly isTop: boolean;

  constructor(path: string, text: readonly string[]) {
    this.lines = text.map((line) => line.trim()).filter((line) => !/^(?:#|$)/.test(line));
    this.all = new Set(this.lines);
    this.isTop = path === ".gitattributes";
  }

  has(line: string): boolean {
    return this.all.has(line);
  }

  /** These attributes, and the names that stand for one of them, also by another name. */
  withNames(wanted: ReadonlySet<string>): ReadonlySet<string> {
    const standFor = new Map<string, string[]>();
    for (const line of this.lines) {
      const macro = MACRO.exec(line)?.[1];
      if (macro === undefined) continue;
      for (const name of wordsOf(line).map(nameOf)) addTo(standFor, name, macro);
    }
    const found = new Set(wanted);
    // What is added to a set while it is gone through is gone through, too.
    for (const name of found) for (const macro of standFor.get(name) ?? []) found.add(macro);
    return found;
  }

  /** Whether a line sets an attribute that this file does not say the meaning of, and another one could: only the one at the top, or one outside, gives names. */
  mayName(line: string): boolean {
    const isOpen = (word: string) =>
      /^[^-!=]+$/.test(word) && !HARMLESS.test(word) && !CONVERTING.has(word) && !GENERATED.has(word);
    return !this.isTop && !MACRO.test(line) && wordsOf(line).some(isOpen);
  }
}
