import {
  type BundledLanguage,
  bundledLanguages,
  bundledLanguagesInfo,
  createCssVariablesTheme,
  createHighlighter,
  type GrammarState,
  type Highlighter,
  type ThemedToken,
} from "shiki";
import { COLOUR_CLASSES } from "@/core/views/api";
import { Patience } from "./thread-time";

/** Beyond this a file is shown without colours: they would take longer than reading it. */
const MOST_CHARACTERS = 3_000_000;
const LONGEST_LINE = 2_000;
/** How much is coloured before it is asked how long it takes, in characters. */
const AT_ONCE = 5_000;
/**
 * How long one line may take by the clock, and how much of a processor a file, in milliseconds: what comes behind is without colours. Lines can be written of which each takes seconds; and
 * the first of a language does on a busy machine, since its patterns are compiled by it.
 */
const PATIENCE = { line: 2_000, file: 10_000 };

const BY_NAME: Record<string, BundledLanguage> = {
  dockerfile: "docker",
  makefile: "make",
  gemfile: "ruby",
  rakefile: "ruby",
  "cmakelists.txt": "cmake",
  ".gitattributes": "ini",
  ".gitconfig": "ini",
  ".editorconfig": "ini",
  ".bashrc": "bash",
  ".npmrc": "ini",
};
const BY_ENDING: Record<string, BundledLanguage> = {
  h: "c",
  hpp: "cpp",
  hh: "cpp",
  cc: "cpp",
  cxx: "cpp",
  mts: "typescript",
  cts: "typescript",
  htm: "html",
  svg: "xml",
  xsd: "xml",
  xsl: "xml",
  plist: "xml",
  ipynb: "json",
  webmanifest: "json",
  conf: "ini",
  cfg: "ini",
  pyi: "python",
  bash: "bash",
  zsh: "bash",
  patch: "diff",
};

/** The language of a file by its name; null when it is not known. */
export function languageOf(path: string): BundledLanguage | null {
  const name = path.slice(path.lastIndexOf("/") + 1).toLowerCase();
  if (Object.hasOwn(BY_NAME, name)) return BY_NAME[name];
  const ending = name.slice(name.lastIndexOf(".") + 1);
  if (Object.hasOwn(BY_ENDING, ending)) return BY_ENDING[ending];
  if (!name.includes(".")) return null;
  if (Object.hasOwn(bundledLanguages, ending)) return ending as BundledLanguage;
  return null;
}

const theme = createCssVariablesTheme({ name: "classes", variablePrefix: "--c-", fontStyle: false });
const CLASS_OF = new Map<string, number>(COLOUR_CLASSES.map((name, number) => [`var(--c-token-${name})`, number]));
CLASS_OF.set("var(--c-token-string-expression)", CLASS_OF.get("var(--c-token-string)")!);

let started: Promise<Highlighter> | null = null;

/** Flat runs of length and class for each line, in UTF-16 units; empty for a language that is not known. */
export async function colourLines(path: string, lines: readonly string[]): Promise<number[][]> {
  const language = languageOf(path);
  if (!language || bundledLanguagesInfo.length === 0) return [];
  if (lines.reduce((sum, line) => sum + line.length, 0) > MOST_CHARACTERS) return [];
  started ??= createHighlighter({ themes: [theme], langs: [] });
  const highlighter = await started;
  await highlighter.loadLanguage(language);
  const coloured: number[][] = [];
  const patience = new Patience(PATIENCE.file);
  let grammarState: GrammarState | undefined;
  for (const some of pieces(lines)) {
    if (patience.isOver()) coloured.push(...some.map(() => []));
    else {
      const code = some.map((line) => (line.length > LONGEST_LINE ? "" : line.replace(/\r$/, " "))).join("\n");
      const options = { lang: language, theme: "classes", tokenizeTimeLimit: PATIENCE.line, grammarState };
      const { tokens, grammarState: after } = highlighter.codeToTokens(code, options);
      grammarState = after;
      coloured.push(...tokens.map(runsOf));
    }
  }
  return coloured;
}

/** Lines one after the other, as many at a time as come to {@link AT_ONCE} characters, and one at least. */
function* pieces(lines: readonly string[]): Generator<readonly string[]> {
  let start = 0;
  let size = 0;
  for (const [at, line] of lines.entries()) {
    size += line.length + 1;
    if (size < AT_ONCE && at < lines.length - 1) continue;
    yield lines.slice(start, at + 1);
    [start, size] = [at + 1, 0];
  }
}

function runsOf(line: readonly ThemedToken[]): number[] {
  const runs: number[] = [];
  for (const { content, color } of line) {
    const kind = CLASS_OF.get(color ?? "") ?? 0;
    if (runs.length > 0 && runs[runs.length - 1] === kind) runs[runs.length - 2] += content.length;
    else runs.push(content.length, kind);
  }
  return runs.length === 2 && runs[1] === 0 ? [] : runs;
}
