import { describe, expect, it } from "vitest";
import { readTexts } from "../quiet/read-texts";

/** What is said of names in a text to which something was added. */
function said(path: string, old: string, next: string): [string, number | null][] {
  const { cautions } = readTexts({ [path]: { old, next } }, () => null).files[0];
  return cautions.flatMap(({ kind, says, line }) => (kind === "reads-otherwise" ? [[says, line]] : []));
}

const lines = (of: (n: number) => string, count = 8) => Array.from({ length: count }, (_, n) => of(n)).join("");

/** Of each format, something named, what stands between, the same named anew, and what is around all of it. */
const WAYS: [path: string, name: string, head: string, first: string, between: string, second: string, foot: string][] =
  [
    [
      "a.py",
      "allowed",
      "",
      "def allowed(a):\n    return check(a)\n",
      lines((n) => `def f${n}():\n    pass\n`),
      "def allowed(a):\n    return True\n",
      "",
    ],
    [
      "a.py",
      "allowed",
      "class A:\n",
      "    async def allowed(a):\n        return check(a)\n",
      lines((n) => `    b${n} = 1\n`),
      "    def allowed(a):\n        return True\n",
      "",
    ],
    [
      "a.rb",
      "self.allowed?",
      "class A\n",
      "  def self.allowed?\n    check\n  end\n",
      lines((n) => `  b${n}\n`),
      "  def self.allowed?\n    true\n  end\n",
      "end\n",
    ],
    [
      "a.sh",
      "allowed",
      "",
      "allowed() {\n  check\n}\n",
      lines((n) => `go ${n}\n`),
      "function allowed {\n  true\n}\n",
      "",
    ],
    [
      "a.js",
      "allowed",
      "",
      "function allowed() {\n  return check();\n}\n",
      lines((n) => `go(${n});\n`),
      "async function allowed() {\n  return true;\n}\n",
      "",
    ],
    [
      "a.js",
      "allowed",
      "const a = {\n",
      "  allowed: check(),\n",
      lines((n) => `  b${n}: 1,\n`),
      '  "allowed": true\n',
      "};\n",
    ],
    [
      "a.json",
      "allowed",
      "{\n",
      '  "allowed": false,\n',
      lines((n) => `  "b${n}": 1,\n`),
      '  "allowed": true\n',
      "}\n",
    ],
    ["a.yml", "allowed", "", "allowed: false\n", lines((n) => `b${n}: 1\n`), "'allowed' : true\n", ""],
    [
      "a.yml",
      "allowed",
      "- name: a\n",
      "  allowed: false\n",
      lines((n) => `# c\n  b${n}: 1\n`),
      "  allowed:\n    - true\n",
      "",
    ],
    [".env", "ALLOWED", "", "ALLOWED=no\n", lines((n) => `B${n}=1\n`), "export ALLOWED=yes\n", ""],
    ["a.properties", "is.allowed", "", "is.allowed=no\n", lines((n) => `b${n}=1\n`), "is.allowed: yes\n", ""],
  ];

