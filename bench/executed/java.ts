import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of Java: what is closed where, what falls through, and what a name means where. */
export const JAVA: Pieces = {
  path: "Main.java",
  around: [
    `import java.util.*;
public class Main {
  static int n, tide = 7, flow = 8;
  static boolean p = true;
  static Object o = "text";
  static void say(Object s) { System.out.println(s); }
  static int two(int x) { say(x); return x * 2; }
  static class G implements AutoCloseable {
    final String s;
    G(String s) { this.s = s; say(s); }
    public void close() { say("end " + s); }
  }
  public static void main(String[] args) {
`,
    `    say("last");
  }
}
`,
  ],
  blocks: [
    ["if (true) { // once", "} // once"],
    ["{ // once", "} // once"],
    ["do { // once", "} while (false); // once"],
    ["try { // once", "} finally {} // once"],
    ["synchronized (o) { // once", "} // once"],
    ["if (false) {} else { // once", "} // once"],
  ],
  pieces: [
    `say("a#");`,
    `say("b#"); say("c#");`,
    `int $A = #;
say($A);`,
    `{ // once
  int $A = #;
  say("in#");
  say($A + " 1");
  say($A + " 2");
} // once
say($A);`,
    `{ // once
  class G { public String toString() { return "inner"; } }
  say("local#");
  say(new G() + " 1");
  say(new G() + " 2");
} // once
say(new G("outer#").s);`,
    `if (p)
  say("b#");
else
  say("c#");`,
    `if (p)
  if (n > 0)
    say("x#");
  else
    say("y#");`,
    `for (int i = 0; i < 2; i++)
  say(i + " #");`,
    `for (int x : new int[] { 1, 2 })
  say(x);`,
    `switch (two(1)) {
  case 2:
    say("two#");
  case 3:
    say("three#");
    break;
  default:
    say("d#");
}`,
    `switch (n) {
  case 0 -> say("zero#");
  default -> {
    say("more");
  }
}`,
    `int y# = switch (n) {
  case 0:
    yield #;
  default:
    yield 1;
};
say(y#);`,
    `outer#:
for (;;) {
  for (;;) {
    say("l#");
    break outer#;
  }
}`,
    `try {
  if (p) throw new RuntimeException("e#");
  say("no");
} catch (RuntimeException e) {
  say(e.getMessage());
} finally {
  say("f#");
}`,
    `try (G g# = new G("g#")) {
  say("with#");
}`,
    `Runnable r# = () -> {
  say("run#");
};
r#.run();`,
    `if (o instanceof String s#) {
  say(s#);
}`,
    `{ // once
  if (!(o instanceof String flow)) return;
  say("pattern");
  say(flow + " 1");
  say(flow + " 2");
} // once
say(flow);`,
    `say("""
  a
    b#""");`,
    `n += #;
say(n);`,
    `int[] a# = {
  1,
  2,
};
say(a#.length);`,
    `say("x" + 1 + 2 + #);`,
    `say('a' + 1);`,
    `char c# = 'b';
say(c#);`,
    `var l# = new ArrayList<>(List.of(1, 2));
l#.remove(1);
say(l#);`,
    `new Object() {
  void go() { say("anon#"); }
}.go();`,
    `record R#(int x) {}
say(new R#(#));`,
    `if (n > 50) return;`,
    `assert n < 0 : "never";`,
    `while (p) {
  say("w#");
  if (p) break;
  say("no");
}`,
    `/* a */ say("x#"); // b`,
    `say(p ? "yes#" : "no");`,
    `final int k# = #; say(k#);`,
    `StringBuilder b# = new StringBuilder("a")
  .append(#)
  .append('c');
say(b#);`,
    `say(tide + flow);`,
    `tide++;
say(tide);`,
  ],
};
