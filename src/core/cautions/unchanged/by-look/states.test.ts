import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { State } from "./enclosures";
import { mayOpenOrClose, statesByLook } from "./states";

/** By the ending of a file: what begins and ends something that goes over several lines there. */
const PAIRS: readonly [paths: string, pairs: readonly [State, open: string, close: string][]][] = [
  [
    "a.html a.twig a.j2 a.hbs",
    [
      ["comment", "<!--", "-->"],
      ["comment", "{#", "#}"],
      ["comment", "{{!--", "--}}"],
    ],
  ],
  [
    "a.liquid a.html",
    [
      ["comment", "{% comment %}", "{% endcomment %}"],
      ["comment", "{%- comment -%}", "{%- endcomment -%}"],
    ],
  ],
  [
    "a.tmpl",
    [
      ["comment", "{{/*", "*/}}"],
      ["comment", "{{- /*", "*/ -}}"],
    ],
  ],
  ["a.vue a.svelte a.astro a.md", [["comment", "<!--", "-->"]]],
  [
    "a.jsp a.ejs",
    [
      ["comment", "<%#", "%>"],
      ["comment", "<%--", "--%>"],
    ],
  ],
  ["a.erb", [["comment", "<%#", "%>"]]],
  ["a.cshtml a.razor", [["comment", "@*", "*@"]]],
  [
    "pom.xml a.csproj a.svg",
    [
      ["comment", "<!--", "-->"],
      ["text", "<![CDATA[", "]]>"],
    ],
  ],
  [
    "a.kt a.kts a.swift a.scala",
    [
      ["comment", "/*", "*/"],
      ["text", '"""', '"""'],
    ],
  ],
  [
    "a.dart a.groovy a.gradle Jenkinsfile",
    [
      ["comment", "/*", "*/"],
      ["text", '"""', '"""'],
      ["text", "'''", "'''"],
    ],
  ],
  ["a.sql a.scss a.less a.tf a.proto a.sol a.sv a.jsonc a.glsl", [["comment", "/*", "*/"]]],
  [
    "a.d",
    [
      ["comment", "/*", "*/"],
      ["comment", "/+", "+/"],
    ],
  ],
  [
    "a.nix",
    [
      ["comment", "/*", "*/"],
      ["text", "''", "''"],
    ],
  ],
  ["a.bicep", [["text", "'''", "'''"]]],
  ["a.graphql", [["text", '"""', '"""']]],
  [
    "a.lua",
    [
      ["comment", "--[[", "]]"],
      ["comment", "--[==[", "]==]"],
      ["text", "[[", "]]"],
      ["text", "[=[", "]=]"],
    ],
  ],
  [
    "a.cmake b/CMakeLists.txt",
    [
      ["comment", "#[[", "]]"],
      ["comment", "#[=[", "]=]"],
      ["text", "[=[", "]=]"],
    ],
  ],
  ["a.hs a.elm a.purs", [["comment", "{-", "-}"]]],
  [
    "a.fs",
    [
      ["comment", "(*", "*)"],
      ["text", '"""', '"""'],
    ],
  ],
  ["a.ml", [["comment", "(*", "*)"]]],
  [
    "a.pas",
    [
      ["comment", "(*", "*)"],
      ["comment", "{", "}"],
    ],
  ],
  [
    "a.jl",
    [
      ["comment", "#=", "=#"],
      ["text", '"""', '"""'],
    ],
  ],
  [
    "a.nim",
    [
      ["comment", "#[", "]#"],
      ["comment", "##[", "]##"],
      ["text", '"""', '"""'],
    ],
  ],
  ["a.scm a.lisp", [["comment", "#|", "|#"]]],
  [
    "a.ex a.exs",
    [
      ["text", '"""', '"""'],
      ["text", "'''", "'''"],
    ],
  ],
  [
    "a.coffee",
    [
      ["comment", "###", "###"],
      ["text", '"""', '"""'],
    ],
  ],
  [
    "a.tex",
    [
      ["comment", "\\begin{comment}", "\\end{comment}"],
      ["comment", "\\iffalse", "\\fi"],
    ],
  ],
  ["a.ts a.go a.java a.rs a.c a.cs a.php a.css", [["comment", "/*", "*/"]]],
];
const ALL = PAIRS.flatMap(([paths, pairs]) =>
  paths.split(" ").flatMap((path) => pairs.map(([is, open, close]) => ({ path, is, open, close }))),
);

