import { type Case, foolable, foolableIn } from "./case";

/** The same change on as many lines as is taken for repetition, and on more. */
function often(
  path: string,
  what: string,
  from: string,
  to: string,
  wrap: (lines: string) => string = (l) => l,
): Case[] {
  const all = (line: string, times: number) =>
    wrap(Array.from({ length: times }, (_, n) => line.replaceAll("#", `${n}`)).join("\n"));
  return [3, 5].map((times) =>
    foolable(path, `${what}, on ${times} lines`, `${all(from, times)}\n`, `${all(to, times)}\n`),
  );
}

const inGo = (lines: string) => `package a\n\nfunc f() {\n${lines}\n}`;
const inClass = (lines: string) => `class A {\n  void f() {\n${lines}\n  }\n}`;

/** A function that is given a `debit` and a `credit`, in some languages. */
const GIVEN: [path: string, of: (body: string) => string][] = [
  ["a.js", (body) => `function f(debit, credit) {\n${body}}\n`],
  ["a.ts", (body) => `const f = (debit: Slot, credit: Slot): void => {\n${body}};\n`],
  ["a.py", (body) => `def f(debit, credit):\n${body.replaceAll(";", "")}`],
  ["A.java", (body) => `class A {\n  void f(Slot debit, Slot credit) {\n${body}  }\n}\n`],
  ["a.go", (body) => `package a\n\nfunc f(debit, credit Slot) {\n${body}}\n`],
  ["a.rs", (body) => `fn f(debit: Slot, credit: Slot) {\n${body}}\n`],
  ["a.c", (body) => `void f(int debit, int credit) {\n${body}}\n`],
  ["a.php", (body) => `<?php\nfunction f($debit, $credit) {\n${body.replace(/(?<=\()/g, "$")}}\n`],
  ["a.rb", (body) => `def f(debit, credit)\n${body.replaceAll(";", "")}end\n`],
  ["a.cs", (body) => `class A {\n  void F(Slot debit, Slot credit) {\n${body}  }\n}\n`],
];

/** Some calls with one name, one on a line. */
const calls = (name: string) => ["check", "take", "note"].map((call) => `    ${call}(${name});\n`).join("");

