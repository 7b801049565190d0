import { type Case, foolable } from "./case";

/** Lines of a body, as many as are asked for. */
const lines = (line: string, count: number) =>
  Array.from({ length: count }, (_, n) => line.replace("#", `${n}`)).join("");
const indented = (text: string) => text.replace(/^(?=.)/gm, "    ");

const PY = (name: string, count = 5, parameters = "(request)", gives = "request") =>
  `def ${name}${parameters}:\n${lines(`    note_of_${name}_at_berth_# = request\n`, count)}    return ${gives}\n\n\n`;
const JS = (name: string, count = 5, gives = "request") =>
  `function ${name}(request) {\n${lines(`  const noteOf${name}AtBerth# = request;\n`, count)}  return ${gives};\n}\n\n`;
const ARROW = (name: string, count = 5) =>
  `const ${name} = (request) => {\n${lines(`  const noteOf${name}AtBerth# = request;\n`, count)}  return request;\n};\n\n`;
const RB = (name: string, count = 5) =>
  `  def ${name}(request)\n${lines(`    note_of_${name}_at_berth_#(request)\n`, count)}  end\n\n`;
const SH = (name: string, count = 5) => `${name}() {\n${lines(`  note_of_${name}_at_berth_# request\n`, count)}}\n\n`;
const C = (name: string, count = 5) =>
  `int ${name}(int request) {\n${lines(`  note_of_${name}_at_berth_#(request, LIMIT);\n`, count)}  return request;\n}\n\n`;
const LONG = 12;

/** A definition goes behind what stood behind it: what stands before and behind both may be said, too. */
function past(path: string, what: string, moved: string, passed: string, before = "", behind = ""): Case {
  return foolable(
    path,
    what,
    before + moved + passed + behind,
    before + passed + moved + behind,
    moved.split("\n")[1].trim(),
  );
}

