import { type Case, foolable, harmless } from "./case";

/** Four methods, with the number of each in it. */
const four = (of: (n: number) => string) => [1, 2, 3, 4].map(of).join("\n");

/** A class that defines `verify`, which another may define, too, and asks for it under a name of its own or as a part. */
type Asking = (defined: string, asked: string) => string;
const ASKING: [path: string, of: Asking][] = [
  [
    "a.py",
    (defined, asked) =>
      `class A(B):\n    def ${defined}(self, r):\n        return r.ok\n\n${four((n) => `    def go${n}(self, r):\n        return self.${asked}(r)\n`)}`,
  ],
  [
    "A.java",
    (defined, asked) =>
      `class A extends B {\n  boolean ${defined}(R r) {\n    return r.ok;\n  }\n\n${four((n) => `  boolean go${n}(R r) {\n    return this.${asked}(r);\n  }\n`)}}\n`,
  ],
  [
    "A.cs",
    (defined, asked) =>
      `class A : B {\n  bool ${defined}(R r) {\n    return r.ok;\n  }\n\n${four((n) => `  bool Go${n}(R r) {\n    return this.${asked}(r);\n  }\n`)}}\n`,
  ],
  [
    "a.php",
    (defined, asked) =>
      `<?php\nclass A extends B {\n  function ${defined}($r) {\n    return $r->ok;\n  }\n\n${four((n) => `  function go${n}($r) {\n    return $this->${asked}($r);\n  }\n`)}}\n`,
  ],
  [
    "a.rb",
    (defined, asked) =>
      `class A < B\n  def ${defined}(r)\n    r.ok\n  end\n\n${four((n) => `  def go${n}(r)\n    self.${asked}(r)\n  end\n`)}end\n`,
  ],
  [
    "a.rs",
    (defined, asked) =>
      `impl A {\n    fn ${defined}(&self, r: R) -> bool {\n        r.ok\n    }\n\n${four((n) => `    fn go${n}(&self, r: R) -> bool {\n        self.${asked}(r)\n    }\n`)}}\n`,
  ],
  [
    "a.ts",
    (defined, asked) =>
      `class A extends B {\n  ${defined}(r: R) {\n    return r.ok;\n  }\n\n${four((n) => `  go${n}(r: R) {\n    return this.${asked}(r);\n  }\n`)}}\n`,
  ],
];

/** The same, from within the class, where a part needs no dot. */
const within = (text: string) => text.replace(/this\.(\w+)\(r\)/g, "$1(r)");

/** A function whose parameter is given by its name, next to it or far from it. */
const GIVEN: [path: string, of: (name: string) => string][] = [
  [
    "a.py",
    (name) =>
      `def hold(${name}, other=1):\n    one(${name})\n    two(${name})\n    return ${name}\n\n\nhold(verify=1)\n`,
  ],
  [
    "a.py",
    (name) =>
      `def hold(${name}, other=1):\n    one(${name})\n    two(${name})\n    return ${name}\n\n\ndef far():\n    a = 1\n    b = 2\n    c = 3\n    one(a, b, c)\n    return hold(\n        other=2,\n        verify=1,\n    )\n`,
  ],
  [
    "A.cs",
    (name) =>
      `class A {\n  int Hold(int ${name}, int other = 1) {\n    One(${name});\n    Two(${name});\n    return ${name};\n  }\n\n  int Go() {\n    return Hold(verify: 1);\n  }\n}\n`,
  ],
  [
    "a.rb",
    (name) => `def hold(${name}:, other: 1)\n  one(${name})\n  two(${name})\n  ${name}\nend\n\nhold(verify: 1)\n`,
  ],
];

/** Names of what a class has, and of what a function is given, of which some are left as they were: what they mean then is defined elsewhere. */
export const MEMBERS: Case[] = [
  ...ASKING.map(([path, of]) =>
    foolable(path, "another method is asked", of("verify", "verify"), of("verify", "accept")),
  ),
  ...ASKING.filter(([path]) => /java|cs/.test(path)).map(([path, of]) =>
    foolable(
      path,
      "what is asked as a part stays, and is not defined here any more",
      within(of("verify", "verify")).replace("verify(r)", "this.verify(r)"),
      within(of("accept", "accept")).replace("accept(r)", "this.verify(r)"),
    ),
  ),
  foolable(
    "a.py",
    "another attribute is asked",
    `class A(B):\n    strict = True\n\n${four((n) => `    def go${n}(self):\n        return self.strict\n`)}`,
    `class A(B):\n    strict = True\n\n${four((n) => `    def go${n}(self):\n        return self.loose\n`)}`,
  ),
  foolable(
    "a.rb",
    "another attribute is asked, of those that a call defines",
    `class A < B\n  attr_reader :strict\n\n${four((n) => `  def go${n}\n    self.strict\n  end\n`)}end\n`,
    `class A < B\n  attr_reader :strict\n\n${four((n) => `  def go${n}\n    self.loose\n  end\n`)}end\n`,
  ),
  ...GIVEN.map(([path, of]) => foolable(path, "is given by its old name", of("verify"), of("accept"))),
];

/** The same, where all of them are replaced. */
export const WHOLE_MEMBERS: Case[] = [
  ...ASKING.map(([path, of]) =>
    harmless(path, "a method, wherever it is asked", of("verify", "verify"), of("accept", "accept"), "repeated"),
  ),
  ...GIVEN.filter(([path]) => path !== "a.rb").map(([path, of]) =>
    harmless(
      path,
      "a parameter, also where it is given",
      of("verify"),
      of("accept").replaceAll("verify", "accept"),
      "repeated",
    ),
  ),
];
