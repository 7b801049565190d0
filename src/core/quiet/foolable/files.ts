import { type Case, foolable, foolableIn } from "./case";

const LONG = (word: string) => `${`const ${word} = call(${"value, ".repeat(90)}end); `.repeat(10)}`;
const SHORT = Array.from({ length: 40 }, (_, n) => `  step${n}(berth);`);
const npm = (version: string, host: string, hash: string, more = "") =>
  JSON.stringify(
    {
      name: "planner",
      lockfileVersion: 3,
      requires: true,
      packages: {
        "": { name: "planner", dependencies: { tide: "^1.0.0" } },
        "node_modules/tide": {
          version,
          resolved: `https://${host}/tide/-/tide-${version}.tgz`,
          integrity: `sha512-${hash.repeat(86)}==`,
          ...(more ? { hasInstallScript: true } : {}),
        },
      },
    },
    null,
    2,
  ).concat("\n");
const yarn = (version: string, address: string) =>
  `# yarn lockfile v1\n\n\ntide@^1.0.0:\n  version "${version}"\n  resolved "${address}"\n  integrity sha512-${"a".repeat(86)}==\n`;

const hash = (letter: string) => `sha512-${letter.repeat(86)}==`;
const packed = (name: string, version: string, letter: string, more: object = {}) => ({
  version,
  resolved: `https://packages.example/${name}/-/${name}-${version}.tgz`,
  integrity: hash(letter),
  ...more,
});
/** A lockfile of npm that holds `tide`, in one state and another. */
const locked = (what: string, old: object, next: object, shows: string, more: object = {}) => {
  const of = (tide: object, others: object) =>
    `${JSON.stringify({ name: "planner", lockfileVersion: 3, packages: { "": {}, "node_modules/tide": tide, ...others } }, null, 2)}\n`;
  return foolable("package-lock.json", what, of(old, {}), of(next, more), shows);
};
const crate = (name: string, version: string, letter: string) =>
  `[[package]]\nname = "${name}"\nversion = "${version}"\nsource = "registry+https://crates.example/index"\nchecksum = "${letter.repeat(64)}"\n`;

