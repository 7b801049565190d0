import {
  type BundledLanguage,
  bundledLanguages,
  bundledLanguagesInfo,
  createCssVariablesTheme,
  createHighlighter,
  type Highlighter,
} from "shiki";
import { COLOUR_CLASSES } from "@/core/views/api";

/** Beyond this a file is shown without colours: they would take longer than reading it. */
const MOST_CHARACTERS = 3_000_000;
const LONGEST_LINE = 2_000;

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
  const { tokens } = highlighter.codeToTokens(
    lines.map((line) => (line.length > LONGEST_LINE ? "" : line.replace(/\r$/, " "))).join("\n"),
    {
      lang: language,
      theme: "classes",
      tokenizeTimeLimit: 2_000,
    },
  );
  return tokens.map((line) => {
    const runs: number[] = [];
    for (const { content, color } of line) {
      const kind = CLASS_OF.get(color ?? "") ?? 0;
      if (runs.length > 0 && runs[runs.length - 1] === kind) runs[runs.length - 2] += content.length;
      else runs.push(content.length, kind);
    }
    return runs.length === 2 && runs[1] === 0 ? [] : runs;
  });
}
