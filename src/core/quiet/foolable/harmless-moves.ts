import { type Case, harmless, harmlessIn } from "./case";

const METHOD = [
  "  closesAt(window) {",
  "    const last = window.closes;",
  "    if (last.isBefore(now)) return null;",
  "    return last.plusMinutes(margin);",
  "  }",
];
const FUNCTION = [
  "function closesAt(window) {",
  "  const last = window.closes;",
  "  if (last.isBefore(now)) return null;",
  "  return last.plusMinutes(margin);",
  "}",
];
const REST =
  "function first() {\n  start();\n  go();\n}\n\nfunction second() {\n  stop();\n  wait();\n}\n\nfunction third() {\n  rest();\n  sleep();\n}\n";
const PY = [
  "def closes_at(window):",
  "    last = window.closes",
  "    if last.is_before(now):",
  "        return None",
  "    return last.plus_minutes(margin)",
];
const PY_REST =
  "def first():\n    start()\n    go()\n\n\ndef second():\n    stop()\n    wait()\n\n\ndef third():\n    rest()\n    sleep()\n";

/** Blocks that stand elsewhere, and do there what they did. */
export const STILL_MOVES: Case[] = [
  harmless(
    "a.js",
    "a function to the end of its file",
    `${FUNCTION.join("\n")}\n${REST}`,
    `${REST}${FUNCTION.join("\n")}\n`,
    "moved",
    "blank",
  ),
  harmlessIn(
    "a function to another file",
    {
      "a.ts": { old: `${FUNCTION.join("\n")}\n${REST}`, next: REST },
      "b.ts": { old: "function b() {}\n", next: `function b() {}\n${FUNCTION.join("\n")}\n` },
    },
    "moved",
  ),
  harmlessIn(
    "a method to another class, deeper",
    {
      "a.ts": { old: `class A {\n${METHOD.join("\n")}\n}\n`, next: "class A {\n}\n" },
      "b.ts": {
        old: "namespace n {\n  class B {\n  }\n}\n",
        next: `namespace n {\n  class B {\n${METHOD.map((l) => `  ${l}`).join("\n")}\n  }\n}\n`,
      },
    },
    "moved",
  ),
  harmless(
    "a.py",
    "a function to the end of its file",
    `${PY.join("\n")}\n${PY_REST}`,
    `${PY_REST}${PY.join("\n")}\n`,
    "moved",
    "blank",
  ),
  harmlessIn(
    "a function of Python to another file",
    {
      "a.py": { old: `${PY.join("\n")}\n${PY_REST}`, next: PY_REST },
      "b.py": { old: "def b():\n    pass\n", next: `def b():\n    pass\n${PY.join("\n")}\n` },
    },
    "moved",
  ),
  harmless(
    "a.js",
    "statements into another function",
    `function a() {\n  begin();\n  const last = window.closes;\n  warn(last.isBefore(now));\n  show(last.plusMinutes(margin));\n  end();\n}\nfunction b() {\n  one();\n  two();\n}\n`,
    `function a() {\n  begin();\n  end();\n}\nfunction b() {\n  one();\n  const last = window.closes;\n  warn(last.isBefore(now));\n  show(last.plusMinutes(margin));\n  two();\n}\n`,
    "moved",
  ),
  harmless(
    "A.java",
    "a method within its class",
    `class A {\n  int closesAt(Window window) {\n    int last = window.closes();\n    return last + margin;\n  }\n  int first() {\n    start();\n    return go(1);\n  }\n  int second() {\n    stop();\n    return wait(2);\n  }\n}\n`,
    `class A {\n  int first() {\n    start();\n    return go(1);\n  }\n  int second() {\n    stop();\n    return wait(2);\n  }\n  int closesAt(Window window) {\n    int last = window.closes();\n    return last + margin;\n  }\n}\n`,
    "moved",
  ),
];
