import { execFileSync, spawn } from "node:child_process";
import { once } from "node:events";

/** A branch as somebody makes it who wants the server to be busy with it. */
export interface HostileBranch {
  name: string;
  /** Writes the branch of its name into a repository that has `main`. */
  make: (git: Work) => Promise<void> | void;
}

type Commits = Iterable<Iterable<[path: string, text: string | Buffer]>>;

interface Where {
  /** The branch that they are made on. */
  from?: string;
  branch?: string;
  /** With nothing of what was there before. */
  anew?: boolean;
}

/** A repository in which such branches are made: what no ordinary client would write is written as well. */
export class Work {
  constructor(
    readonly folder: string,
    private readonly branch: string,
  ) {}

  /** A git command, and what it prints. */
  git(args: string[], input?: string | Buffer): string {
    return execFileSync("git", args, { cwd: this.folder, input, maxBuffer: 1 << 30, stdio: "pipe" })
      .toString()
      .trim();
  }

  /** A commit object word by word, whatever it says. */
  commit(tree: string, parents: readonly string[], message: string, who = "A <a@x> 1700000000 +0000"): string {
    const head = [`tree ${tree}`, ...parents.map((one) => `parent ${one}`), `author ${who}`, `committer ${who}`];
    return this.git(
      ["hash-object", "-t", "commit", "-w", "--stdin", "--literally"],
      `${head.join("\n")}\n\n${message}`,
    );
  }

  at(commit: string, branch = this.branch): void {
    this.git(["update-ref", `refs/heads/${branch}`, commit]);
  }

  id(name: string): string {
    return this.git(["rev-parse", name]);
  }

  /** Commits of files, one after the other. */
  async files(commits: Commits, { from = "main", branch = this.branch, anew = false }: Where = {}): Promise<void> {
    const child = spawn("git", ["fast-import", "--quiet", "--force"], {
      cwd: this.folder,
      stdio: ["pipe", "ignore", "inherit"],
    });
    const ended = once(child, "close");
    const write = async (piece: string | Buffer) => {
      if (!child.stdin.write(piece)) await once(child.stdin, "drain");
    };
    let first = true;
    let time = 1_700_000_000;
    for (const files of commits) {
      time++;
      await write(`commit refs/heads/${branch}\ncommitter A <a@x> ${time} +0000\ndata 1\nx\n`);
      if (first) await write(`from refs/heads/${from}\n`);
      first = false;
      if (anew) await write("deleteall\n");
      for (const [path, text] of files) {
        const bytes = Buffer.isBuffer(text) ? text : Buffer.from(text);
        await write(`M 100644 inline ${JSON.stringify(path)}\ndata ${bytes.length}\n`);
        await write(bytes);
        await write("\n");
      }
    }
    child.stdin.end();
    await ended;
  }
}

function lines(count: number, line: (n: number) => string): string {
  const all: string[] = [];
  for (let n = 0; n < count; n++) all.push(line(n));
  return `${all.join("\n")}\n`;
}

/** The same each time. */
function dice(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1_103_515_245 + 12_345) & 0x7fffffff;
    return state / 0x7fffffff;
  };
}

const times = (count: number) => Array.from({ length: count }, (_, n) => n);
/** What is changed: a first state beside main, and a second one on it. */
/** Three lines that do something, each another one. */
const told = (indent: string, n: number) => [1, 2, 3].map((at) => `${indent}go${n}_${at}(a, "x");\n`).join("");

const changed = (name: string, path: string, before: string, after: string): HostileBranch => ({
  name,
  make: async (work) => {
    await work.files([[[path, before]]], { branch: `${name}-base` });
    await work.files([[[path, after]]], { from: `${name}-base` });
  },
});
const added = (name: string, files: () => [string, string | Buffer][]): HostileBranch => ({
  name,
  make: (work) => work.files([files()]),
});