/** Each name is replaced by one other, and means, or leaves behind, what another is called. */
const MEETING: Case[] = [
  ...GIVEN.map(([path, of]) =>
    foolable(
      path,
      "becomes the other that the function was given",
      of(`${calls("debit")}    give(credit);\n`),
      of(`${calls("credit")}    give(credit);\n`),
      "credit",
    ),
  ),
  ...GIVEN.map(([path, of]) =>
    foolable(
      path,
      "is left on a line that means something around the function now",
      of(`${calls("debit")}    give(debit);\n`),
      of(`${calls("debit")}    give(debit);\n`).replaceAll(/(?<!give\(\$?)debit/g, "payer"),
      "payer",
    ),
  ),
  foolable(
    "a.js",
    "a part becomes another that there is",
    `class A {\n  isGuest = true;\n  isKeeper = false;\n  f() {\n${calls("this.isGuest")}  }\n}\n`,
    `class A {\n  isGuest = true;\n  isKeeper = false;\n  f() {\n${calls("this.isKeeper")}  }\n}\n`,
    "isKeeper",
  ),
  foolable(
    "a.js",
    "a function becomes another of the file",
    "const deny = () => 0;\nconst grant = () => 1;\nexport const all = [\n  deny(a),\n  deny(b),\n  deny(c),\n];\n",
    "const deny = () => 0;\nconst grant = () => 1;\nexport const all = [\n  grant(a),\n  grant(b),\n  grant(c),\n];\n",
    "grant",
  ),
  foolable(
    "a.php",
    "a function becomes another of the file, written in capitals",
    `<?php\nfunction deny($a) {\n    return 0;\n}\n${calls("1").replace(/\w+(?=\()/g, "check")}`,
    `<?php\nfunction deny($a) {\n    return 0;\n}\n${calls("1").replace(/\w+(?=\()/g, "Deny")}`,
    "Deny",
  ),
  foolable(
    "a.php",
    "a function is left where it is called in capitals",
    `<?php\n${calls("1").replace(/\w+(?=\()/g, "check")}CHECK(1);\n`,
    `<?php\n${calls("1").replace(/\w+(?=\()/g, "accept")}CHECK(1);\n`,
    "accept",
  ),
  foolable(
    "a.php",
    "two functions become one, written in two ways",
    `<?php\n${calls("1").replace(/\w+(?=\()/g, "check")}${calls("1").replace(/\w+(?=\()/g, "accept")}`,
    `<?php\n${calls("1").replace(/\w+(?=\()/g, "deny")}${calls("1").replace(/\w+(?=\()/g, "Deny")}`,
    "deny",
  ),
  foolable(
    "a.js",
    "is known within a text only",
    `function f(debit, credit) {\n${calls("debit")}  return \`of \${credit}\`;\n}\n`,
    `function f(debit, credit) {\n${calls("credit")}  return \`of \${credit}\`;\n}\n`,
    "take(credit)",
  ),
  foolable(
    "a.rs",
    "is known in what a macro is given only",
    `fn f(debit: Slot) {\n${calls("debit")}    assert!(credit);\n}\n`,
    `fn f(credit: Slot) {\n${calls("credit")}    assert!(credit);\n}\n`,
    "take(credit)",
  ),
  foolable(
    "a.js",
    "is declared somewhere else in the function, and a function of the file here",
    `const deny = () => 0;\nconst grant = () => 1;\nfunction f() {\n${calls("deny")}    later((deny) => deny);\n}\n`,
    `const deny = () => 0;\nconst grant = () => 1;\nfunction f() {\n${calls("grant")}    later((grant) => grant);\n}\n`,
    "take(grant)",
  ),
  foolable(
    "A.java",
    "a type becomes another of the file where something is declared",
    "class Slot {}\nclass Berth {}\nclass A {\n  void f(Slot a) {\n    Slot b = a;\n    Slot c = b;\n    Slot d = c;\n  }\n}\n",
    "class Slot {}\nclass Berth {}\nclass A {\n  void f(Berth a) {\n    Berth b = a;\n    Berth c = b;\n    Berth d = c;\n  }\n}\n",
    "Berth c",
  ),
  foolable(
    "a.js",
    "what stood around a function is declared in it now",
    `let credit = 1;\nfunction f(debit) {\n${calls("debit")}  return () => credit;\n}\n`,
    `let credit = 1;\nfunction f(credit) {\n${calls("credit")}  return () => credit;\n}\n`,
    "f(credit)",
  ),
];

/** What is replaced again and again and is not one name by another. */
export const NAMES: Case[] = [
  ...often(
    "a.js",
    "is equal becomes is not",
    "if (user#.role == admin) allow(#);",
    "if (user#.role != admin) allow(#);",
  ),
  ...often("a.ts", "and becomes or", "if (known# && trusted) allow(#);", "if (known# || trusted) allow(#);"),
  ...often("a.js", "one becomes nought", "limit(queue#, 1);", "limit(queue#, 0);"),
  ...often("a.js", "true becomes false", "verify(token#, true);", "verify(token#, false);"),
  ...often("a.js", "undefined takes the place of a name", "check(entry#, policy);", "check(entry#, undefined);"),
  ...often("a.ts", "null takes the place of a name", "check(entry#, policy);", "check(entry#, null);"),
  ...often("a.js", "two arguments change places", "send#(from, to);", "send#(to, from);"),
  ...often("a.js", "two longer arguments change places", "transfer(debit, credit, #);", "transfer(credit, debit, #);"),
  ...often("a.js", "a text in quotes", 'grant(user#, "reader");', 'grant(user#, "writer");'),
  ...often("a.js", "a word within a template", "log(`reader ${user#}`);", "log(`writer ${user#}`);"),
  ...often("a.js", "a name of two letters", "allow(id, user#);", "allow(ok, user#);"),
  ...often("a.js", "a letter that looks the same", "if (user#.is(admin)) go();", "if (user#.is(\u0430dmin)) go();"),
  ...often("a.py", "a letter that looks the same, in Greek", "scope(user#, owner)", "scope(user#, \u03bfwner)"),
  ...often("a.js", "l and 1", "pay(total#, account1);", "pay(total#, accountl);"),
  ...often("a.js", "not is gone", "if (!blocked(user#)) go();", "if (blocked(user#)) go();"),
  ...often("a.js", "await is gone", "await store(user#);", "store(user#);"),
  ...often("a.js", "const becomes let", "const user# = find(#);", "let user# = find(#);"),
  ...often("a.ts", "a keyword of a type", "private name#: Text;", "public name#: Text;", (l) => `class A {\n${l}\n}`),
  ...often("a.py", "in becomes not in", "assert user# in allowed", "assert user# not in allowed"),
  ...often("a.py", "None takes the place of a name", "check(user#, policy)", "check(user#, None)"),
  ...often("a.go", "nil takes the place of a name", "\tcheck(user, policy)", "\tcheck(user, nil)", inGo),
  ...often(
    "a.go",
    "an error is dropped",
    "\tkept, err := load()\n\tuse(kept, err)",
    "\tkept, _ := load()\n\tuse(kept, err)",
    inGo,
  ),
  ...often(
    "A.java",
    "less becomes less or equal",
    "    if (size < most) grow();",
    "    if (size <= most) grow();",
    inClass,
  ),
  ...often("a.rs", "a reference becomes mutable", "fn take#(held: &Hold) {}", "fn take#(held: &mut Hold) {}"),
  ...often("a.c", "a sign", "int gap#(int a) { return a - margin; }", "int gap#(int a) { return a + margin; }"),
  ...often("a.sh", "a word that is a command", "check part#", "erase part#"),
  ...often("a.sh", "an option", "fetch --verify part#", "fetch --insecure part#"),
  ...often("a.css", "a value", ".part# { display: none }", ".part# { display: flex }"),
  ...often("a.json", "a text of data", '  "rule#": "deny",', '  "rule#": "allow",', (l) => `{\n${l}\n  "end": 1\n}`),
  ...often("a.yml", "a value of data", "rule#: deny", "rule#: allow"),
  ...often("a.sql", "no grammar here", "grant reader to user#;", "grant writer to user#;"),
  ...often("a.md", "prose", "You must always check part #.", "You must never check part #."),
  ...often("a.js", "a part of a number", "wait(timer#, 1000);", "wait(timer#, 100);"),
  ...often("a.js", "something else on the line too", "allow(reader, user#, 1);", "allow(writer, user#, 2);"),
  ...often("a.js", "only one of two places", "copy(slot, slot, #);", "copy(slot, berth, #);"),
  ...often("a.js", "one name becomes what stood beside it", "match(owner, user, #);", "match(user, user, #);"),
  ...often("a.js", "a word in a comment that is not the name", "go#(slot); // safe", "go#(berth); // unsafe"),
  ...often("a.js", "white space in a text along with a name", 'go#(slot, "a b");', 'go#(berth, "a  b");'),
  ...often("a.js", "a label of a regular expression", "test(/slot/, #);", "test(/berth/, #);"),
  ...often("a.tsx", "text of a page", "const p# = <p>allowed</p>;", "const p# = <p>refused</p>;"),
  foolable("a.js", "only two lines", "go(slot, 1);\ngo(slot, 2);\n", "go(berth, 1);\ngo(berth, 2);\n"),
  foolable(
    "a.js",
    "two names become one",
    "a(first);\nb(first);\nc(first);\nd(second);\ne(second);\nf(second);\n",
    "a(third);\nb(third);\nc(third);\nd(third);\ne(third);\nf(third);\n",
  ),
  foolable(
    "a.js",
    "names in a ring",
    "a(one1);\nb(one1);\nc(one1);\nd(two2);\ne(two2);\nf(two2);\n",
    "a(two2);\nb(two2);\nc(two2);\nd(one1);\ne(one1);\nf(one1);\n",
  ),
  foolable(
    "a.js",
    "a rare second change hides among many",
    "a(slot);\nb(slot);\nc(slot);\nd(slot, safe);\n",
    "a(berth);\nb(berth);\nc(berth);\nd(berth, unsafe);\n",
    "unsafe",
  ),
  foolableIn(
    "texts and code have the same word",
    {
      "a.js": { old: 'a("slot");\nb("slot");\nc("slot");\n', next: 'a("berth");\nb("berth");\nc("berth");\n' },
      "b.js": { old: "a(slot);\nb(slot);\nc(slot);\n", next: "a(berth);\nb(berth);\nc(berth);\n" },
    },
    '"berth"',
  ),
  ...MEETING,
];
