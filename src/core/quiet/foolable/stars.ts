import { type Case, foolable, harmless } from "./case";

const above = (star: string, rest: string) => `/**\n${star}* Ebb.\n${star}*/\n${rest}`;

/** Lines that begin with a star, and whose white space before it is more than layout. */
export const STARS: Case[] = [
  foolable("a.js", "no comment, but a text", "say(`\n   * ebb\n`);\n", "say(`\n * ebb\n`);\n", "* ebb"),
  foolable("a.php", "no comment, but what is printed", "<?php ?>\n   * ebb\n", "<?php ?>\n * ebb\n", "* ebb"),
  foolable(
    "a.py",
    "no comment, but a text",
    'def f():\n    """\n      * ebb\n    """\n',
    'def f():\n    """\n    * ebb\n    """\n',
    "* ebb",
  ),
  foolable("a.yaml", "no comment, but a text", "a: |\n  b\n    * ebb\n", "a: |\n  b\n  * ebb\n", "* ebb"),
  foolable(
    "a.go",
    "a program in a comment",
    'package a\n\n/*\n  * a\n*/\nimport "C"\n',
    'package a\n\n/*\n * a\n*/\nimport "C"\n',
    "* a",
  ),
  foolable("a.js", "goes on behind the comment", "/* Ebb.\n   */ open();\n", "/* Ebb.\n */ shut();\n", "shut"),
  foolable(
    "a.js",
    "said of another one",
    `${above(" ", "hold();\n")}/**\n   * @deprecated\n */\nfree();\n`.replace("Ebb.", "Flow."),
    `${above(" ", "hold();\n")}/**\n */\nfree();\n`.replace("Ebb.\n", "Flow.\n * @deprecated\n"),
    "@deprecated",
  ),
  foolable("a.js", "what was code is a comment", "/* Ebb. */\na = b\n   * c;\n", "/* Ebb.\na = b\n * c; */\n", "* c;"),
  foolable(
    "a.js",
    "what was a comment is code",
    "a = b /*\n   * c\n   * d */;\n",
    "a = b /* */\n * c\n * d /* */;\n",
    "* c",
  ),
  foolable("a.js", "no star before it", "/* Ebb.\n     flow\n*/\nhold();\n", "/* Ebb.\n  flow\n*/\nhold();\n", "flow"),
  foolable(
    "a.js",
    "no white space, but a sign that looks like it",
    "/*\n * a\n */\nb();\n",
    "/*\n\u00a0* a\n */\nb();\n",
    "* a",
  ),
  foolable("a.js", "a line twice", "/**\n   * a\n */\nb();\n", "/**\n * a\n * a\n */\nb();\n", "* a"),
];

/** Comments of which nothing but the stars went elsewhere. */
export const RESTARRED: Case[] = [
  harmless("a.js", "stars in a column", above("    ", "hold();\n"), above(" ", "hold();\n"), "layout"),
  harmless("a.c", "tabs for spaces", above("    ", "int hold;\n"), above("\t", "int hold;\n"), "layout"),
  harmless(
    "a.java",
    "with what the comment speaks of",
    "class A {\n/**\n * Ebb.\n */\nvoid hold() {}\n}\n",
    "class A {\n    /**\n     * Ebb.\n     */\n    void hold() {}\n}\n",
    "layout",
  ),
];