/** What has been thought of, in no order. A name that ends in `-base` is the target of the one before. */
export const HOSTILE: HostileBranch[] = [
  {
    name: "long-message",
    make: (w) => w.at(w.commit(w.id("main^{tree}"), [w.id("main")], "m".repeat(50_000_000))),
  },
  {
    name: "many-trailers",
    make: (w) =>
      w.at(
        w.commit(
          w.id("main^{tree}"),
          [w.id("main")],
          `x\n\n${lines(300_000, (n) => `Signed-off-by: P${n} <p${n}@x.example>`)}`,
        ),
      ),
  },
  {
    name: "blank-message",
    make: (w) => w.at(w.commit(w.id("main^{tree}"), [w.id("main")], `x\n${" \t\n".repeat(1_000_000)}y`)),
  },
  {
    name: "marked-message",
    make: (w) =>
      w.at(w.commit(w.id("main^{tree}"), [w.id("main")], `x\n\n${"[".repeat(50_000)}${"*_".repeat(50_000)}`)),
  },
  {
    name: "long-author",
    make: (w) =>
      w.at(w.commit(w.id("main^{tree}"), [w.id("main")], "x", `${"A".repeat(5_000_000)} <a@x> 1700000000 +0000`)),
  },
  ...["99999999999999999999", "-1", "8640000000001", "abc", "1700000000000000"].map(
    (time, n): HostileBranch => ({
      name: `odd-time-${n}`,
      make: (w) => w.at(w.commit(w.id("main^{tree}"), [w.id("main")], "x", `A <a@x> ${time} +9999`)),
    }),
  ),
  {
    name: "no-author",
    make: (w) => w.at(w.commit(w.id("main^{tree}"), [w.id("main")], "x", "")),
  },
  {
    name: "many-parents",
    make: (w) => {
      const tree = w.id("main^{tree}");
      const parents = times(500).map((n) => w.commit(tree, [w.id("main")], `p${n}`));
      w.at(w.commit(tree, parents, "octopus"));
    },
  },
  {
    name: "many-commits",
    make: (w) => w.files(times(50_000).map((n) => [["count.txt", `${n}\n`]])),
  },
  {
    name: "many-long-messages",
    make: (w) => {
      let at = w.id("main");
      for (const n of times(300)) at = w.commit(w.id("main^{tree}"), [at], `${n} ${"word ".repeat(100_000)}`);
      w.at(at);
    },
  },
  added("many-files", () => times(50_000).map((n) => [`f/${n % 7}/file${n}.txt`, `line ${n}\n`])),
  added("long-path", () => [
    [
      `${times(1_000)
        .map(() => "d")
        .join("/")}/a.txt`,
      "x\n",
    ],
  ]),
  added("long-names", () => times(2_000).map((n) => [`${"é".repeat(120)}${n}.ts`, "let a = 1;\n"])),
  added("long-line", () => [["long.ts", `${"let a = 1; ".repeat(4_000_000)}\n`]]),
  added("marks", () => [["marks.txt", `${"a\u0301\u0302\u0303\u0304".repeat(400_000)}\n`]]),
  added("emoji", () => [["emoji.ts", `// ${"👨‍👩‍👧‍👦".repeat(100_000)}\n`]]),
  added("ends", () => [["ends.txt", "a\r".repeat(3_000_000)]]),
  added("nul", () => [["nul.txt", "\0".repeat(20_000_000)]]),
  added("utf16", () => [["wide.txt", Buffer.from(`\ufeff${"wide\n".repeat(1_000_000)}`, "utf16le")]]),
  added("brackets-ts", () => [["b.ts", `let a = ${"(".repeat(200_000)}1;\n`]]),
  added("brackets-json", () => [["b.json", `${"[".repeat(1_000_000)}\n`]]),
  added("strings", () => [["s.ts", lines(100_000, () => "`${`")]]),
  added("deep-python", () => [["d.py", lines(2_000, (n) => `${" ".repeat(n)}if a:`)]]),
  added("markdown", () => [
    ["README.md", `${"[".repeat(100_000)}\n${"> ".repeat(20_000)}x\n${"*a ".repeat(50_000)}\n`],
  ]),
  added("attributes", () => [
    [".gitattributes", lines(20_000, (n) => `**/a*b*c*${n}*d linguist-generated=true`)],
    ...times(300).map((n): [string, string] => [`x/${n}/abcabc${n}.txt`, "x\n"]),
  ]),
  added("checks", () => [
    [".lens/checks.json", JSON.stringify({ checks: times(20_000).map((n) => ({ name: `c${n}`, run: "true" })) })],
  ]),
  added("packages", () => [
    [
      "package-lock.json",
      JSON.stringify(
        {
          lockfileVersion: 3,
          packages: Object.fromEntries(
            times(200_000).map((n) => [`node_modules/p${n}`, { version: `1.0.${n}`, integrity: "sha512-x" }]),
          ),
        },
        null,
        1,
      ),
    ],
  ]),
  changed(
    "word-soup",
    "words.txt",
    `${times(200_000).join(" ")}\n`,
    `${times(200_000)
      .map((n) => (n % 2 ? n : -n))
      .join(" ")}\n`,
  ),
  changed(
    "two-lines",
    "dice.txt",
    lines(
      200_000,
      (
        (roll) => () =>
          `${Math.floor(roll() * 2)}`
      )(dice(1)),
    ),
    lines(
      200_000,
      (
        (roll) => () =>
          `${Math.floor(roll() * 2)}`
      )(dice(2)),
    ),
  ),
  changed(
    "shuffled",
    "order.txt",
    lines(100_000, (n) => `line ${n}`),
    lines(100_000, (n) => `line ${(n * 7_919) % 100_000}`),
  ),
  changed(
    "all-lines",
    "all.ts",
    lines(300_000, (n) => `const a${n} = ${n};`),
    lines(300_000, (n) => `const a${n} = ${n + 1};`),
  ),
  changed(
    "functions",
    "f.ts",
    lines(20_000, (n) => `export function f(a: number) {\n  return a + 1;\n}\n// ${n}`),
    lines(20_000, (n) => `export function f(a: number) {\n  return a + 2;\n}\n// ${n}`),
  ),
  changed(
    "reversed",
    "g.ts",
    lines(20_000, (n) => `export function f${n}(a: number) {\n  return a + 1;\n}`),
    lines(20_000, (n) => `export function f${19_999 - n}(a: number) {\n  return a + 1;\n}`),
  ),
  changed(
    "names",
    "n.ts",
    lines(50_000, (n) => `let a${n} = b${n} + c${n};`),
    lines(50_000, (n) => `let x${n} = b${n} + c${n};`),
  ),
  changed(
    "imports",
    "i.ts",
    lines(50_000, (n) => `import { a${n}, b${n} } from "./m${n}";`),
    lines(50_000, (n) => `import { b${49_999 - n}, a${49_999 - n} } from "./m${49_999 - n}";`),
  ),
  // Another block around all, which names something behind every third line.
  changed(
    "names-in-blocks",
    "nested.js",
    `function f(a, b) {\n  if (a) {\n${lines(4_000, (n) => `${told("    ", n)}    let v${n} = ${n};`)}  }\n}\n`,
    `function f(a, b) {\n  if (b) {\n    try {\n${lines(4_000, (n) => `${told("      ", n)}      let w${n} = ${n + 1};`)}    } finally {}\n  }\n}\n`,
  ),
  changed("blank-lines", "blank.ts", "let a = 1;\n", `${"\n \n\t\n".repeat(500_000)}let a = 1;\n`),
  {
    name: "renames",
    make: async (w) => {
      const text = (n: number, edition: number) =>
        lines(60, (line) => (line % 2 ? `shared ${line}` : `own ${n} ${line} ${edition}`));
      const files = (folder: string, edition: number) =>
        times(4_000).map((n): [string, string] => [`${folder}/${(n * 7 ** edition) % 4_000}.txt`, text(n, edition)]);
      await w.files([files("old", 0)], { branch: "renames-base" });
      await w.files([files("new", 1)], { from: "renames-base", anew: true });
    },
  },
  {
    name: "conflicts",
    make: async (w) => {
      const text = (edition: string) => lines(100_000, (n) => (n % 3 ? `line ${n}` : `line ${n} ${edition}`));
      await w.files([[["c.txt", text("a")]]], { branch: "conflicts-old" });
      await w.files([[["c.txt", text("b")]]], { from: "conflicts-old", branch: "conflicts-base" });
      await w.files([[["c.txt", text("c")]]], { from: "conflicts-old" });
    },
  },
  {
    name: "pointers",
    make: (w) => {
      const entries = times(20_000).map((n) => `160000 commit ${String(n).padStart(40, "1")}\tm${n}`);
      const tree = w.git(["mktree", "--missing"], `${entries.join("\n")}\n`);
      w.at(w.commit(tree, [w.id("main")], "pointers"));
    },
  },
  {
    name: "links",
    make: (w) => {
      const link = w.git(["hash-object", "-w", "--stdin"], `${"../".repeat(1_000)}etc/passwd`);
      const entries = times(20_000).map((n) => `120000 blob ${link}\tl${n}`);
      w.at(w.commit(w.git(["mktree"], `${entries.join("\n")}\n`), [w.id("main")], "links"));
    },
  },
];
