import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { languageById } from "../../../grammar/languages";
import type { Parse } from "../../../grammar/parse";
import { switchedIn } from "../../testing/switched-in";
import { ReadBlocks } from "../blocks";
import { blocksByLook } from "./blocks";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

/** How deep each line stands that says something. */
const depths = (path: string, text: string) => {
  const lines = text.split("\n");
  const blocks = blocksByLook(path, lines);
  return blocks && lines.map((line, n) => (line.trim() === "" ? 0 : (blocks.around(n)?.depth ?? 0))).join("");
};

describe("blocks of what no grammar reads", () => {
  it.each<[path: string, text: string, depths: string]>([
    ["a.kt", "fun f() {\n  a()\n  b.map { it }\n}\nc()", "01110"],
    ["a.conf", "server {\n  # a {\n  a '{';\n}\nb", "01110"],
    ["a.pl", "if ($#a) {\n  b; # {\n}\nc", "0110"],
    ["a.lua", "if a then\n  b()\nelseif c then\n  d = 'end'\nelse\n  e()\nend -- end\nf()", "01111110"],
    ["a.lua", "for a in b do\n  c(function()\n    d()\n  end)\nend\nrepeat\n  e()\nuntil f", "01221011"],
    ["a.ex", "def a do\n  if b, do: c\n  d = %{end: 1, do: :end}\n  fn -> e end\nend\nf", "011110"],
    [
      "CMakeLists.txt",
      "if(A)\n  b()\nelseif(C)\n  d() # endif()\nendif()\nforeach(e f)\n  g()\nendforeach()",
      "01111011",
    ],
    ["a.html", "{{ if .A }}\n<p>\n{{- else -}}\n<b>\n{{ end }}\n{{ .C }}", "011110"],
    ["a.j2", "{% if a %}\nb\n{%- elif c %}\n{% include d %}\n{% endif %}\n{% set e = 1 %}", "011110"],
    ["a.hbs", "{{#if a}}\nb\n{{else}}\n{{c}}\n{{/if}}\n{{^d}}\ne\n{{/d}}", "01111011"],
    ["a.svelte", "{#if a}\n{b}\n{:else}\n{#each c as d}\ne\n{/each}\n{/if}\nf", "01112210"],
    [
      "a.vue",
      '<template>\n<template v-if="a">\nb\n</template>\n</template>\n<script>\n// <template>\n</script>',
      "01221000",
    ],
    ["a.erb", "<% if (a) %>\nb\n<% else %>\n<% c.each do |d| %>\n<%= e %>\n<% end %>\n<% end %>\nf", "01112210"],
    ["a.ejs", "<% if (a) { %>\nb\n<% } else { %>\n<%= c({ d: 1 }) %>\n<% } %>\ne", "011110"],
    [".htaccess", "<IfModule a>\n  b </c\n  # </IfModule>\n</IfModule>\nd", "01110"],
    [
      "Makefile",
      "ifeq ($(A),b)\nc: d\n\tif e; then f; fi\nelse ifdef G\nh = else\nendif\ndefine i\nj\nendef",
      "011111011",
    ],
    [
      "a.vim",
      'func! A()\n  if b\n    call c()\n  " endif\n  else\n    let ifs = d\n  endif\nendfunc\ncall e()',
      "012222210",
    ],
    ["a.tcl", "proc a {} {\n  b\n}", "011"],
    ["pom.xml", "<?xml version='1.0'?>\n<a>\n  <b c='d'/>\n  <e\n    f='g'\n  />\n  <h>i</h>\n</a>", "00112211"],
    ["a.yaml", "a:\n{{- if .Values.b }}\n  c: 1\n{{- end }}\nd: 2", "00110"],
  ])("are told in %s: %s", (path, text, expected) => {
    expect(depths(path, text)).toBe(expected);
  });

  it("are not told where more begin than end, and where a format has none", () => {
    expect(["a {\n", "a }\n", "}\n{\n"].map((text) => depths("a.kt", text))).toEqual([null, null, null]);
    expect([depths("a.md", "{\n}"), depths("a.rpm", "{\n}"), depths("a.kt", "{\n}")]).toEqual([null, null, "01"]);
  });

  it("are those that a grammar tells, whatever stands beside their brackets", () => {
    const line = fc.constantFrom(
      "go();",
      'go("{");',
      "go('}');",
      "// }",
      "/* { */",
      "/* {",
      "*/",
      "if (a) { b(); }",
      "",
    );
    const head = fc.constantFrom("if (a) {", "while (b)\n{", "for (;;) { // {");
    const { inner } = fc.letrec<{ inner: string[] }>((tie) => {
      const block = fc.tuple(head, tie("inner")).map(([head, inner]) => [...head.split("\n"), ...inner, "}"]);
      const part = fc.oneof(
        { maxDepth: 4 },
        line.map((line) => [line]),
        block,
      );
      return { inner: fc.array(part, { maxLength: 5 }).map((parts) => parts.flat()) };
    });
    let both = 0;
    fc.assert(
      fc.property(inner, (inner) => {
        const lines = ["class A {", "void f() {", ...inner, "}", "}"];
        const read = parse({ language: languageById("java"), text: `${lines.join("\n")}\n`, interest: [0, 1e6] });
        const looked = blocksByLook("A.java", lines);
        if (!read || !looked) return;
        both++;
        const blocks = new ReadBlocks(read);
        for (const [n, line] of lines.entries()) {
          if (line === "") continue;
          expect([line, looked.isCode(n)]).toEqual([line, blocks.isCode(n)]);
          if (blocks.isCode(n)) expect([line, looked.around(n)?.line]).toEqual([line, blocks.around(n)?.line]);
        }
      }),
      { numRuns: 300 },
    );
    expect(both).toBeGreaterThan(100);
  });

  it.each<[path: string, old: string, next: string, within: string]>([
    ["a.lua", "a()\n#", "if trial then\n#end\n", "if trial then"],
    ["CMakeLists.txt", "a()\n#", "if(TRIAL)\n#endif()\n", "if(TRIAL)"],
    ["a.html", "<p>\n#", "{{ if .Trial }}\n#{{ end }}\n", "{{ if .Trial }}"],
    ["chart/a.yaml", "a: {{ .B }}\n#", "{{- if .Trial }}\n#{{- end }}\n", "{{- if .Trial }}"],
    ["a.erb", "<p>\n#", "<% if trial %>\n#<% end %>\n", "<% if trial %>"],
    ["a.vue", "<p>\n#", '<template v-if="trial">\n#</template>\n', '<template v-if="trial">'],
    ["pom.xml", "<a>\n#</a>\n", "<a>\n<profile>\n#</profile>\n</a>\n", "<profile>"],
    ["Makefile", "a = 1\n#", "ifdef TRIAL\n#endif\n", "ifdef TRIAL"],
    [".htaccess", "a\n#", "<Location /trial>\n#</Location>\n", "<Location /trial>"],
    ["nginx.conf", "a;\n#", "location /trial {\n#}\n", "location /trial {"],
  ])("take unchanged lines of %s in", (path, old, next, within) => {
    const words: Record<string, string> = { "pom.xml": "<check#>on</check#>\n", "chart/a.yaml": "check#: now\n" };
    const checks = Array.from({ length: 12 }, (_, n) => (words[path] ?? "check_#(now)\n").replaceAll("#", `${n}`)).join(
      "",
    );
    const [before, after] = [old.replace("#", checks), next.replace("#", checks)];
    expect(switchedIn(parse, path, before, after).map(([says]) => says)).toEqual([
      `12 unchanged lines stand within “${within}” now, and are not indented for it.`,
    ]);
    expect(switchedIn(parse, path, after, before).map(([says]) => says)).toEqual([
      `12 unchanged lines stand outside of “${within}” now, in which they stood.`,
    ]);
  });

  it("are looked for once in each line, whatever stands there", () => {
    const paths =
      "a.html a.vue a.erb a.ejs pom.xml a.kt a.tf a.lua CMakeLists.txt a.ex a.pl a.conf a.yaml a.svelte".split(" ");
    const begun = ["do", "{%", "<%", "{{", "{{-", "if", "end", "<template", '"', "#", "{", "<%- do |"];
    const gap = " ".repeat(200_000);
    for (const path of paths) expect(blocksByLook(path, [...begun.map((sign) => sign + gap), "}"])).toBeDefined();
  });
});
