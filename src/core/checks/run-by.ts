/** What programs take from a file of their own what they do, and from which. */
const OWN_FILES = new Map<string, readonly string[]>([
  ["npm", ["package.json"]],
  ["npx", ["package.json"]],
  ["pnpm", ["package.json"]],
  ["yarn", ["package.json"]],
  ["make", ["GNUmakefile", "makefile", "Makefile"]],
  ["cargo", ["Cargo.toml"]],
  ["composer", ["composer.json"]],
  ["gradle", ["build.gradle", "build.gradle.kts"]],
  ["mvn", ["pom.xml"]],
  ["pytest", ["pytest.ini", "pyproject.toml", "conftest.py"]],
  ["rake", ["Rakefile"]],
  ["tox", ["tox.ini"]],
]);
/** Programs that run what they are given by name; whatever else they are given is taken for it, too. */
const LAUNCHERS = new Set(
  (
    ". source sh bash dash ksh zsh exec command eval env nice time timeout xargs " +
    "node npx tsx deno bun python python2 python3 ruby perl php lua make go java"
  ).split(" "),
);
/** What can stand before the name of a program. */
const BEFORE = /^(?:if|then|elif|else|while|until|do|!|\w+=.*)$/;
const LONGEST_NAME = 400;
const MOST_FOLDERS = 20;

/**
 * The files of the tree that a shell command or script may run, as far as its words tell: what stands where a program is named, or is given to one that runs it,
 * seen from the top, from its own `folder` and from every folder that it goes into; and what programs such as make take from files of their own. Most
 * of them are not there; what a command reads is not among them.
 * @example filesRunBy("cd web && npm test; sh ./check.sh < a.txt") // package.json, web/package.json, check.sh and web/check.sh are among them
 */
export function filesRunBy(script: string, folder = ""): Set<string> {
  const folders = new Set(["", folder]);
  const named = new Set<string>();
  for (const command of script.split(/[\n;&|(){}`]+/)) {
    const words = command.split(/[\s<>"']+/).filter((word) => word !== "" && word.length <= LONGEST_NAME);
    const at = words.findIndex((word) => !BEFORE.test(word));
    if (at < 0) continue;
    const [program, ...given] = words.slice(at);
    named.add(program);
    const known = program.slice(program.lastIndexOf("/") + 1);
    if (known === "cd" && given.length > 0 && folders.size < MOST_FOLDERS) folders.add(given[0]);
    for (const own of OWN_FILES.get(known) ?? []) named.add(own);
    if (LAUNCHERS.has(known)) for (const word of given) named.add(word);
  }
  const found = new Set<string>();
  for (const name of named) {
    for (const from of folders) {
      const path = within(from, name);
      if (path) found.add(path);
    }
  }
  return found;
}

/** Whether a path is that of a shell script, by its name. */
export function isShellScript(path: string): boolean {
  return /\.(?:ba|da|z)?sh$/.test(path);
}

/** A name as it is seen from a folder, as a path of the tree; null when it leads out of it, or to the top. */
function within(folder: string, name: string): string | null {
  const parts: string[] = [];
  for (const part of `${folder}/${name}`.split("/")) {
    if (part === "" || part === ".") continue;
    if (part !== "..") parts.push(part);
    else if (parts.pop() === undefined) return null;
  }
  return parts.join("/") || null;
}
