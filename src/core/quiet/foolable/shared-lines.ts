import { type Case, foolable, harmless } from "./case";

/** Statements that are done in their order, more of them than a definition has lines. */
const STEPS = Array.from({ length: 9 }, (_, n) => `guardOfTheHarbour(${n});\n`).join("");
const FIELDS = Array.from({ length: 9 }, (_, n) => `  static int g${n} = guardOfTheHarbour(${n});\n`).join("");

const JS = (end = "") =>
  `function first(request) {\n  const one = oneOf(request, "first");\n  const two = twoOf(request, "first");\n  return one + two;\n}${end}\n`;
const JAVA = (end = "") =>
  `  void first(R r) {\n    one(r, "first");\n    two(r, "first");\n    three(r, "first");\n  }${end}\n`;
const inJava = (body: string) => `class A {\n${body}}\n`;
const inPhp = (body: string) => `<?php\n${body}`;

/** A definition goes behind what stood behind it, with what shares a line with it. */
const behind = (
  path: string,
  what: string,
  moved: string,
  passed = STEPS,
  wrap: (body: string) => string = (body) => body,
  shows = "admit(one)",
) => foolable(path, what, wrap(moved + passed), wrap(passed + moved), shows);

/** Lines on which a definition ends and something else is done. */
export const SHARED_LINES: Case[] = [
  behind("a.js", "a call behind the end of a function", JS(" admit(one);")),
  behind("a.ts", "a call behind the end of what is exported", `export ${JS(" admit(one);")}`),
  behind("A.java", "a field behind the end of a method", JAVA(" static int one = admit(one);"), FIELDS, inJava),
  behind(
    "a.php",
    "a call behind the end of a function",
    `function first($r) {\n  one($r, 'first');\n  two($r, 'first');\n  three($r, 'first');\n} admit(one);\n`,
    STEPS,
    inPhp,
  ),
  behind("a.js", "a call behind the end of a comment", `/* words of the harbour\n   and more */ admit(one);\n${JS()}`),
  behind("a.js", "a call behind a comment", `/* words of the harbour */ admit(one);\n${JS()}`),
  behind("a.js", "a call behind the end of a text", JS().replace("one + two;\n}", "`one\n  two`; } admit(one);")),
];

/** The same, where nothing but what closes it, or a comment, shares a line with it. */
export const LINES_OF_THEIR_OWN: Case[] = [
  harmless("a.js", "a comment behind the end", JS(" // first") + STEPS, STEPS + JS(" // first"), "moved"),
  harmless("a.js", "a semicolon behind the end", JS(";") + STEPS, STEPS + JS(";"), "moved"),
  harmless(
    "A.java",
    "a comment behind the end",
    inJava(JAVA(" /* first */") + FIELDS),
    inJava(FIELDS + JAVA(" /* first */")),
    "moved",
  ),
];
