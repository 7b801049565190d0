/**
 * The languages whose grammars are at hand, and what of their texts may count as quiet. What a language does not say here is not quiet in
 * it: a rule that is missing leaves lines to be read.
 */

/** Where line breaks may come and go between tokens: anywhere, nowhere, or only after and before the tokens named. */
export type Breaks =
  | "free"
  | "kept"
  /** `clauses`: also between `}` and the word that goes on with the same statement, such as `else`. */
  | { after: ReadonlySet<string>; before: ReadonlySet<string>; clauses?: true };

/**
 * When a definition is there for what stands before it: `always`; `ahead`, those that only say what can be called, while others are run; when it is `run`;
 * or when it was `declared` before.
 */
export type DefinitionsAreThere = "always" | "ahead" | "run" | "declared";

export interface Language {
  id: LanguageId;
  paths: RegExp;
  /** Programs named by a first line `#!…` that run it, and names that a mode line of an editor gives it. */
  names: readonly string[];
  /** How white space between tokens may change: `free` also comes and goes, of `kept` only the amount may change. */
  gaps: "free" | "kept";
  breaks: Breaks;
  /** A tab is no white space to all that read it. */
  tabless?: true;
  /** Lines that begin with `#` are for a preprocessor: they end where the line does. */
  directives?: true;
  /** What looks like a call may be a macro that makes a text of what it is given. */
  macros?: true;
  /** Words such as `private:` speak of all members of a class that follow. */
  sections?: true;
  /** Texts and comments whose meaning depends on how they are indented, or on standing at the beginning of a line. */
  placed?: RegExp;
  /** Tokens behind which white space neither comes nor goes, nor ends a line. */
  holding?: RegExp;
  /** Indentation is structure: lines are broken within brackets alone, and what is moved has to come under the same kind of parent. */
  indented: boolean;
  /** An ending `\r\n` and `\n` mean the same: also within its texts, only outside of them, or never. */
  endings: "free" | "outside-texts" | "never";
  /** Blocks that stand elsewhere mean the same: not so in data and style sheets, where the place is the meaning. */
  moves: boolean;
  /** Blocks decide about what stands in them. */
  blocks: boolean;
  order: DefinitionsAreThere;
  /** How far what a file defines is seen without being imported: in that file, in its folder, or beyond. */
  seen: "file" | "folder" | "beyond";
  /** What parts a name by which a parameter can be given its value from that value: `hold(berth=1)`. */
  labels?: "=" | ":";
  /** Functions and types are called in small letters or in capitals. */
  caseless?: true;
  /** Names of parts (`.berth`) are told from others by the grammar, also where they are declared. */
  tellsParts?: true;
  /** Names can be told from other tokens, so that a replaced name can be proven. */
  identifiers: RegExp | null;
  /** Nodes of the grammar that are texts beyond what is one in every language. */
  texts?: RegExp;
  /** Import declarations whose order has no effect. */
  imports: ImportRule | null;
}

export interface ImportRule {
  /** The node that is one import. */
  node: RegExp;
  /** Nodes at the top level that hold several imports, and nothing else but comments; null where there are none. */
  gathers: RegExp | null;
  /** A later import of a name takes the place of an earlier one. */
  binds?: boolean;
  /** Whether it is no more than plain, by its tokens: not imported for what it does when loaded, not all names at once. */
  plain: (tokens: readonly { type: string; text: string }[]) => boolean;
}

export type LanguageId =
  | "bash"
  | "c"
  | "cpp"
  | "csharp"
  | "css"
  | "go"
  | "java"
  | "javascript"
  | "json"
  | "php"
  | "powershell"
  | "python"
  | "ruby"
  | "rust"
  | "toml"
  | "tsx"
  | "typescript"
  | "yaml";

const set = (words: string): ReadonlySet<string> => new Set(words.split(" "));

const OPERATORS = "( [ { , ; && || ?? = += -= *= /= => | & + - * / % < > <= >= == === != !== ** ? :";
/** After these nothing ends in JavaScript, and before those nothing can begin. `++`, `--` and words are in neither: there a line ends. */
const SCRIPT_BREAKS: Breaks = {
  after: set(`${OPERATORS} . ?. ...`),
  before: set(") ] } , ; . ?. && || ?? ? :"),
  clauses: true,
};

/** In TypeScript `a < b >` at the end of a line gives types to `a`, and is compared with nothing. */
const TYPED_BREAKS: Breaks = {
  ...SCRIPT_BREAKS,
  after: new Set([...SCRIPT_BREAKS.after].filter((sign) => sign !== ">")),
};

const IDENTIFIER =
  /^(?:identifier|property_identifier|shorthand_property_identifier|shorthand_property_identifier_pattern|type_identifier|field_identifier|namespace_identifier|package_identifier|private_property_identifier|statement_identifier|name|constant|variable_name|class_name)$/;

