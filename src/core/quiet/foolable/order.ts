import { type Case, foolable, foolableIn, harmless } from "./case";

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
const PS = (name: string, command: string, count = 5) =>
  `function ${name} {\n${lines(`  ${command}-Note-Of-Berth# request\n`, count)}}\n\n`;
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

/** The same, where nothing comes of it. */
function freely(path: string, what: string, moved: string, passed: string, before = "", behind = ""): Case {
  return harmless(path, what, before + moved + passed + behind, before + passed + moved + behind, "moved", "blank");
}

/** Whole definitions that stand elsewhere among others, where the place means something. */
export const ORDER: Case[] = [
  past(
    "a.ts",
    "a namespace that is added to the function of its name",
    JS("check"),
    `namespace check {\n${lines("  export const noteAtBerth# = tell(#);\n", LONG)}}\n`,
  ),
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
  past(
    "a.py",
    "what is told of each class that takes it over, in their order",
    `class Take(Base):\n${lines("    note_of_berth_# = 1\n", 6)}\n\n`,
    `class Other(Base):\n${lines("    tell_of_berth_# = 1\n", LONG)}\n\n`,
  ),
  past(
    "a.py",
    "a name that an import brings in again",
    PY("check"),
    `from safe import check\n\n\n${PY("other", LONG)}`,
  ),
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
    "a.js",
    "checks of an object are gone through in their order",
    `  take(request) {\n${lines("    noteOfBerth#(request);\n", 5)}  },\n`,
    `  other(request) {\n${lines("    tellOfBerth#(request);\n", LONG)}  },\n`,
    "export const checks = {\n",
    "};\n",
  ),
  past(
    "a.ts",
    "routes of a class answer in the order in which they are said",
    `  @Get(":name")\n${indented(JS("take").slice(9)).slice(2)}`,
    `  @Get("admin")\n${indented(JS("other", LONG).slice(9)).slice(2)}`,
    "class A {\n",
    "}\n",
  ),
  past(
    "a.go",
    "stands before what is imported, and is no program any more",
    "func take(list []int) int {\n\tberths := len(list)\n\tlongest := berths * 20\n\treturn longest\n}\n\n",
    `func other() {\n${lines("\tnote#()\n", LONG)}}\n\nimport "fmt"\n\n`,
    "package pier\n\n",
  ),
  past(
    "a.cs",
    "the parts of a class are made in their order",
    `partial class A {\n${lines("    int noteOfBerth# = Harbour.Log();\n", 5)}}\n\n`,
    `partial class A {\n${lines("    int tellOfBerth# = Harbour.Log();\n", LONG)}}\n\n`,
  ),
  past(
    "a.cs",
    "leaves the namespace that begins there",
    "class Take {\n  int Longest(int[] list) {\n    int berths = list.Length;\n    return berths * 20;\n  }\n}\n\n",
    `class Other {\n${lines("  int note#;\n", LONG)}}\n\nnamespace Pier;\n\n`,
    "using System;\n\n",
  ),
  past(
    "a.php",
    "routes of a class answer in the order in which they are said",
    `  #[Route("/{name}")]\n  public function take($request) {\n${lines("    note_of_berth_#($request);\n", 5)}  }\n\n`,
    `  #[Route("/admin")]\n  public function other($request) {\n${lines("    tell_of_berth_#($request);\n", LONG)}  }\n\n`,
    "<?php\nclass A {\n",
    "}\n",
  ),
  past(
    "a.js",
    "what a class takes over is there by then",
    `class A {\n${lines("  static noteOfBerth# = limit;\n", 6)}}\n\n`,
    `const limit = 10;\n${JS("other", LONG)}`,
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
    "a class is told of each of its methods, in turn",
    `class A\n  def self.method_added(name)\n    register(name)\n  end\n\n${RB("check")}end\n\n`,
    `class B\n  def self.method_added(name)\n    register(name)\n  end\n\n${RB("other", LONG)}end\n\n`,
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
    PS("Check", "First"),
    PS("CHECK", "Second", LONG),
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
    "a.c",
    "what it calls is not declared there: a compiler that only warns of that hands a number over as it stands",
    C("take"),
    `int note_of_take_at_berth_0(double one) {\n${lines("  tell_of_berth_#(one);\n", LONG)}}\n\n`,
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
  foolableIn(
    "into a file where a later one of its name counts",
    {
      "a.py": { old: PY("check") + PY("other", 3), next: PY("other", 3) },
      "b.py": {
        old: PY("more", 3) + PY("check", 3, "(request)", "True"),
        next: PY("more", 3) + PY("check") + PY("check", 3, "(request)", "True"),
      },
    },
    "def check",
  ),
  foolableIn(
    "into a file where it counts only under a condition",
    {
      "a.py": { old: PY("check") + PY("other", 3), next: PY("other", 3) },
      "b.py": {
        old: `if testing:\n${indented(PY("check", 3, "(request)", "True"))}`,
        next: `${PY("check")}if testing:\n${indented(PY("check", 3, "(request)", "True"))}`,
      },
    },
    "def check",
  ),
  foolableIn(
    "out of a file where another of its name is left",
    {
      "a.py": {
        old: PY("check", 3, "(request)", "True") + PY("other", 3) + PY("check"),
        next: PY("check", 3, "(request)", "True") + PY("other", 3),
      },
      "b.py": { old: PY("more", 3), next: PY("more", 3) + PY("check") },
    },
    "def check",
  ),
  foolableIn(
    "into a script that gives its name to another",
    {
      "a.js": { old: JS("check") + JS("other", 3), next: JS("other", 3) },
      "b.js": { old: "check = always;\n", next: `${JS("check")}check = always;\n` },
    },
    "function check",
  ),
  foolable(
    "a.js",
    "into a class that has another of its name",
    `class A {\n${JS("check").slice(9)}}\nclass B {\n${JS("one", 3).slice(9)}${JS("check", 3, "true").slice(9)}}\n`,
    `class A {\n}\nclass B {\n${JS("one", 3).slice(9)}${JS("check").slice(9)}${JS("check", 3, "true").slice(9)}}\n`,
    "check(request)",
  ),
];

