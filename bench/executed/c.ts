import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of C: what a block lets go of, what a macro makes of its lines, and what a name means where. */
export const C: Pieces = {
  path: "a.c",
  around: [
    `#include <stdio.h>
#include <string.h>
#define TWICE(x) x; x
#define guard(m) for (int g_ = (puts("in " #m), 1); g_; puts("out " #m), g_ = 0)
#define STR(x) #x
int n, p = 1, tide = 7, flow = 8;
static void say(const char *s) { puts(s); }
static int two(int x) { printf("%d\\n", x); return x * 2; }
int main(void) {
`,
    `  return 0;
}
`,
  ],
  blocks: [
    ["if (1) { // once", "} // once"],
    ["{ // once", "} // once"],
    ["do { // once", "} while (0); // once"],
    ["if (0) {} else { // once", "} // once"],
  ],
  pieces: [
    `say("a#");`,
    `say("b#"); say("c#");`,
    `int $A = #;\nprintf("%d\\n", $A);`,
    `{ // once
  int $A = #;
  say("in#");
  printf("%d %d\\n", $A, 1);
  printf("%d %d\\n", $A, 2);
} // once
printf("%d\\n", $A);`,
    `if (p)
  say("b#");
else
  say("c#");`,
    `if (p)
  if (n)
    say("x#");
  else
    say("y#");`,
    `for (int i = 0; i < 2; i++)
  printf("%d #\\n", i);`,
    `TWICE(say("t#"));`,
    `if (!p)
  TWICE(say("u#"));`,
    `switch (p) {
  case 1:
    say("one#");
  case 2:
    say("two#");
    break;
  default:
    say("d#");
}`,
    `printf("%s\\n", "a" "b#");`,
    `#define $A #
`,
    `#ifdef $A
say("def#");
#endif`,
    `#ifndef $B
say("ndef#");
#else
say("else#");
#endif`,
    `struct $A { int x; } s# = { # };
printf("%d %zu\\n", s#.x, sizeof(struct $A));`,
    `enum { $A = # };
printf("%d\\n", $A);`,
    `goto l#;
say("skipped#");
l#: say("l#");`,
    `do {
  say("d#");
  break;
} while (1);`,
    `n += #, say("comma#");
printf("%d\\n", n);`,
    `printf("%s\\n", "x \\
  y#");`,
    `// comment \\
say("hidden#");
say("shown#");`,
    `/* a */ say("x#"); /* b */`,
    `printf("%zu\\n", sizeof(int) * #);`,
    `typedef char t#;
{ // once
  typedef int t#;
  say("type");
  printf("%zu\\n", sizeof(t#));
  printf("%zu %d\\n", sizeof(t#), 1);
} // once
printf("%zu\\n", sizeof(t#));`,
    `int a#[] = { 1, 2, 3, };
printf("%zu\\n", sizeof a#);`,
    `guard(m#) {
  say("g#");
  two(#);
}`,
    `guard(m#)
  say("g#");
two(#);`,
    `printf("%s\\n", STR(a   b  #));`,
    `printf("%d\\n", two(#) + -two(1) - -1);`,
    `int $A;
$A = two(#);
printf("%d\\n", $A);`,
    `while (p) {
  say("w#");
  if (p) break;
  say("no");
}`,
    `printf("%d %d\\n", '\\'' , "\\"#"[0]);`,
    `printf("%d\\n", n ? 1 : two(#), 0);`,
    `*&n = #;
printf("%d\\n", n);`,
    `(void)two(#);`,
    `return 0;`,
    `if (n > 50) return 0;`,
    `#undef $A`,
    `printf("%d\\n", tide + flow);`,
    `{ int tide = #; printf("%d\\n", tide); }`,
  ],
};
