import { join } from "node:path";
import { compareFiles } from "@/core/diff/compare";
import { readText } from "@/core/diff/text";
import { languageOf } from "@/core/grammar/languages";
import type { Parse } from "@/core/grammar/parse";
import { isKind, type Syntax, TEXT, tokenText } from "@/core/grammar/syntax";
import type { ClassRun, Side } from "@/core/quiet/classes";
import { makeReading } from "@/core/quiet/reading";
import type { Reading } from "@/core/quiet/whole-reading";
import { ObjectReader } from "@/git/objects";
import { allGrammars, forgetParses } from "@/server/workers/grammars/grammars";
import { compareTrees, type LoadedFile } from "@/server/workers/tree";
import { type Corpus, corpora } from "./corpora";

/** How many changes are made in all, unless another number is given. */
const MUTATIONS = 10_000;
/** Every so manieth is one of whole lines. */
const OF_LINES = 4;

/** Changes that were made in quiet lines, and how many of them stayed hidden. */
interface Tally {
  made: number;
  hidden: number;
}

/**
 * Changes lines of real histories that were quiet, one change at a time, and makes the reading anew. Of single tokens, the changed line has to be to
 * read each time; of whole lines, that are doubled, put in or change places, one of those that came; of those that are left out, the one that was there. Lines that are quiet because
 * somebody, or the shape of a whole file, says that it is generated are left out: there nothing is promised of single ones. `args`: how many, and
 * the seed of what is chosen.
 */
export async function mutations(say: (words: string) => void, args: string[]): Promise<number> {
  const wanted = Number(args[0]) || MUTATIONS;
  const list = await corpora(join(process.env.LENS_ROOT ?? process.cwd(), ".cache", "corpora"), say);
  if (list.length === 0) {
    say("No published history could be fetched.");
    return 1;
  }
  const parse = await allGrammars();
  const tallies = new Map<string, Tally>();
  const examples: string[] = [];
  const random = generator(Number(args[1]) || 20_260_101);
  for (const [n, corpus] of list.entries()) {
    const share = Math.ceil((wanted - total(tallies).made) / (list.length - n));
    say(`${corpus.name}: ${share} changes …`);
    await mutateCorpus(corpus, share, parse, random, tallies, examples);
    forgetParses();
  }
  for (const [kind, { made, hidden }] of tallies)
    process.stdout.write(`${kind.padEnd(24)} ${made} changed, ${hidden} stayed hidden\n`);
  const { made, hidden } = total(tallies);
  for (const example of examples) process.stdout.write(`hidden: ${example}\n`);
  process.stdout.write(`${made} changes in quiet lines: ${hidden} stayed hidden\n`);
  return hidden === 0 && made > 0 ? 0 : 1;
}

function total(tallies: ReadonlyMap<string, Tally>): Tally {
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
  tallies: Map<string, Tally>,
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
    const file = byPath.get(path)!;
    const change = tried % OF_LINES === 0 ? changedLines(file, line, random) : changedToken(file, line, parse, random);
    if (!change) continue;
    made++;
    const kind = `${line.run.class}, ${change.of}`;
    const tally = tallies.get(kind) ?? { made: 0, hidden: 0 };
    tallies.set(kind, tally);
    tally.made++;
    // What else belongs to the line: the other end of a move, and some of the other lines of the same replacement.
    const others = [...new Set(othersOf(reading, line))]
      .filter((other) => other !== path)
      .map((one) => byPath.get(one)!);
    const read = (one: LoadedFile): Read => ({
      files: [one, ...others],
      reading: makeReading([one, ...others], parse),
    });
    const now = read(withLines(file, change.next));
    const isHidden =
      change.came.length > 0 ? hidesWhatCame(now, line, change) : hidesWhatWent(now, () => read(file), line, file);
    if (isHidden) {
      tally.hidden++;
      if (examples.length < 10)
        examples.push(`${corpus.name} ${path}:${line.line + 1} as ${line.run.class}: ${change.says}`);
    }
  }
}

/** Some files and their reading. */
interface Read {
  files: LoadedFile[];
  reading: Reading;
}

/** Whether some of the lines that came in place of one are quiet, and none of them is to be read. Those that are what the old state has show no change. */
function hidesWhatCame({ reading }: Read, { line }: Line, { came }: Change): boolean {
  const { runs } = reading.files.find(({ newId }) => newId === CHANGED)!;
  const kinds = came.flatMap((n) => {
    const run = runs.find(({ side, start, end }) => side === "new" && start <= line + n && line + n < end);
    return run?.class ?? [];
  });
  return kinds.length > 0 && !kinds.includes("read");
}

/** Whether a line that was left out is not to be read where it was: of what moved, as many lines have to stand at either end. */
function hidesWhatWent(now: Read, before: () => Read, { run, line }: Line, { next: were }: LoadedFile): boolean {
  if (run.class !== "moved") return now.reading.toRead <= before().reading.toRead;
  const text = were[line].trim();
  const moved = (side: Side) =>
    now.files.reduce((sum, { change: { path }, old, next }) => {
      const { runs } = now.reading.files.find((file) => file.path === path)!;
      const own = runs.filter((one) => one.class === "moved" && one.side === side);
      const lines = own.flatMap(({ start, end }) => (side === "old" ? old : next).slice(start, end));
      return sum + lines.filter((one) => one.trim() === text).length;
    }, 0);
  return moved("old") > moved("new");
}