/** Whole definitions that stand elsewhere among others, where the place means something. */
export const ORDER: Case[] = [
  past(
    "a.py",
    "what its head looks at is another number there",
    PY("take", 5, "(request, most=LIMIT)"),
    `LIMIT = 99\n\n\n${PY("other", LONG)}`,
    "LIMIT = 10\n\n",
  ),
  past("a.py", "the later function of one name counts", PY("check", 5, "(request)", "True"), PY("check", LONG)),
  past(
    "a.py",
    "the later method of one name counts",
    indented(PY("check", 5)),
    indented(PY("check", LONG, "(request)", "True")),
    "class A:\n",
  ),
  past(
    "a.py",
    "another function of that name is registered",
    PY("check"),
    `register(check)\n\n\n${PY("other", LONG)}`,
    "from safe import check\n\n",
  ),
  past(
    "a.py",
    "what is called calls what is there by then",
    PY("check"),
    `run_all()\n\n\n${PY("other", LONG)}`,
    "from safe import check\n\n",
  ),
  past(
    "a.py",
    "what a class takes over is another number there",
    `class Take:\n    most = LIMIT\n${lines("    note_of_berth_# = LIMIT\n", 5)}\n\n`,
    `LIMIT = 99\n\n\n${PY("other", LONG)}`,
    "LIMIT = 10\n\n",
  ),
  past(
    "a.py",
    "routes answer in the order in which they are said",
    `@app.route("/<name>")\n${PY("take")}`,
    `@app.route("/admin")\n${PY("other", LONG)}`,
    "app = make()\n\n",
  ),
  past(
    "a.py",
    "what decorates it is another thing there",
    `@app\n${PY("take")}`,
    `app = other_app()\n\n\n${PY("other", LONG)}`,
    "app = make()\n\n",
  ),
  past("a.py", "a name that a import brings in again", PY("check"), `from safe import check\n\n\n${PY("other", LONG)}`),
  foolable(
    "a.py",
    "from one condition to the other",
    `if production:\n${indented(PY("check", 5))}\nif testing:\n${indented(PY("check", LONG, "(request)", "True"))}\n`,
    `if production:\n${indented(PY("check", LONG, "(request)", "True"))}\nif testing:\n${indented(PY("check", 5))}\n`,
  ),
  foolable(
    "a.py",
    "from what is tried to what is done when it fails",
    `try:\n${indented(PY("check", 5))}\nexcept ImportError:\n${indented(PY("check", LONG, "(request)", "True"))}\n`,
    `try:\n${indented(PY("check", LONG, "(request)", "True"))}\nexcept ImportError:\n${indented(PY("check", 5))}\n`,
  ),
  past("a.js", "the later function of one name counts", JS("check", 5, "true"), JS("check", LONG)),
  past(
    "a.ts",
    "the later function of one name counts, exported too",
    `export ${JS("check", 5, "true")}`,
    JS("check", LONG),
  ),
  past("a.js", "used before it is there", ARROW("check"), `register(check);\n${JS("other", LONG)}`),
  past(
    "a.js",
    "what a class takes over is another number there",
    `class A {\n${lines("  static noteOfBerth# = limit;\n", 6)}}\n\n`,
    `limit = 99;\n${JS("other", LONG)}`,
    "let limit = 10;\n",
  ),
  foolable(
    "a.js",
    "before what makes the script strict",
    `"use strict";\n${lines("noteOfTheBerth(#);\n", LONG)}${JS("check")}`,
    `${JS("check")}"use strict";\n${lines("noteOfTheBerth(#);\n", LONG)}`,
    "function check",
  ),
  past(
    "a.js",
    "the later method of one name counts",
    `  ${JS("check", 5, "true").slice(9)}`,
    `  ${JS("check", LONG).slice(9)}`,
    "class A {\n",
    "}\n",
  ),
  foolable(
    "a.js",
    "from what is allowed to what is not",
    `const rules = {\n  allow: {\n${lines("    noteOfBerth#: 1,\n", LONG)}    check(request) {\n${lines("      noteOfCheckAtBerth#(request);\n", 5)}    },\n  },\n  deny: {\n${lines("    tellOfBerth#: 1,\n", LONG)}  },\n};\n`,
    `const rules = {\n  allow: {\n${lines("    noteOfBerth#: 1,\n", LONG)}  },\n  deny: {\n${lines("    tellOfBerth#: 1,\n", LONG)}    check(request) {\n${lines("      noteOfCheckAtBerth#(request);\n", 5)}    },\n  },\n};\n`,
    "noteOfCheckAtBerth0",
  ),
  past(
    "a.rb",
    "the later method of one name counts",
    RB("check"),
    RB("check", LONG).replaceAll("note_", "tell_"),
    "class A\n",
    "end\n",
  ),
  past(
    "a.rb",
    "another method gets the other name",
    RB("check"),
    `  alias_method :old_check, :check\n${RB("other", LONG)}`,
    "class A < B\n",
    "end\n",
  ),
  past(
    "a.sh",
    "the later function of one name counts",
    SH("check"),
    SH("check", LONG).replaceAll("note_", "tell_"),
    "",
    "check\n",
  ),
  past("a.sh", "called before it is there", SH("check"), `check || exit 1\n${SH("other", LONG)}`, "", "other\n"),
  past(
    "a.ps1",
    "the later function of one name counts, however it is written",
    `function Check {\n${lines("  First-Note-Of-Berth# request\n", 5)}}\n\n`,
    `function CHECK {\n${lines("  Second-Note-Of-Berth# request\n", LONG)}}\n\n`,
  ),
  past(
    "a.php",
    "there only where it is not there yet",
    `if (!function_exists('check')) {\nfunction check($request) {\n${lines("  note_of_berth_#($request);\n", 5)}}\n}\n\n`,
    `include 'other.php';\nfunction other($request) {\n${lines("  tell_of_berth_#($request);\n", LONG)}}\n\n`,
    "<?php\n",
  ),
  past(
    "a.c",
    "a name is another number there",
    C("take"),
    `#undef LIMIT\n#define LIMIT 99\n${C("other", LONG)}`,
    "#define LIMIT 10\n",
  ),
  past(
    "a.cpp",
    "calls another function of the same name",
    C("take"),
    `void note_of_take_at_berth_0(long one, int two) {\n${lines("  tell_of_berth_#(one);\n", LONG)}}\n\n`,
  ),
  past(
    "a.rs",
    "a macro is another one there",
    `fn take(request: u32) {\n${lines("    note_of_berth_#(request, limit!());\n", 6)}}\n\n`,
    `macro_rules! limit { () => { 99 } }\nfn other(request: u32) {\n${lines("    tell_of_berth_#(request);\n", LONG)}}\n\n`,
    "macro_rules! limit { () => { 10 } }\n",
  ),
  past(
    "a.go",
    "what is run at the start, in its order",
    `func init() {\n${lines("\tnoteOfBerth#(request)\n", 6)}}\n\n`,
    `func init() {\n${lines("\ttellOfBerth#(request)\n", LONG)}}\n\n`,
    "package a\n\n",
  ),
];