/** Their harmless twins: past what it can change places with. */
export const IN_ANY_ORDER: Case[] = [
  freely(
    "a.py",
    "past another, and what is said of it",
    PY("take"),
    `${PY("other", LONG)}# More of the berths.\n`,
    "import os\n\n",
  ),
  freely(
    "a.py",
    "past a class with properties",
    PY("take", 5, "(request: Request, most=10) -> Request"),
    `class Other(Exception, abc.ABC):\n    """Other berths."""\n\n    size = 20\n\n    @property\n${indented(PY("deep", LONG))}`,
  ),
  freely("a.py", "past what is given a plain value", PY("take"), `LIMIT = 99\n\n\n${PY("other", LONG)}`),
  freely("a.js", "past what is worked out", JS("take"), `const limit = compute();\n${JS("other", LONG)}`),
  freely("a.ts", "what is exported", `export ${JS("take")}`, `const limit = compute();\nexport ${JS("other", LONG)}`),
  freely("a.ts", "arrow functions", `export ${ARROW("take")}`, `export ${ARROW("other", LONG)}`),
  freely(
    "a.ts",
    "classes",
    `export class Take extends Base {\n  size = 10;\n${JS("go").slice(9)}}\n\n`,
    `export class Other {\n${JS("stop", LONG).slice(9)}}\n\n`,
  ),
  freely("a.rb", "methods", RB("take"), `  # More of the berths.\n${RB("other", LONG)}`, "class A\n", "end\n"),
  freely("a.sh", "functions", SH("take"), SH("other", LONG), "", "take\n"),
  freely("a.ps1", "functions", PS("Take", "First"), PS("Other", "Second", LONG)),
  freely(
    "a.php",
    "functions",
    `function take($request) {\n${lines("  note_of_berth_#($request);\n", 5)}}\n\n`,
    `$limit = compute();\nfunction other($request) {\n${lines("  tell_of_berth_#($request);\n", LONG)}}\n\n`,
    "<?php\n",
  ),
  freely("a.c", "functions", C("take"), `static int count = 5;\n${C("other", LONG)}`, "#include <a.h>\n"),
  freely("a.cpp", "functions", C("take"), C("other", LONG), "#include <a.h>\n"),
  freely(
    "a.rs",
    "functions",
    `fn take(request: u32) {\n${lines("    note_of_berth_#(request);\n", 6)}}\n\n`,
    `#[inline]\nfn other(request: u32) {\n${lines("    tell_of_berth_#(request);\n", LONG)}}\n\n`,
  ),
  freely(
    "a.go",
    "functions",
    `func take() {\n${lines("\tnoteOfBerth#(request)\n", 6)}}\n\n`,
    `var limit = compute()\n\nfunc other() {\n${lines("\ttellOfBerth#(request)\n", LONG)}}\n\n`,
    "package a\n\n",
  ),
];
