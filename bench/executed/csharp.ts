import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of C#: what is let go of where, what a preprocessor leaves, and what a name means where. */
export const CSHARP: Pieces = {
  path: "a.cs",
  around: [
    `using System;
using System.Collections.Generic;
class G : IDisposable {
  readonly string s;
  public G(string s) { this.s = s; Console.WriteLine(s); }
  public int V() { return 3; }
  public void Dispose() { Console.WriteLine("end " + s); }
}
class Main_ {
  static int n, tide = 7, flow = 8;
  static bool p = true;
  static object o = "text";
  static void Say(object s) { Console.WriteLine(s); }
  static int Two(int x) { Say(x); return x * 2; }
  static void Main() {
`,
    `    Say("last");
  }
}
`,
  ],
  blocks: [
    ["if (true) { // once", "} // once"],
    ["{ // once", "} // once"],
    ["do { // once", "} while (false); // once"],
    ["try { // once", "} finally {} // once"],
    ["lock (o) { // once", "} // once"],
    ["unchecked { // once", "} // once"],
    ["if (false) {} else { // once", "} // once"],
  ],
  pieces: [
    `Say("a#");`,
    `Say("b#"); Say("c#");`,
    `int $A = #;
Say($A);`,
    `{ // once
  int $A = #;
  Say("in#");
  Say($A + " 1");
  Say($A + " 2");
} // once
Say($A);`,
    `{ // once
  int tide = #;
  Say("in#");
  Say(tide + " 1");
  Say(tide + " 2");
} // once
Say(Main_.tide);`,
    `if (p)
  Say("b#");
else
  Say("c#");`,
    `if (p)
  if (n > 0)
    Say("x#");
  else
    Say("y#");`,
    `for (int i = 0; i < 2; i++)
  Say(i + " #");`,
    `foreach (var x in new[] { 1, # })
  Say(x);`,
    `switch (Two(1)) {
  case 2:
    Say("two#");
    goto case 3;
  case 3:
    Say("three#");
    break;
  default:
    Say("d#");
    break;
}`,
    `using (new G("g#")) {
  Say("with#");
}`,
    `using (var h# = new G("h#"))
  Say(h#.V());
Say("out#");`,
    `try {
  if (p) throw new Exception("e#");
  Say("no");
} catch (Exception e) {
  Say(e.Message);
} finally {
  Say("f#");
}`,
    `Action r# = () => {
  Say("run#");
};
r#();`,
    `Func<int, int> f# = x => {
  Say("f#");
  return x + 1;
};
Say(f#(1));`,
    `if (o is string s#) {
  Say(s#);
}`,
    `{ // once
  if (!(o is string flow)) return;
  Say("pattern");
  Say(flow + " 1");
  Say(flow + " 2");
} // once
Say(Main_.flow);`,
    `Say(@"a
  b#");`,
    `Say($"x {tide} #");`,
    `n += #;
Say(n);`,
    `int[] a# = {
  1,
  2,
};
Say(a#.Length);`,
    `Say("x" + 1 + 2 + #);`,
    `Say('a' + 1);`,
    `char c# = 'b';
Say(c#);`,
    `var l# = new List<int> { 1, # };
l#.Remove(1);
Say(l#.Count);`,
    `#if DEBUG
Say("debug#");
#else
Say("release#");
#endif`,
    `#region here
Say("region#");
#endregion`,
    `int.TryParse("#", out var t#);
Say(t#);`,
    `checked {
  Say(tide * 2);
}`,
    `while (p) {
  Say("w#");
  if (p) break;
  Say("no");
}`,
    `goto l#;
l#: Say("l#");`,
    `/* a */ Say("x#"); // b`,
    `Say(p ? "yes#" : "no");`,
    `const int k# = #; Say(k#);`,
    `if (n > 50) return;`,
    `Say(string.Join(",",
  new[] { "a", "b#" }));`,
    `Say(tide + flow);`,
    `tide++;
Say(tide);`,
  ],
};