/** Whole files: what is taken for generated, lockfiles, modes, links, pointers. */
export const FILES: Case[] = [
  foolable(
    "a.js",
    "a function above a long comment",
    `${SHORT.join("\n")}\n// ${"x".repeat(60_000)}\n`,
    `${SHORT.with(3, "  steal(berth);").join("\n")}\n// ${"x".repeat(60_000)}\n`,
    "steal",
  ),
  foolable(
    "a.min.js",
    "is called minified and is not",
    `${SHORT.join("\n")}\n`,
    `${SHORT.with(3, "  steal(berth);").join("\n")}\n`,
    "steal",
  ),
  foolable(
    "a.min.js",
    "a short line beside a long one",
    `a();\n${LONG("one")}\n`,
    `steal();\n${LONG("one")}\n`,
    "steal",
  ),
  foolable("a.min.js", "a minified file that was not there before", null, `${LONG("one")}\n`, "one"),
  foolable("a.js", "becomes minified", `${SHORT.join("\n")}\n`, `${LONG("one")}\n`, "one"),
  foolable("a.min.css", "no longer minified", `${LONG("one")}\n`, `${SHORT.join("\n")}\n`, "step1"),
  foolable("a.js.map", "a new source map", null, `${LONG("one")}\n`, "one"),
  foolableIn(
    "says itself that it is generated",
    {
      ".gitattributes": { old: "*.png binary\n", next: "*.png binary\n*.js lens-generated\n" },
      "a.js": { old: "a();\n", next: "steal();\n" },
    },
    "steal",
  ),
  foolableIn(
    "the file that says what is generated, called generated",
    { ".gitattributes": { old: "a\n", next: "* lens-generated\n", generated: true } },
    "lens-generated",
  ),
  foolable("vendor/.gitattributes", "a change of attributes", "", "* lens-generated\n", "lens-generated"),
  foolable("package-lock.json", "is called a lockfile and is none", '{ "a": 1 }\n', '{ "a": 2 }\n'),
  foolable(
    "package-lock.json",
    "another host",
    npm("1.0.0", "packages.example", "a"),
    npm("1.1.0", "evil.example", "b"),
    "evil.example",
  ),
  foolable(
    "package-lock.json",
    "another hash under the same version",
    npm("1.0.0", "packages.example", "a"),
    npm("1.0.0", "packages.example", "b"),
    "bbbb",
  ),
  foolable(
    "package-lock.json",
    "a script that runs at the installation",
    npm("1.0.0", "packages.example", "a"),
    npm("1.1.0", "packages.example", "b", "script"),
    "hasInstallScript",
  ),
  foolable(
    "package-lock.json",
    "another package under the name",
    npm("1.0.0", "packages.example", "a"),
    npm("1.1.0", "packages.example", "b").replace("tide/-/tide", "tyde/-/tyde"),
    "tyde",
  ),
  foolable(
    "package-lock.json",
    "written by hand",
    npm("1.0.0", "packages.example", "a"),
    npm("1.1.0", "packages.example", "b").replace('  "requires": true,', ' "requires": true,'),
    "1.1.0",
  ),
  foolable(
    "yarn.lock",
    "another host",
    yarn("1.0.0", `https://packages.example/tide/-/tide-1.0.0.tgz#${"a".repeat(40)}`),
    yarn("1.1.0", `https://evil.example/tide/-/tide-1.1.0.tgz#${"b".repeat(40)}`),
    "evil",
  ),
  foolable(
    "yarn.lock",
    "another package under the name",
    yarn("1.0.0", `https://packages.example/tide/-/tide-1.0.0.tgz#${"a".repeat(40)}`),
    yarn("1.1.0", `https://packages.example/tyde/-/tyde-1.1.0.tgz#${"b".repeat(40)}`),
    "tyde",
  ),
  foolable("yarn.lock", "no lockfile at all", "a:\n  b\n", "a:\n  c\n"),
  foolable(
    "Cargo.lock",
    "another source",
    '[[package]]\nname = "tide"\nversion = "1.0.0"\nsource = "registry+https://crates.example/index"\n',
    '[[package]]\nname = "tide"\nversion = "1.1.0"\nsource = "git+https://evil.example/tide"\n',
    "evil",
  ),
  foolable(
    "Cargo.lock",
    "another sum under the same version",
    `[[package]]\nname = "tide"\nversion = "1.0.0"\nsource = "registry+https://crates.example/index"\nchecksum = "${"a".repeat(64)}"\n`,
    `[[package]]\nname = "tide"\nversion = "1.0.0"\nsource = "registry+https://crates.example/index"\nchecksum = "${"b".repeat(64)}"\n`,
    "bbbb",
  ),
  foolable(
    "go.sum",
    "another hash under the same version",
    `example.org/tide v1.0.0 h1:${"a".repeat(43)}=\n`,
    `example.org/tide v1.0.0 h1:${"b".repeat(43)}=\n`,
    "bbbb",
  ),
  locked(
    "what it needs comes from somebody's own place",
    packed("tide", "1.0.0", "a", { dependencies: { chart: "^1.0.0" } }),
    packed("tide", "1.1.0", "b", { dependencies: { chart: "evil/chart" } }),
    "evil/chart",
  ),
  locked(
    "what it needs is a file",
    packed("tide", "1.0.0", "a", { dependencies: { chart: "^1.0.0" } }),
    packed("tide", "1.1.0", "b", { dependencies: { chart: "file:evil.tgz" } }),
    "evil.tgz",
  ),
  locked(
    "another hash under the same version, in another place",
    packed("tide", "1.0.0", "a"),
    packed("tide", "1.0.0", "a"),
    "bbbb",
    { "node_modules/chart/node_modules/tide": packed("tide", "1.0.0", "b") },
  ),
  locked(
    "nothing to check it by any more",
    packed("tide", "1.0.0", "a"),
    { ...packed("tide", "1.1.0", "b"), integrity: undefined },
    "1.1.0",
  ),
  locked(
    "a weaker hash",
    packed("tide", "1.0.0", "a"),
    { ...packed("tide", "1.1.0", "b"), integrity: `sha1-${"b".repeat(27)}=` },
    "sha1",
  ),
  locked("back to a version with a hole in it", packed("tide", "1.10.0", "a"), packed("tide", "1.9.2", "b"), "1.9.2"),
  locked(
    "a version that leads to another package",
    packed("tide", "1.0.0", "a"),
    packed("tide", "1.1.0/../../../evil/-/evil-1.0.0", "b"),
    "evil",
  ),
  locked("a name that leads to another folder", packed("tide", "1.0.0", "a"), packed("tide", "1.0.0", "a"), "evil", {
    "node_modules/../evil": packed("../evil", "1.0.0", "b"),
  }),
  locked(
    "a program that stands before another",
    packed("tide", "1.0.0", "a", { bin: { tide: "a.js" } }),
    packed("tide", "1.1.0", "b", { bin: { node: "a.js" } }),
    '"node"',
  ),
  locked(
    "is not installed where it is needed",
    packed("tide", "1.0.0", "a"),
    packed("tide", "1.1.0", "b", { dev: true }),
    "dev",
  ),
  foolable(
    "Cargo.lock",
    "a second version, so that another sum under the first one is not seen",
    crate("tide", "1.0.0", "a"),
    `${crate("tide", "0.9.0", "c")}\n${crate("tide", "1.0.0", "b")}`,
    "bbbb",
  ),
  foolable(
    "Cargo.lock",
    "two entries that look like one",
    crate("tide", "1.0.0", "a"),
    crate("tide", "1.1.0", "b") + crate("evil", "1.0.0", "c"),
    "evil",
  ),
  foolable(
    "Cargo.lock",
    "nothing to check it by any more",
    crate("tide", "1.0.0", "a"),
    crate("tide", "1.1.0", "b").replace(/checksum.*\n/, ""),
    "1.1.0",
  ),
  foolable(
    "yarn.lock",
    "another hash under the same version, asked for otherwise",
    yarn("1.0.0", `https://packages.example/tide/-/tide-1.0.0.tgz#${"a".repeat(40)}`),
    yarn("1.0.0", `https://packages.example/tide/-/tide-1.0.0.tgz#${"b".repeat(40)}`)
      .replace("tide@^1.0.0", "tide@^1.0.1, tide@^1.0.0")
      .replace(hash("a"), hash("b")),
    "bbbb",
  ),
  foolable(
    "yarn.lock",
    "two addresses",
    yarn("1.0.0", `https://packages.example/tide/-/tide-1.0.0.tgz#${"a".repeat(40)}`),
    yarn(
      "1.1.0",
      `https://packages.example/tide/-/tide-1.1.0.tgz"\n  resolved "https://evil.example/tide/-/tide-1.1.0.tgz`,
    ),
    "evil",
  ),
  foolable("go.sum", "is no such file", "a\n", "b\n"),
  foolable("pnpm-lock.yaml", "a kind that is not summed up", "a: 1\n", "a: 2\n"),
  foolable("composer.lock", "a kind that is not summed up", "{}\n", '{ "a": 1 }\n'),
  foolableIn("made executable", { "run.sh": { old: "a\n", next: "a\n", newMode: 0o100755 } }),
  foolableIn("a new program", { "run.sh": { old: null, next: "a\n", newMode: 0o100755 } }),
  foolableIn("executable no more", { "run.sh": { old: "a\n", next: "a\n", oldMode: 0o100755 } }),
  foolableIn("a file becomes a link", { a: { old: "b", next: "b", newMode: 0o120000 } }),
  foolableIn(
    "a link leads elsewhere",
    { a: { old: "b", next: "/etc/passwd", oldMode: 0o120000, newMode: 0o120000 } },
    "passwd",
  ),
  foolableIn(
    "a pointer is moved",
    {
      lib: {
        old: `Subproject commit ${"a".repeat(40)}\n`,
        next: `Subproject commit ${"b".repeat(40)}\n`,
        oldMode: 0o160000,
        newMode: 0o160000,
      },
    },
    "bbbb",
  ),
  foolableIn(
    "a pointer becomes a file",
    { lib: { old: `Subproject commit ${"a".repeat(40)}\n`, next: "evil();\n", oldMode: 0o160000 } },
    "evil",
  ),
  foolableIn("all of it is new to read", { "a.py": { old: null, next: "evil()\n\n\nok()\n" } }, "evil"),
  foolableIn("all of it is gone", { "check.py": { old: "check()\n", next: null } }, "check"),
];