describe("a line that names what another one names", () => {
  it.each(WAYS)("is told in %s of %s, wherever it is added", (path, name, head, first, between, second, foot) => {
    const lineAfter = (text: string) => text.split("\n").length;
    const [a, b] = [lineAfter(head), lineAfter(head + first + between)];
    const whole = head + first + between + second + foot;
    expect(said(path, head + first + between + foot, whole)).toEqual([
      [`“${name}” is named in line ${a} as well: what stands here counts.`, b],
    ]);
    expect(said(path, head + between + second + foot, whole)).toEqual([
      [`“${name}” is named in line ${b} as well: what stands there counts.`, a],
    ]);
  });

  it.each(WAYS)(
    "is told in %s of %s, where the one that counted is gone",
    (path, name, head, first, between, second, foot) => {
      const whole = head + first + between + second + foot;
      expect(said(path, whole, head + first + between + foot)).toEqual([
        [`The last “${name}” is gone: the one in line ${head.split("\n").length} counts now.`, head.split("\n").length],
      ]);
      // The later one counts as it did.
      expect(said(path, whole, head + between + second + foot)).toEqual([]);
      const third = second.replace("true", "yes");
      expect(
        said(
          path,
          head + first + between + second + between + third + foot,
          head + first + between + between + third + foot,
        ),
      ).toEqual([]);
    },
  );

  it("is told once for several that are out of sight, and with what does not show in it", () => {
    const names = lines((n) => `  "a\u200b${n}": 1,\n`, 12);
    const [[says, line], ...more] = said("a.json", `{\n${names}  "z": 1\n}\n`, `{\n${names}  "z": 1,\n${names}}\n`);
    expect(says).toBe(
      "“a⟨U+200B⟩0” is named in line 2 as well: what stands here counts. The same goes for 8 other names.",
    );
    expect([line, more]).toEqual([15, []]);
  });

  const far = lines((n) => `go(${n})\n`);
  it("names the one that counts now, however many there are of the name", () => {
    const many = lines((n) => `A=${n}\n`).repeat(10);
    const gone = `${many}${far}A=last\n`;
    expect(said("a.env", gone, `${many}${far}`)).toEqual([
      [`The last “A” is gone: the one in line ${many.split("\n").length - 1} counts now.`, many.split("\n").length - 1],
    ]);
  });

  it.each<[what: string, path: string, old: string, next: string]>([
    ["in sight", "a.yml", "a: 1\nb: 2\nc: 3\n", "a: 1\nb: 2\nc: 3\na: 2\n"],
    ["that is new, too", "a.py", far, `def f():\n  pass\n${far}def f():\n  pass\n`],
    [
      "in another block",
      "a.py",
      `class A:\n  def f():\n    pass\n${far}class B:\n`,
      `class A:\n  def f():\n    pass\n${far}class B:\n  def f():\n    pass\n`,
    ],
    [
      "in another branch",
      "a.py",
      `if a:\n  def f():\n    pass\n${far}`,
      `if a:\n  def f():\n    pass\n${far}else:\n  def f():\n    pass\n`,
    ],
    [
      "of another object",
      "a.json",
      `[\n{\n"a": 1\n},\n${lines((n) => `{"b": ${n}},\n`)}{}\n]\n`,
      `[\n{\n"a": 1\n},\n${lines((n) => `{"b": ${n}},\n`)}{\n  "a": 1\n}\n]\n`,
    ],
    [
      "of a property",
      "a.py",
      `class A:\n  @property\n  def f():\n    pass\n${lines((n) => `  b${n} = 1\n`)}`,
      `class A:\n  @property\n  def f():\n    pass\n${lines((n) => `  b${n} = 1\n`)}  @f.setter\n  def f():\n    pass\n`,
    ],
    [
      "within a text",
      "a.yml",
      `run: |\n  a: 1\n${lines((n) => `  go ${n}\n`)}`,
      `run: |\n  a: 1\n${lines((n) => `  go ${n}\n`)}  a: 2\n`,
    ],
    [
      "of another document",
      "a.yml",
      `a: 1\n${lines((n) => `b${n}: 1\n`)}---\nc: 1\n`,
      `a: 1\n${lines((n) => `b${n}: 1\n`)}---\nc: 1\na: 1\n`,
    ],
    [
      "of another item",
      "a.yml",
      `- a: 1\n  b: 1\n${lines((n) => `- c: ${n}\n`)}`,
      `- a: 1\n  b: 1\n${lines((n) => `- c: ${n}\n`)}- a: 1\n  b: 1\n`,
    ],
    [
      "of a case",
      "a.js",
      `switch (a) {\n  default:\n    go();\n${lines((n) => `  case ${n}: go();\n`)}}\n`,
      `switch (a) {\n  default:\n    go();\n${lines((n) => `  case ${n}: go();\n`)}  default: go(1)\n}\n`,
    ],
    ["where it is a mistake", "a.c", `int f() {}\n${far}`, `int f() {}\n${far}int f() {}\n`],
  ])("is not told of one %s", (_, path, old, next) => {
    expect(said(path, old, next)).toEqual([]);
  });
});
