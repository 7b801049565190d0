import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { MessageChannel } from "node:worker_threads";
import { Command, CommanderError } from "commander";
import Piscina from "piscina";
import { ENGINE } from "@/core/diff/compare";
import { packReading, unpackReading } from "@/core/quiet/packed";
import type { Reading } from "@/core/quiet/whole-reading";
import { ObjectReader } from "@/git/objects";
import { resolveCommit } from "@/git/repository";
import { git } from "@/git/run";
import { gitFolderOf } from "@/git/transport/intake";
import { aidThrough } from "@/server/workers/aid";
import { forgetParses } from "@/server/workers/grammars/grammars";
import { compareTrees } from "@/server/workers/tree";
import { ROOM } from "@/server/workers/workers";
import { type Database, openDatabase } from "@/store/database";
import { type Corpus, corpora } from "./corpora";
import { executed } from "./executed";
import { feel } from "./feel";
import { hostile } from "./hostile";
import { hour } from "./hour";
import { keeping } from "./keeping";
import { lists } from "./lists";
import { merging } from "./merging";
import { mutations } from "./mutations";
import { reads } from "./reads";
import { replaying } from "./replay";
import { serving } from "./serving";

interface Measured {
  corpus: string;
  files: number;
  changed: number;
  toRead: number;
  /** Share of changed lines that need no reading, and that share without echoes. */
  saved: number;
  savedBefore: number;
  /** Milliseconds, each the median of the rounds. */
  git: number;
  cold: number;
  kept: number;
  firstFile: number;
  /** Ours over git's. */
  coldRatio: number;
  keptRatio: number;
  /** Processor time over elapsed time while comparing. */
  cpu: number;
  /** Resident memory after comparing, in MB. */
  memory: number;
}

/** Compares each corpus with git and with our engine in the same run, in turn, and prints a table and JSON. */
export async function main(args: string[]): Promise<number> {
  const say = (words: string) => process.stderr.write(`${words}\n`);
  if (args[0] === "serving") return serving(say, Number(args[1] ?? 500));
  if (args[0] === "feel") return feel(say, args[1]);
  if (args[0] === "hostile") return hostile(say, args[1]);
  if (args[0] === "lists") return lists(say, args[1]);
  if (args[0] === "reads") return reads(say, args[1]);
  if (args[0] === "hour") return hour(say, Number(args[1] ?? 60), args[2]);
  if (args[0] === "merging") return merging(say);
  if (args[0] === "keeping") return keeping(Number(args[1] ?? 200), say);
  if (args[0] === "replay") return replaying(say, Number(args[1] ?? 20_000));
  if (args[0] === "mutations") return mutations(say, args.slice(1));
  if (args[0] === "executed") return executed(say, args.slice(1));
  const program = new Command("bench")
    .description("the comparing engine beside `git diff --histogram -M`, on the same trees in the same run")
    .addHelpText(
      "after",
      "\nbench serving: what pages take beside a large clone and a large push" +
        "\nbench feel: what a reader feels on a change set of 10,000 files, in headless Chromium" +
        "\nbench hostile: pushes what is made to hinder, and how long others wait beside it" +
        "\nbench lists: the desk and lists with 10,000 change sets beside 100" +
        "\nbench reads: ten readers at once beside a bare application of the same framework" +
        "\nbench hour: fifty readers who ask every five seconds for an hour, and the memory of the server" +
        "\nbench keeping: kills the server again and again in the middle of a storm, and looks for what is lost" +
        "\nbench replay: a change set made of 20,000 events" +
        "\nbench mutations: single tokens and whole lines changed where it was quiet, and how many stayed hidden" +
        "\nbench executed: programs of which nothing is to be read, run before and after",
    )
    .option("--repo <path>", "a git repository to measure instead of the published histories")
    .option("--from <commit>", "with --repo: the older commit")
    .option("--to <commit>", "with --repo: the newer commit")
    .option("--rounds <number>", "how often each is measured", "5")
    .exitOverride();
  try {
    program.parse(args, { from: "user" });
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode;
    throw error;
  }
  const { repo, from, to, rounds } = program.opts<{ repo?: string; from?: string; to?: string; rounds: string }>();
  const root = process.env.LENS_ROOT ?? process.cwd();
  const list = repo
    ? await ownCorpus(resolve(process.env.INIT_CWD ?? ".", repo), from, to)
    : await corpora(join(root, ".cache", "corpora"), say);
  if (list.length === 0) {
    say(
      repo
        ? "Give a git repository with --repo, and two commits of it with --from and --to."
        : "No published history could be fetched.",
    );
    return 1;
  }
  const folder = mkdtempSync(join(tmpdir(), "lens-bench-"));
  mkdirSync(folder, { recursive: true });
  const db = await openDatabase(join(folder, "kept.db"));
  // As in the server: a second thread helps, and both have its room; this one by the flag in package.json.
  helpers = new Piscina({
    ...{ filename: pathToFileURL(join(root, "dist/worker.mjs")).href, maxThreads: 1, idleTimeout: 600_000 },
    ...{ atomics: "disabled", resourceLimits: ROOM },
  });
  try {
    // The engine is compiled as it runs: one comparison beforehand, on the smallest history, is not measured.
    await compare(list[0]);
    const results: Measured[] = [];
    for (const corpus of list) {
      say(`Measuring ${corpus.name} …`);
      results.push(await measure(db, corpus, Math.max(1, Number(rounds) || 5)));
    }
    print(results);
    return 0;
  } finally {
    await Promise.all([db.destroy(), helpers.destroy()]);
    rmSync(folder, { recursive: true, force: true });
  }
}

