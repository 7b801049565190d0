import type { Pieces } from "@/core/quiet/testing/programs";
import { C } from "./c";

/** What is let go of at the end of its block or its line, and says so. */
const MORE = `struct G { const char *s; G(const char *s) : s(s) { puts(s); } ~G() { printf("end %s\\n", s); } int v() { return 3; } };
template <typename T> T twice(T x) { return x + x; }
namespace deep { int tide = 70; static void say(int) { puts("deep"); } }
`;

/** Programs of C++: those of C, what is let go of where, and names that come by the dozen. */
export const CPP: Pieces = {
  path: "a.cpp",
  around: [C.around![0].replace("int main", `${MORE}int main`), C.around![1]],
  blocks: C.blocks,
  pieces: [
    `G g#("g#");`,
    `{ // once
  G h#("h#");
  say("in h#");
  say("still h#");
} // once
say("out h#");`,
    `if (p)
  G("temp#");`,
    `G("temp#").v();
say("after#");`,
    `auto l# = [&](int x) {
  say("l#");
  return x + n;
};
printf("%d\\n", l#(1));`,
    `for (int x : { 1, 2 })
  printf("%d #\\n", x);`,
    `printf("%d\\n", twice<int>(#));`,
    `using t# = char;
{ // once
  using t# = int;
  say("using");
  printf("%zu\\n", sizeof(t#));
  printf("%zu 1\\n", sizeof(t#));
} // once
printf("%zu\\n", sizeof(t#));`,
    `if (int y# = p) {
  printf("%d #\\n", y#);
} else {
  printf("%d no\\n", y#);
}`,
    `try {
  if (p) throw #;
  say("no");
} catch (int e) {
  printf("%d\\n", e);
}`,
    `G &&r# = G("r#");
say("r#");`,
    `printf("%s\\n", R"(a
  b#)");`,
    `[] { say("i#"); }();`,
    `{ // once
  using namespace deep;
  say("deep#");
  printf("%d 1\\n", deep::tide);
  say(1 + #);
} // once
printf("%d\\n", tide);`,
    ...C.pieces,
  ],
};
