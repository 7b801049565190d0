import { join } from "node:path";
import { compareFiles } from "@/core/diff/compare";
import { readText } from "@/core/diff/text";
import { languageOf } from "@/core/grammar/languages";
import type { Parse } from "@/core/grammar/parse";
import { isKind, type Syntax, TEXT, tokenText } from "@/core/grammar/syntax";
import type { ClassRun, LineClass, Side } from "@/core/quiet/classes";
import { makeReading } from "@/core/quiet/reading";
import type { Reading } from "@/core/quiet/whole-reading";
import { ObjectReader } from "@/git/objects";
import { allGrammars, forgetParses } from "@/server/workers/grammars/grammars";
import { compareTrees, type LoadedFile } from "@/server/workers/tree";
import { type Corpus, corpora } from "./corpora";

/** How many single tokens are changed in all, unless another number is given. */
const MUTATIONS = 10_000;

/** Quiet lines in which a single token is changed, and how many of them stayed hidden then. */
interface Tally {
  made: number;
  hidden: number;
}

/**
 * Changes single tokens in lines of real histories that were quiet, one at a time, and makes the reading anew: the changed line has to be to
 * read each time. Lines that are quiet because somebody, or the shape of a whole file, says that it is generated are left out: there
 * nothing is promised of single tokens.
 */
export async function mutations(say: (words: string) => void, args: string[]): Promise<number> {
  const wanted = Number(args[0]) || MUTATIONS;
  const list = await corpora(join(process.env.LENS_ROOT ?? process.cwd(), ".cache", "corpora"), say);
  if (list.length === 0) {
    say("No published history could be fetched.");
    return 1;
  }
  const parse = await allGrammars();
  const tallies = new Map<LineClass, Tally>();
  const examples: string[] = [];
  const random = generator(20_260_101);
  for (const [n, corpus] of list.entries()) {
    const share = Math.ceil((wanted - total(tallies).made) / (list.length - n));
    say(`${corpus.name}: ${share} changes …`);
    await mutateCorpus(corpus, share, parse, random, tallies, examples);
    forgetParses();
  }
  for (const [kind, { made, hidden }] of tallies)
    process.stdout.write(`${kind.padEnd(10)} ${made} changed, ${hidden} stayed hidden\n`);
  const { made, hidden } = total(tallies);
  for (const example of examples) process.stdout.write(`hidden: ${example}\n`);
  process.stdout.write(`${made} single tokens changed in quiet lines: ${hidden} stayed hidden\n`);
  return hidden === 0 && made > 0 ? 0 : 1;
}

function total(tallies: ReadonlyMap<LineClass, Tally>): Tally {
  const sum = { made: 0, hidden: 0 };
  for (const { made, hidden } of tallies.values()) {
    sum.made += made;
    sum.hidden += hidden;
  }
  return sum;
}

/** A quiet line of the new state of a file, or of the old one. */
interface Line {
  file: number;
  side: Side;
  line: number;
  run: ClassRun;
}

async function mutateCorpus(
  corpus: Corpus,
  share: number,
  parse: Parse,
  random: () => number,
  tallies: Map<LineClass, Tally>,
  examples: string[],
): Promise<void> {
  const objects = new ObjectReader(corpus.folder);
  let files: LoadedFile[];
  let reading: Reading;
  try {
    ({ files, reading } = await compareTrees(objects, corpus.from, corpus.to));
  } finally {
    objects.close();
  }
  const byPath = new Map(files.map((file) => [file.change.path, file]));
  const lines = reading.files.flatMap((file, at) =>
    file.runs
      .filter(({ class: kind, side }) => kind !== "read" && kind !== "generated" && side === "new")
      .flatMap((run) =>
        Array.from(
          { length: run.end - run.start },
          (_, i): Line => ({ file: at, side: "new", line: run.start + i, run }),
        ),
      ),
  );
  for (let made = 0, tried = 0; made < share && tried < share * 8 && lines.length > 0; tried++) {
    const line = lines[Math.floor(random() * lines.length)];
    const { path } = reading.files[line.file];
    const large = (byPath.get(path)?.newBytes?.length ?? 0) > LARGE;
    if (large && random() < 0.9) continue;
    const changed = mutate(byPath.get(path)!, line, parse, random);
    if (!changed) continue;
    made++;
    const tally = tallies.get(line.run.class) ?? { made: 0, hidden: 0 };
    tallies.set(line.run.class, tally);
    tally.made++;
    // What else belongs to the line: the other end of a move, and some of the other lines of the same replacement.
    const involved = new Set([path, ...othersOf(reading, line)]);
    const some = [...involved].map((other) => (other === path ? changed.file : byPath.get(other)!));
    const [again] = makeReading(some, parse).files.filter((file) => file.path === path);
    const quiet = again.runs.find(({ side, start, end }) => side === "new" && start <= line.line && line.line < end);
    // An unchanged line shows no change: the token was changed to what the old state has, or it is beside every hunk.
    if (quiet && quiet.class !== "read") {
      tally.hidden++;
      if (examples.length < 10)
        examples.push(`${corpus.name} ${path}:${line.line + 1} as ${quiet.class}: ${changed.says}`);
    }
  }
}