/** The id of a state that was changed here. */
const CHANGED = "0".repeat(40);

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

/** The lines of a file with one change in them. */
interface Change {
  /** What was changed. */
  of: "a token" | keyof typeof LINE_CHANGES;
  next: string[];
  /** The lines one of which has to be read, from the changed one on; none where all that came is gone. */
  came: number[];
  says: string;
}

/** A change of a whole line: what comes in its place, or in that of it and the one behind it, null where that is none; and what of that has to be read. */
interface LineChange {
  with: (line: Line, own: string, random: () => number, behind?: string) => string[] | null;
  came: number[];
}

const LINE_CHANGES = {
  "a line left out": { with: ({ run }) => (run.class === "echo" ? null : []), came: [] },
  "a line doubled": { with: (_, own) => [own, own], came: [0, 1] },
  "a line put in": { with: (_, own, random) => [own, own.replace(/\S.*$/, () => pick(LINES, random))], came: [1] },
  "two lines changed places": {
    with: ({ line, run }, own, _, behind) =>
      behind === undefined || line + 1 >= run.end || behind.trim() === own.trim() ? null : [behind, own],
    came: [0, 1],
  },
} satisfies Record<string, LineChange>;
const LINES = ["admit(true);", "return", "x = 1", "// no", "}", "{"];

/** Null where the line says nothing, or nothing but where it stands among others of its kind. */
function changedLines({ next }: LoadedFile, line: Line, random: () => number): Change | null {
  const own = next[line.line];
  if (!/[\p{L}\p{N}]/u.test(own) || line.run.class === "imports") return null;
  const of = pick(Object.keys(LINE_CHANGES) as (keyof typeof LINE_CHANGES)[], random);
  const behind = next[line.line + 1];
  const change: LineChange = LINE_CHANGES[of];
  const now = change.with(line, own, random, behind);
  if (!now) return null;
  const changed = next.toSpliced(line.line, of === "two lines changed places" ? 2 : 1, ...now);
  return { of, next: changed, came: withEquals(changed, line.line, change.came), says: `${of}, “${own.trim()}”` };
}

/** The lines that came, by how far they stand behind one, with those beside them that say the same: which of equal lines came cannot be told. */
function withEquals(lines: readonly string[], at: number, came: readonly number[]): number[] {
  if (came.length === 0) return [];
  const said = new Set(came.map((n) => lines[at + n].trim()));
  const isEqual = (n: number) => lines[at + n] !== undefined && said.has(lines[at + n].trim());
  let [from, to] = [came[0], came[came.length - 1]];
  while (isEqual(from - 1)) from--;
  while (isEqual(to + 1)) to++;
  return Array.from({ length: to - from + 1 }, (_, n) => from + n);
}

/** Null where the line has no token, or the change is none. */
function changedToken(
  { next, ...file }: LoadedFile,
  { line }: Line,
  parse: Parse,
  random: () => number,
): Change | null {
  const text = next[line];
  const spans = tokensOf({ ...file, next }, line, parse);
  if (spans.length === 0) return null;
  const [from, to] = pick(spans, random);
  const token = text.slice(from, to);
  const other = otherThan(token, random);
  const changed = next.with(line, text.slice(0, from) + other + text.slice(to));
  return { of: "a token", next: changed, came: [0], says: `“${token}” to “${other}” in “${text.trim()}”` };
}

/** A file with other lines as its new state. */
function withLines(file: LoadedFile, next: readonly string[]): LoadedFile {
  const bytes = new TextEncoder().encode(`${next.join("\n")}\n`);
  return {
    ...file,
    next: readText(bytes).lines,
    newBytes: Buffer.from(bytes),
    comparison: compareFiles(file.oldBytes, bytes),
    survey: undefined,
    change: { ...file.change, newId: CHANGED },
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
  for (;;) {
    let other: string;
    if (/^\d+$/.test(token)) other = String(Math.floor(random() * 10_000));
    else if (/^[\p{L}_$]/u.test(token))
      other =
        random() < 0.3
          ? pick(["true", "false", "null"], random)
          : random() < 0.5
            ? pick(NAMES, random)
            : token.slice(0, -1) || "x";
    else other = pick(OPERATORS, random);
    if (other !== token) return other;
  }
}

function pick<T>(list: readonly T[], random: () => number): T {
  return list[Math.floor(random() * list.length)];
}

/** Numbers from 0 to 1, the same every time: a linear congruential generator with the constants of Knuth's MMIX. */
function generator(seed: number): () => number {
  let state = BigInt(seed);
  return () => {
    state = (state * 6364136223846793005n + 1442695040888963407n) & 0xffffffffffffffffn;
    return Number(state >> 11n) / 2 ** 53;
  };
}
