/** One change, in one or more files, and what its reader must be told of it. */
export interface Case {
  /** What it does to whoever is fooled, or why it is harmless. */
  what: string;
  files: Record<string, CaseFile>;
  /** Foolable: at least this of it is to be read. Harmless: nothing is. */
  expected: "to-read" | "quiet";
  /** For harmless ones: the classes that hold its lines, and no others. For foolable ones: a text that stands on a line to be read. */
  classes?: string[];
  shows?: string;
}

export interface CaseFile {
  old: string | null;
  next: string | null;
  /** In octal as git has them; 100644 unless said. */
  oldMode?: number;
  newMode?: number;
  /** What would be taken for it. */
  twin?: string;
  /** What the target's attributes say. */
  generated?: boolean;
}

/** A change in one file that must be read; `shows` is a text on one of the lines that are. */
export function foolable(path: string, what: string, old: string | null, next: string | null, shows?: string): Case {
  return { what, files: { [path]: { old, next } }, expected: "to-read", shows };
}

/** A change in one file of which nothing has to be read, all of it being of some classes. */
export function harmless(path: string, what: string, old: string, next: string, ...classes: string[]): Case {
  return { what, files: { [path]: { old, next } }, expected: "quiet", classes };
}

/** A change in several files. */
export function foolableIn(what: string, files: Record<string, CaseFile>, shows?: string): Case {
  return { what, files, expected: "to-read", shows };
}

export function harmlessIn(what: string, files: Record<string, CaseFile>, ...classes: string[]): Case {
  return { what, files, expected: "quiet", classes };
}