/** Each change in a file of so many bytes takes long: of those only every tenth is made. */
const LARGE = 150_000;
const OTHERS = 12;

function othersOf({ files, moves, echoes }: Reading, { run, file }: Line): string[] {
  if (run.class === "echo") return [files[echoes[run.ref].file].path];
  if (run.class === "moved") return [files[moves[run.ref].from.file].path];
  if (run.class !== "repeated") return [];
  const same = files.filter(
    (other, at) => at !== file && other.runs.some(({ class: kind, ref }) => kind === "repeated" && ref === run.ref),
  );
  return same.slice(0, OTHERS).map(({ path }) => path);
}

/** The file with one token of a line changed; null where the line has none, or the change is none. */
function mutate(
  file: LoadedFile,
  { line }: Line,
  parse: Parse,
  random: () => number,
): { file: LoadedFile; says: string } | null {
  const text = file.next[line];
  const spans = tokensOf(file, line, parse);
  if (spans.length === 0) return null;
  const [from, to] = spans[Math.floor(random() * spans.length)];
  const token = text.slice(from, to);
  const other = otherThan(token, random);
  const now = text.slice(0, from) + other + text.slice(to);
  const next = file.next.with(line, now);
  const bytes = new TextEncoder().encode(`${next.join("\n")}\n`);
  const comparison = compareFiles(file.oldBytes, bytes);
  const lines = readText(bytes).lines;
  return {
    file: {
      ...file,
      next: lines,
      newBytes: Buffer.from(bytes),
      comparison,
      change: { ...file.change, newId: "0".repeat(40) },
    },
    says: `“${token}” to “${other}” in “${text.trim()}”`,
  };
}

/** Where the tokens of a line stand: by the grammar, else by words and signs. */
function tokensOf(file: LoadedFile, line: number, parse: Parse): [number, number][] {
  const language = languageOf(file.change.path, file.next);
  const text = file.next[line];
  const words = [...text.matchAll(/[\p{L}\p{N}_$]+|[^\s\p{L}\p{N}_$]/gu)].map(
    ({ 0: word, index }): [number, number] => [index, index + word.length],
  );
  if (!language) return words;
  const before = file.next.slice(0, line).reduce((sum, one) => sum + one.length + 1, 0);
  const syntax = parse({ language, text: `${file.next.join("\n")}\n`, interest: [before, before + text.length] });
  return syntax ? grammarTokens(syntax, before, text, words) : words;
}

/** Tokens of the grammar; of texts and comments, which are one token each, their words. */
function grammarTokens(syntax: Syntax, before: number, text: string, words: [number, number][]): [number, number][] {
  const result: [number, number][] = [];
  for (const [n, node] of syntax.tokens.entries()) {
    const [start, end] = [syntax.start[node] - before, syntax.end[node] - before];
    if (end <= 0 || start >= text.length) continue;
    if (isKind(syntax, node, TEXT) || start < 0 || end > text.length)
      result.push(...words.filter(([from, to]) => from >= start && to <= end));
    else if (tokenText(syntax, n) !== "") result.push([start, end]);
  }
  return result;
}

const OPERATORS = ["+", "-", "*", "<", ">", "==", "!=", "&&", "||", "!", ".", ",", ";", "(", ")", "{", "}"];
const NAMES = ["admin", "token", "evil", "value", "other", "size", "user"];

function otherThan(token: string, random: () => number): string {
  const pick = (list: readonly string[]) => list[Math.floor(random() * list.length)];
  for (;;) {
    let other: string;
    if (/^\d+$/.test(token)) other = String(Math.floor(random() * 10_000));
    else if (/^[\p{L}_$]/u.test(token))
      other =
        random() < 0.3 ? pick(["true", "false", "null"]) : random() < 0.5 ? pick(NAMES) : token.slice(0, -1) || "x";
    else other = pick(OPERATORS);
    if (other !== token) return other;
  }
}

/** Numbers from 0 to 1, the same every time: a linear congruential generator with the constants of Knuth's MMIX. */
function generator(seed: number): () => number {
  let state = BigInt(seed);
  return () => {
    state = (state * 6364136223846793005n + 1442695040888963407n) & 0xffffffffffffffffn;
    return Number(state >> 11n) / 2 ** 53;
  };
}
