import { type Case, foolable, foolableIn, harmlessIn } from "./case";

const lines = (line: string, count: number, indent: string) =>
  Array.from({ length: count }, (_, n) => `${indent}${line.replace("#", `${n}`)}\n`).join("");
const guard = (indent = "  ") => lines("guard_of_the_berth_#(request);", 4, indent);
const save = (indent = "  ") => lines("save_the_berth_#(request);", 7, indent);
const named = (name: string, body: string) => `function ${name}(request) {\n${body}}\n`;
const SHOWN = "guard_of_the_berth_0";

/** Statements that stand in another order in a block that has another name, or another place. */
export const SUCCESSION: Case[] = [
  foolable(
    "a.js",
    "behind what it guards, in a function of another name",
    named("handle", guard() + save()),
    named("handleIt", save() + guard()),
    SHOWN,
  ),
  foolable(
    "a.js",
    "behind what it guards, in a class of another name",
    `class A {\n  handle(request) {\n${guard("    ")}${save("    ")}  }\n}\n`,
    `class B {\n  handle(request) {\n${save("    ")}${guard("    ")}  }\n}\n`,
    SHOWN,
  ),
  foolable(
    "a.js",
    "behind what it guards, where a function was put around both",
    guard("") + save(""),
    named("main", save("") + guard("")),
    SHOWN,
  ),
  foolable(
    "a.js",
    "behind what it guards, where both were put into a function and indented",
    guard("") + save(""),
    `${named("main", save() + guard())}main();\n`,
    SHOWN,
  ),
  foolableIn(
    "behind what it guards, in another file",
    {
      "a.js": { old: guard("") + save(""), next: "one();\n" },
      "b.js": { old: "two();\n", next: `two();\n${save("")}${guard("")}` },
    },
    SHOWN,
  ),
  foolableIn(
    "behind what it guards, in a function that went to another file",
    {
      "a.js": { old: `${named("handle", guard() + save())}one();\n`, next: "one();\n" },
      "b.js": { old: "two();\n", next: `two();\n${named("handle", save() + guard())}` },
    },
    SHOWN,
  ),
  foolableIn(
    "behind what calls it, in another file of a language in which it is not there before",
    {
      "a.py": {
        old: `def check(request):\n${lines("note_of_berth_# = request", 6, "    ")}\nregister(check)\n${lines("register_of_berth_#(check)", 8, "")}`,
        next: "one()\n",
      },
      "b.py": {
        old: "two()\n",
        next: `two()\nregister(check)\n${lines("register_of_berth_#(check)", 8, "")}\ndef check(request):\n${lines("note_of_berth_# = request", 6, "    ")}`,
      },
    },
    "def check",
  ),
];

/** Their harmless twins. */
export const IN_SUCCESSION: Case[] = [
  harmlessIn(
    "a function to another file, all of it in its order",
    {
      "a.js": {
        old: named("handle", guard() + save()) + named("more", "  one();\n"),
        next: named("more", "  one();\n"),
      },
      "b.js": { old: "two();\n", next: `two();\n${named("handle", guard() + save())}` },
    },
    "moved",
  ),
  harmlessIn(
    "functions to another file, in another order",
    {
      "a.js": {
        old: `${named("handle", guard())}${named("store", save())}${named("more", "  one();\n")}`,
        next: named("more", "  one();\n"),
      },
      "b.js": { old: "two();\n", next: `two();\n${named("store", save())}${named("handle", guard())}` },
    },
    "moved",
  ),
];
