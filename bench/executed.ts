import { spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline";
import fc from "fast-check";
import { readTexts } from "@/core/quiet/read-texts";
import { JAVASCRIPT } from "@/core/quiet/testing/javascript";
import { changedPrograms, isWhollyQuiet, type Pieces } from "@/core/quiet/testing/programs";
import { runScript } from "@/server/testing/run-script";
import { allGrammars, forgetParses } from "@/server/workers/grammars/grammars";
import { C } from "./executed/c";
import { CPP } from "./executed/cpp";
import { CSHARP } from "./executed/csharp";
import { GO } from "./executed/go";
import { JAVA } from "./executed/java";
import { PHP } from "./executed/php";
import { PYTHON } from "./executed/python";
import { RUBY } from "./executed/ruby";
import { JAVA_RUNNER, PHP_LOG, PYTHON_RUNNER, RUBY_RUNNER } from "./executed/runners";
import { RUST } from "./executed/rust";
import { SHELL } from "./executed/shell";

/** So many programs of each language are changed, unless another number is given. */
const PROGRAMS = 20_000;
const AT_ONCE = 500;
const SHOWN = 5;

/** Runs a program: what it says, with how it ends; null where it says nothing of what it does, as where it is none. */
type Run = (program: string) => Promise<string | null>;

interface Language extends Pieces {
  name: string;
  /** Runs some, as long as what runs them is there; null where the machine has no program for it. */
  using: <T>(use: (run: Run) => Promise<T>) => Promise<T | null>;
  /** Only one of so many is made up, where each takes long. */
  oneOf?: number;
}

const LANGUAGES: readonly Language[] = [
  { name: "JavaScript", ...JAVASCRIPT, using: (use) => use(runJavaScript) },
  { name: "Python", ...PYTHON, using: asked("python3", ["-c", PYTHON_RUNNER]) },
  { name: "Ruby", ...RUBY, using: asked("ruby", ["-e", RUBY_RUNNER]) },
  { name: "PHP", ...PHP, using: withPhp },
  { name: "shell", ...SHELL, using: withShell },
  { name: "C", ...C, using: compiled(C.path, "gcc", ["-w", "-O0", "-std=gnu11"]), oneOf: 5 },
  { name: "C++", ...CPP, using: compiled(CPP.path, "g++", ["-w", "-O0", "-std=gnu++17"]), oneOf: 5 },
  { name: "Rust", ...RUST, using: compiled(RUST.path, "rustc", ["-A", "warnings", "--edition", "2021"]), oneOf: 10 },
  { name: "Java", ...JAVA, using: withJava, oneOf: 5 },
  { name: "Go", ...GO, using: compiled(GO.path, "go", ["build"], { version: "version" }), oneOf: 10 },
  { name: "C#", ...CSHARP, using: compiled(CSHARP.path, "mcs", ["-nowarn:0"], { runner: "mono" }), oneOf: 20 },
];

/**
 * Makes programs up, changes them, and runs both states of each change of which nothing is to be read: they have to do the same. In JavaScript, and in Python, Ruby, PHP,
 * a shell, C, C++, Rust, Java, Go and C# where the machine has them: a part of the number in those that are compiled, which takes its time.
 */
export async function executed(say: (words: string) => void, args: string[]): Promise<number> {
  const wanted = Number(args[0]) || PROGRAMS;
  const seed = Number(args[1]) || Date.now() % 1_000_000;
  say(`Seed ${seed}.`);
  let isAllSame = true;
  for (const language of LANGUAGES) {
    const many = Math.ceil(wanted / (language.oneOf ?? 1));
    const counts = await language.using((run) => compare(say, language, many, seed, run));
    if (!counts) {
      say(`Nothing here runs ${language.name}.`);
      continue;
    }
    const { quiet, nested, differing } = counts;
    process.stdout.write(
      `${language.name}: ${many} programs changed, ${quiet} with nothing to read, ${nested} of them but for blocks around the same, ${differing} do something else\n`,
    );
    isAllSame &&= quiet > 0 && differing === 0;
  }
  return isAllSame ? 0 : 1;
}

async function compare(say: (words: string) => void, language: Language, wanted: number, seed: number, run: Run) {
  const parse = await allGrammars();
  let [quiet, nested, differing] = [0, 0, 0];
  for (let tried = 0; tried < wanted; tried += AT_ONCE) {
    forgetParses();
    const numRuns = Math.min(AT_ONCE, wanted - tried);
    for (const [old, next] of fc.sample(changedPrograms(language), { numRuns, seed: seed + tried })) {
      const reading = readTexts({ [language.path]: { old, next } }, parse);
      if (!isWhollyQuiet(reading, { old, next }, language)) continue;
      const did = await run(old);
      if (did === null) continue;
      quiet++;
      if (reading.counts.nested > 0) nested++;
      const does = await run(next);
      // A block around nothing, or half of one, is read, and is no program.
      if (does === did || (reading.toRead > 0 && (does === null || does.endsWith("|syntax")))) continue;
      if (differing++ < SHOWN) say(`--- before\n${old}--- after\n${next}--- ${did}\n--- ${does}\n`);
    }
  }
  return { quiet, nested, differing };
}

async function runJavaScript(program: string): Promise<string | null> {
  const told = runScript(program);
  return told.includes("SyntaxError") ? null : told.join("|");
}

/** Runs programs by one that is given them as lines of JSON, and answers what each says. */
function asked(command: string, args: string[]): Language["using"] {
  return async (use) => {
    if (spawnSync(command, ["--version"]).status !== 0) return null;
    const runner = spawn(command, args);
    const answers = createInterface({ input: runner.stdout })[Symbol.asyncIterator]();
    try {
      return await use(async (program) => {
        runner.stdin.write(`${JSON.stringify(program)}\n`);
        const { value, done } = await answers.next();
        if (done) throw new Error(`${command} ended.`);
        return JSON.parse(value);
      });
    } finally {
      runner.kill();
    }
  };
}

/** A folder of its own for as long as something is done in it. */
async function inFolder<T>(use: (cwd: string) => Promise<T>): Promise<T> {
  const cwd = mkdtempSync(join(tmpdir(), "lens-executed-"));
  try {
    return await use(cwd);
  } finally {
    rmSync(cwd, { recursive: true, force: true });
  }
}

/** How long a program may take, and what it is told and tells. */
const SHORT = { timeout: 5_000, maxBuffer: 100_000, encoding: "utf8", input: "" } as const;

async function withJava<T>(use: (run: Run) => Promise<T>): Promise<T | null> {
  return inFolder((cwd) => {
    const runner = join(cwd, "Run.java");
    writeFileSync(runner, JAVA_RUNNER);
    return asked("java", [runner])(use);
  });
}

/** Without what a machine sets for PHP. What it could not even begin with, it says by what it ends with. */
async function withPhp<T>(use: (run: Run) => Promise<T>): Promise<T | null> {
  if (spawnSync("php", ["-n", "--version"]).status !== 0) return null;
  const settings = ["display_errors=0", "log_errors=0", "max_execution_time=1", "auto_prepend_file=log.php"];
  return inFolder((cwd) => {
    writeFileSync(join(cwd, "log.php"), PHP_LOG);
    return use(async (program) => {
      writeFileSync(join(cwd, "a.php"), program);
      const args = ["-n", ...settings.flatMap((setting) => ["-d", setting]), "a.php"];
      const { error, status, stdout } = spawnSync("php", args, { cwd, ...SHORT });
      return error || stdout === "ParseError" || (status !== 0 && stdout === "") ? null : `${status}|${stdout}`;
    });
  });
}

/** Programs that are compiled first: one that is not is none. `path` is what the file is called, `runner` what runs what was made, where that does not run by itself. */
function compiled(
  path: string,
  command: string,
  args: string[],
  { version = "--version", runner = null as string | null } = {},
): Language["using"] {
  return async (use) => {
    if (spawnSync(command, [version]).status !== 0) return null;
    return inFolder((cwd) =>
      use(async (program) => {
        writeFileSync(join(cwd, path), program);
        const into = runner ? ["-out:a"] : ["-o", "a"];
        if (spawnSync(command, [...args, ...into, path], { cwd, stdio: "ignore" }).status !== 0) return null;
        const [runs, ...what] = runner ? [runner, "a"] : [join(cwd, "a")];
        const { error, status, signal, stdout } = spawnSync(runs, what, { cwd, ...SHORT });
        // How far one that goes on and on came says nothing.
        return error ? "endless" : `${status ?? signal}|${stdout}`;
      }),
    );
  };
}

/** In an empty folder, where no program is found: only what the shell has itself is run. */
async function withShell<T>(use: (run: Run) => Promise<T>): Promise<T | null> {
  const { status, stdout: path } = spawnSync("bash", ["-c", 'echo "$BASH"'], { encoding: "utf8" });
  if (status !== 0) return null;
  const env = { PATH: "/nonexistent", LC_ALL: "C", NODE_ENV: "test" as const };
  return inFolder((cwd) =>
    use(async (program) => {
      const options = { cwd, env, ...SHORT };
      const { error, status, stdout, stderr } = spawnSync(path.trim(), ["--norc", "-c", program], options);
      if (error || /syntax error/.test(stderr)) return stdout === "" || error ? null : `${stdout}|syntax`;
      return `${status}|${stdout.replaceAll(/line \d+/g, "line")}`;
    }),
  );
}
