import { type Case, foolable, foolableIn, harmless } from "./case";

const KEPT = `function keptByTheHarbour(x) {
  logOfTheHarbour("kept", x);
  noteOfTheHarbour("kept", x);
  return x;
}
`;
const MANY = Array.from({ length: 8 }, (_, n) => `const berth${n} = openBerth(${n});\n`).join("");
const CALLED = '(function () {\n  logOfTheHarbour("closed");\n})();\n';
const METHOD = (name: string, count: number) =>
  `    def ${name}(self):\n${Array.from({ length: count }, (_, n) => `        note_of_${name}_at_berth(${n})\n`).join("")}`;

/** Code that keeps what stands around it apart goes, or comes. */
export const SEAMS: Case[] = [
  foolable(
    "a.js",
    "what a function parted is called now",
    `const check = guard()\n${KEPT}${CALLED}${MANY}`,
    `const check = guard()\n${CALLED}${MANY}${KEPT}`,
  ),
  foolable(
    "a.ts",
    "what was called is parted by a function",
    `const check = guard()\n\n// closed\n${CALLED}${MANY}${KEPT}`,
    `const check = guard()\n${KEPT}\n// closed\n${CALLED}${MANY}`,
  ),
  foolable(
    "a.js",
    "an index into what stands above",
    `const check = guard\n${KEPT}[0, 1].forEach(openBerth)\n${MANY}`,
    `const check = guard\n[0, 1].forEach(openBerth)\n${MANY}${KEPT}`,
  ),
  foolable(
    "a.js",
    "what is called begins with a name that is replaced",
    `const check = guard()\n${KEPT}(slot)()\n${"openBerth(slot)\n".repeat(3)}${MANY}`,
    `const check = guard()\n(berth)()\n${"openBerth(berth)\n".repeat(3)}${MANY}${KEPT}`,
    "return x;",
  ),
  foolableIn("what stays behind is called, in the file that it left", {
    "a.js": { old: `const check = guard()\n${KEPT}${CALLED}`, next: `const check = guard()\n${CALLED}` },
    "b.js": { old: MANY, next: `${MANY}${KEPT}` },
  }),
];

/** The same, where nothing is joined and nothing parted. */
export const FREE_SEAMS: Case[] = [
  harmless(
    "a.js",
    "between statements that semicolons end",
    `const check = guard();\n${KEPT}${CALLED}${MANY}`,
    `const check = guard();\n${CALLED}${MANY}${KEPT}`,
    "moved",
  ),
  harmless(
    "a.py",
    "from the end of a class to its beginning",
    `class A:\n${METHOD("one", 8)}${METHOD("two", 4)}go(A())\n`,
    `class A:\n${METHOD("two", 4)}${METHOD("one", 8)}go(A())\n`,
    "moved",
    "blank",
  ),
];