async function ownCorpus(path: string, from?: string, to?: string): Promise<Corpus[]> {
  const folder = await gitFolderOf(path);
  if (!folder || !from || !to) return [];
  const [a, b] = [await resolveCommit(folder, from), await resolveCommit(folder, to)];
  return a && b ? [{ name: `${from} to ${to}`, folder, from: a, to: b }] : [];
}

async function measure(db: Database, corpus: Corpus, rounds: number): Promise<Measured> {
  const gits: number[] = [];
  const colds: number[] = [];
  const keeps: number[] = [];
  const firsts: number[] = [];
  let cpu = 0;
  let reading: Reading | null = null;
  for (let round = 0; round < rounds; round++) {
    gits.push((await timed(() => git(corpus.folder, ["diff", "--histogram", "-M", corpus.from, corpus.to]))).ms);
    const before = process.cpuUsage();
    const cold = await timed(() => compare(corpus));
    const used = process.cpuUsage(before);
    cpu = (used.user + used.system) / 1000 / cold.ms;
    colds.push(cold.ms);
    firsts.push(cold.value.firstFile);
    reading = cold.value.reading;
    if (round === 0) await keep(db, corpus, reading);
    keeps.push((await timed(() => kept(db, corpus))).ms);
  }
  const { files, changed, toRead, counts } = reading!;
  const [gitTime, coldTime, keptTime] = [median(gits), median(colds), median(keeps)];
  return {
    ...{ corpus: corpus.name, files: files.length, changed, toRead },
    saved: changed === 0 ? 0 : 1 - toRead / changed,
    savedBefore: changed === 0 ? 0 : 1 - (toRead + counts.echo) / changed,
    ...{ git: gitTime, cold: coldTime, kept: keptTime, firstFile: median(firsts) },
    coldRatio: coldTime / gitTime,
    keptRatio: keptTime / gitTime,
    cpu,
    memory: process.memoryUsage().rss / 1e6,
  };
}

let helpers: Piscina;

async function compare(corpus: Corpus): Promise<{ reading: Reading; firstFile: number }> {
  const objects = new ObjectReader(corpus.folder);
  forgetParses();
  const { port1, port2 } = new MessageChannel();
  const help = helpers.run({ port: port2 }, { name: "help", transferList: [port2] });
  const aid = aidThrough(port1);
  const begun = performance.now();
  let firstFile = 0;
  try {
    const { reading } = await compareTrees(objects, corpus.from, corpus.to, {
      aid,
      made: () => {
        firstFile ||= performance.now() - begun;
      },
    });
    return { reading, firstFile };
  } finally {
    objects.close();
    port1.close();
    await help;
  }
}

async function keep(db: Database, { from, to }: Corpus, reading: Reading): Promise<void> {
  await db
    .insertInto("readings")
    .values({
      engine: ENGINE,
      from_commit: from,
      to_commit: to,
      settings_commit: from,
      result: packReading(reading),
    })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
}

/** What the server does for a reading that it has kept. */
async function kept(db: Database, { from, to }: Corpus): Promise<Reading> {
  const query = db
    .selectFrom("readings")
    .select("result")
    .where("engine", "=", ENGINE)
    .where("from_commit", "=", from)
    .where("to_commit", "=", to);
  return unpackReading((await query.executeTakeFirstOrThrow()).result);
}

async function timed<T>(action: () => Promise<T>): Promise<{ ms: number; value: T }> {
  const begun = performance.now();
  const value = await action();
  return { ms: performance.now() - begun, value };
}

function median(numbers: number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
}

function print(results: Measured[]): void {
  const columns: [string, (row: Measured) => string][] = [
    ["corpus", (r) => r.corpus],
    ["files", (r) => String(r.files)],
    ["changed", (r) => String(r.changed)],
    ["to read", (r) => String(r.toRead)],
    ["saved", (r) => `${(100 * r.saved).toFixed(0)}%`],
    ["no echoes", (r) => `${(100 * r.savedBefore).toFixed(0)}%`],
    ["git ms", (r) => r.git.toFixed(0)],
    ["cold ms", (r) => r.cold.toFixed(0)],
    ["cold/git", (r) => r.coldRatio.toFixed(2)],
    ["kept ms", (r) => r.kept.toFixed(1)],
    ["kept/git", (r) => r.keptRatio.toFixed(3)],
    ["first ms", (r) => r.firstFile.toFixed(0)],
    ["cpu", (r) => r.cpu.toFixed(2)],
    ["MB", (r) => r.memory.toFixed(0)],
  ];
  const table = [columns.map(([name]) => name), ...results.map((row) => columns.map(([, show]) => show(row)))];
  const widths = columns.map((_, i) => Math.max(...table.map((row) => row[i].length)));
  for (const row of table)
    process.stdout.write(
      `${row.map((cell, i) => (i === 0 ? cell.padEnd(widths[i]) : cell.padStart(widths[i]))).join("  ")}\n`,
    );
  process.stdout.write(`median saving: ${(100 * median(results.map((r) => r.saved))).toFixed(0)} %\n`);
  const ratios = { cold: median(results.map((r) => r.coldRatio)), kept: median(results.map((r) => r.keptRatio)) };
  process.stdout.write(`median ratio to git: ${ratios.cold.toFixed(2)} cold, ${ratios.kept.toFixed(3)} kept\n`);
  process.stdout.write(`${JSON.stringify({ engine: ENGINE, node: process.version, results, medianRatios: ratios })}\n`);
}