const SCRIPT_IMPORTS: ImportRule = {
  node: /^import_statement$/,
  gathers: null,
  // `import "x"` and `import {} from "x"` load for effect, `import x = require("x")` calls; attributes choose how a module is loaded.
  plain: (tokens) =>
    tokens.some(({ text }) => text === "from") &&
    !tokens.some(({ text }, n) => text === "{" && tokens[n + 1]?.text === "}") &&
    !tokens.some(({ type, text }) => type === "require" || text === "require" || text === "with" || text === "assert"),
};

/** Modules of Python's own library that do nothing to others when they are loaded. Any other module may, when it is imported. */
const PYTHON_LIBRARY = set(
  "abc argparse array ast asyncio base64 bisect calendar collections concurrent contextlib copy csv dataclasses datetime decimal difflib " +
    "enum errno fnmatch fractions functools glob gzip hashlib heapq hmac html http importlib inspect io ipaddress itertools json logging " +
    "math mimetypes numbers operator os pathlib pickle platform pprint queue random re secrets shlex shutil signal socket sqlite3 ssl stat " +
    "statistics string struct subprocess sys tempfile textwrap threading time timeit traceback types typing unicodedata unittest urllib uuid " +
    "warnings weakref xml zipfile zlib zoneinfo",
);

const common = {
  gaps: "free",
  breaks: "free",
  indented: false,
  endings: "outside-texts",
  moves: true,
  blocks: true,
  order: "run",
  seen: "beyond",
} as const;
const coded = { ...common, identifiers: IDENTIFIER, imports: null };
const data = { ...common, moves: false, blocks: false, identifiers: null, imports: null };

export const LANGUAGES: readonly Language[] = [
  {
    ...coded,
    id: "typescript",
    tellsParts: true,
    order: "ahead",
    seen: "file",
    paths: /\.[cm]?ts$/i,
    names: ["ts-node", "tsx", "deno", "typescript"],
    breaks: TYPED_BREAKS,
    endings: "free",
    imports: SCRIPT_IMPORTS,
  },
  {
    ...coded,
    id: "tsx",
    tellsParts: true,
    order: "ahead",
    seen: "file",
    paths: /\.tsx$/i,
    names: [],
    breaks: TYPED_BREAKS,
    endings: "free",
    imports: SCRIPT_IMPORTS,
  },
  {
    ...coded,
    id: "javascript",
    tellsParts: true,
    order: "ahead",
    seen: "file",
    paths: /\.(?:[cm]?js|jsx)$/i,
    names: ["node", "bun", "javascript", "js"],
    breaks: SCRIPT_BREAKS,
    endings: "free",
    imports: SCRIPT_IMPORTS,
  },
  {
    ...coded,
    id: "python",
    labels: "=",
    seen: "file",
    paths: /\.(?:py|pyi|pyw)$/i,
    names: ["python", "python2", "python3"],
    indented: true,
    endings: "free",
    imports: {
      node: /^import_(?:from_)?statement$/,
      binds: true,
      gathers: null,
      plain: (tokens) =>
        PYTHON_LIBRARY.has(tokens[1]?.text ?? "") && !tokens.some(({ text }) => text === "*" || text === ","),
    },
  },
  {
    ...coded,
    id: "go",
    tellsParts: true,
    order: "always",
    seen: "folder",
    paths: /\.go$/,
    names: [],
    placed: /^\/\/(?:[a-z]|[ \t]*\+build)/,
    breaks: { after: set("( [ { , && || + - * / = := | &"), before: set("") },
    endings: "free",
    imports: {
      node: /^import_spec$/,
      gathers: /^import_(?:declaration|spec_list)$/,
      plain: (tokens) => !tokens.some(({ text }) => text === "_" || text === "." || text === '"C"'),
    },
  },
  {
    ...coded,
    id: "java",
    order: "always",
    seen: "folder",
    paths: /\.java$/,
    names: [],
    endings: "free",
    imports: {
      node: /^import_declaration$/,
      gathers: null,
      plain: () => true,
    },
  },
  {
    ...coded,
    id: "rust",
    order: "always",
    seen: "file",
    paths: /\.rs$/,
    names: ["rust"],
    endings: "free",
    imports: {
      node: /^use_declaration$/,
      gathers: null,
      plain: (tokens) => !tokens.some(({ text }) => text === "*"),
    },
  },
  {
    ...coded,
    id: "c",
    tellsParts: true,
    order: "declared",
    paths: /\.c$/,
    names: ["c"],
    directives: true,
    macros: true,
  },
  {
    ...coded,
    id: "cpp",
    tellsParts: true,
    order: "declared",
    paths: /\.(?:cc|cpp|cxx|h|hh|hpp|hxx|ipp|inl)$/i,
    names: ["c++", "cpp"],
    directives: true,
    macros: true,
    sections: true,
  },
  { ...coded, id: "csharp", labels: ":", order: "always", paths: /\.cs$/, names: [], directives: true },
  {
    ...coded,
    id: "php",
    labels: ":",
    order: "ahead",
    caseless: true,
    holding: /^(?:<\?(?:php)?|\$)$/i,
    paths: /\.(?:php|phtml)$/i,
    names: ["php"],
    imports: {
      node: /^namespace_use_declaration$/,
      gathers: null,
      plain: () => true,
    },
  },
  {
    ...coded,
    id: "ruby",
    labels: ":",
    paths: /\.(?:rb|rake|gemspec)$|(?:^|\/)(?:Rakefile|Gemfile)$/,
    names: ["ruby"],
    placed: /^=begin/,
    sections: true,
    gaps: "kept",
    breaks: { after: set("( [ { , && || ="), before: set(") ] }") },
  },
  {
    ...coded,
    id: "bash",
    paths: /\.(?:sh|bash|zsh|ksh)$|(?:^|\/)\.(?:bashrc|bash_profile|profile|zshrc)$/,
    names: ["sh", "bash", "dash", "zsh", "ksh"],
    gaps: "kept",
    breaks: "kept",
    endings: "never",
    identifiers: /^variable_name$/,
  },
  {
    ...coded,
    id: "powershell",
    caseless: true,
    paths: /\.psm?1$/i,
    names: ["pwsh", "powershell"],
    gaps: "kept",
    breaks: "kept",
    endings: "never",
    identifiers: null,
  },
  { ...data, id: "css", blocks: true, paths: /\.css$/i, names: ["css"], gaps: "kept", texts: /^arguments$/ },
  { ...data, id: "json", blocks: true, paths: /\.(?:json|geojson|webmanifest)$/i, names: ["json"], endings: "free" },
  {
    ...data,
    id: "yaml",
    tabless: true,
    paths: /\.ya?ml$/i,
    names: ["yaml"],
    placed: /^[|>][-+]?[1-9]/,
    gaps: "kept",
    breaks: "kept",
    indented: true,
  },
  {
    ...data,
    id: "toml",
    paths: /\.toml$/i,
    names: ["toml"],
    breaks: { after: set("[ ,"), before: set("]") },
  },
];