describe("what a line is, by the look of a text that no grammar reads", () => {
  it("is what stands open where it begins, in every format", () => {
    const word = fc.constantFrom("go()", "  a b", "", "x = 1");
    // A text of pieces: code, something in one line, something over several.
    const piece = fc.record({
      kind: fc.constantFrom("code", "line", "lines"),
      words: fc.array(word, { minLength: 1, maxLength: 3 }),
    });
    fc.assert(
      fc.property(fc.constantFrom(...ALL), fc.array(piece, { maxLength: 8 }), ({ path, is, open, close }, pieces) => {
        const lines: [State, string][] = [];
        for (const { kind, words } of pieces) {
          if (kind === "code") for (const said of words) lines.push(["code", said]);
          else if (kind === "line") lines.push(["code", `${words[0]} ${open} ${words.at(-1)} ${close}`]);
          else {
            lines.push(["code", `${words[0]} ${open}`]);
            for (const said of words) lines.push([is, said]);
            lines.push([is, `${close} ${words[0]}`]);
          }
        }
        const [states, texts] = [lines.map(([state]) => state), lines.map(([, text]) => text)];
        expect(statesByLook(path, texts)).toEqual(states);
        const mayReach = mayOpenOrClose(path)!;
        // What says that nothing begins or ends there can be left out, and changes nothing of the others.
        const loud = texts.map((text) => mayReach(text));
        expect(
          statesByLook(
            path,
            texts.filter((_, n) => loud[n]),
          ),
        ).toEqual(states.filter((_, n) => loud[n]));
      }),
      { numRuns: 600 },
    );
  });

  it.each<[path: string, text: string]>([
    ["a.kt", "c|/* a\nx|/* b */\nx|c\nx|*/\nc|go()"],
    ["a.rs", "c|/* a /* b\nx|*/\nx|*/ let c = '\"'; /* d\nx|\"*/"],
    ["a.sql", "c|/* a\nx|/* b */\nc|go()"],
    ["a.hs", "c|a --> b {-\nx|c -}\nc|-- {-\nc|d"],
    ["a.sql", "c|select '/*', \"/*\" -- /*\nc|from a"],
    ["a.scss", "c|a: url(http://b/*c*/);\nc|// /*\nc|b"],
    ["a.scss", "c|a: url(http://b) /*\nx|c */\nc|b"],
    ["a.html", "c|<p>don't</p><!-- isn't\nx|so -->\nc|<a accept=\"image/*\">\nc|b"],
    ["a.vue", "c|<script setup>\nc|a(); /* b\nx|c\nx|*/ d();\nc|</script>\nc|/* e\nc|<!-- f\nx|-->"],
    ["a.vue", "c|<style>\nc|/* a\nx|b </style> <!--\nx|--> /*\nc|c"],
    ["a.html", 'c|<script src="a"></script> /*\nc|<script>// b </script> <!--\nx|-->'],
    ["a.svelte", "c|{#if a}\nc|<script/>\nc|/* b\nc|{/if}"],
    ["a.hbs", "c|{{#if a}}\nc|b\nc|{{/if}}"],
    ["a.lua", "c|a[b[1]] = --[==[ c ]]\nx|]==] d = [[ --[[\nt|]]\nc|e"],
    ["a.pm", "c|go();\nc|=head1 A\nx|B\nx|=cut\nc|a = b;\nc|__END__\nb|go();\nb|=head1 B\nb|=cut"],
    ["a.tex", "c|% \\end{document}\nc|50\\% \\begin{comment}\nx|\\end{comment} a\nc|\\end{document}\nb|b"],
    ["a.adoc", "c|////\nx|a\nx|////\nc|b"],
    ["a.ml", "c|let ( * ) a = b (*) c\nc|let x' = d (* e\nx|*)"],
    ["a.ex", 'c|@doc """\nt|a # """\nc|b'],
    ["a.jl", "c|# #=\nc|a"],
  ])("is told in %s: %s", (path, text) => {
    const [signs, lines] = [text.split("\n").map((line) => line[0]), text.split("\n").map((line) => line.slice(2))];
    const states = { c: "code", x: "comment", t: "text", b: "beyond" } as Record<string, State>;
    expect(statesByLook(path, lines)).toEqual(signs.map((sign) => states[sign]));
  });

  it("is not known of a format that nobody has described", () => {
    expect([statesByLook("a.rpm", ["/*"]), mayOpenOrClose("a.rpm")]).toEqual([null, null]);
  });
});