const BY_ID = new Map(LANGUAGES.map((language) => [language.id, language]));
const BY_NAME = new Map(LANGUAGES.flatMap((language) => language.names.map((name) => [name, language] as const)));

export function languageById(id: LanguageId): Language {
  return BY_ID.get(id)!;
}

/** Where mode lines of editors are looked for: among so many first and last lines. */
const MODE_LINES = 5;

/**
 * The language of a file, by its path, then by a first line such as `#!/usr/bin/env python3`, then by a mode line of an editor. Null when
 * none is known. A first line or mode line that contradicts the path makes it unknown: then nobody can say how the text is read.
 *
 * @example languageOf("tide.py", ["import os"])?.id // "python"
 */
export function languageOf(path: string, lines: readonly string[]): Language | null {
  const byPath = LANGUAGES.find(({ paths }) => paths.test(path)) ?? null;
  const said = namedInText(lines);
  if (!said) return byPath;
  const byName = BY_NAME.get(said) ?? null;
  if (!byPath) return byName;
  return byName === null || FAMILY[byName.id] === FAMILY[byPath.id] ? byPath : null;
}

/** Languages that name each other in mode lines and first lines without contradiction. */
const FAMILY = Object.fromEntries(LANGUAGES.map(({ id }) => [id, id])) as Record<LanguageId, string>;
FAMILY.tsx = FAMILY.typescript = FAMILY.javascript = "script";
FAMILY.cpp = FAMILY.c = "c";

/** The program that a first line gives a text to, in lower case and without a version; null where it names none. */
export function programOf(first: string): string | null {
  if (!first.startsWith("#!")) return null;
  const parts = first
    .slice(2, 200)
    .trim()
    .split(/[ \t]+/);
  const program = parts[0]?.endsWith("/env") ? parts.slice(1).find((part) => !/^-|=/.test(part)) : parts[0];
  const name = program?.slice(program.lastIndexOf("/") + 1).toLowerCase();
  return name ? (BY_NAME.has(name) ? name : name.replace(/[\d.]+$/, "")) : null;
}

/** What a text says of its own language, in lower case and without a version; null when it says nothing. */
function namedInText(lines: readonly string[]): string | null {
  const program = programOf(lines[0] ?? "");
  if (program !== null) return program;
  const looked = lines.length > 2 * MODE_LINES ? [...lines.slice(0, MODE_LINES), ...lines.slice(-MODE_LINES)] : lines;
  for (const line of looked) {
    if (line.length > 300) continue;
    const found =
      /-\*-[ \t]*(?:.{0,80}mode:[ \t]*)?([\w+#]+)[ \t]*(?:;.*)?-\*-/i.exec(line)?.[1] ??
      /(?:vim?|ex):.{0,80}\b(?:ft|filetype|syntax)=([\w+#]+)/.exec(line)?.[1];
    if (found) return found.toLowerCase();
  }
  return null;
}
