import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of Rust: what is let go of where, values of blocks, and macros that name things. */
export const RUST: Pieces = {
  path: "a.rs",
  around: [
    `#![allow(warnings)]
struct G(&'static str);
impl Drop for G { fn drop(&mut self) { println!("end {}", self.0); } }
impl G { fn v(&self) -> i32 { 3 } }
fn say(s: &str) { println!("{}", s); }
fn two(x: i32) -> i32 { println!("{}", x); x * 2 }
fn make(s: &'static str) -> G { println!("make {}", s); G(s) }
macro_rules! twice { ($e:expr) => { $e; $e; } }
macro_rules! bind { ($n:ident, $v:expr) => { let $n = $v; } }
fn main() {
let (mut n, p, tide, flow) = (0, std::env::args().count() > 0, 7, 8);
`,
    `  println!("last");
}
`,
  ],
  blocks: [
    ["if true { // once", "} // once"],
    ["{ // once", "} // once"],
    ["if false {} else { // once", "} // once"],
  ],
  pieces: [
    `say("a#");`,
    `say("b#"); say("c#");`,
    `let $A = #;
println!("{}", $A);`,
    `{ // once
  let $A = #;
  say("in#");
  println!("{} 1", $A);
  println!("{} 2", $A);
} // once
println!("{}", $A);`,
    `let g# = G("g#");`,
    `let _ = G("drop#");
say("after#");`,
    `{ // once
  let h# = make("h#");
  say("in h#");
  say("still h#");
} // once
say("out h#");`,
    `make("t#").v();
say("then#");`,
    `if make("c#").v() > 1 {
  say("cond#");
}`,
    `match make("m#").v() {
  3 => say("three#"),
  _ => {}
}`,
    `if let 3 = make("l#").v() {
  say("let#");
} else {
  say("else#");
}`,
    `for i in 0..2 {
  println!("{} #", i);
}`,
    `let mut k# = 0;
while k# < 2 {
  k# += 1;
  if k# == 1 { continue; }
  say("w#");
  break;
}`,
    `'o#: loop {
  loop {
    say("l#");
    break 'o#;
  }
}`,
    `twice!(say("t#"));`,
    `bind!($A, #);
println!("{}", $A);`,
    `{ // once
  bind!(tide, #);
  say("bound");
  println!("{} 1", tide);
  println!("{} 2", tide);
} // once
println!("{}", tide);`,
    `println!("{}", "a \
  b#");`,
    `println!("{}", r"a
  b#");`,
    `n += #;
println!("{}", n);`,
    `let x# = {
  say("block#");
  two(#)
};
println!("{}", x#);`,
    `let c# = |x: i32| {
  say("closure#");
  x + 1
};
println!("{}", c#(1));`,
    `fn f#() -> i32 {
  say("f#");
  #
}
println!("{}", f#());`,
    `const K#: i32 = #;
println!("{}", K#);`,
    `let v# = vec![
  1,
  2,
];
println!("{}", v#.len());`,
    `if p {
  say("p#");
} else if n > 1 {
  say("n#");
}`,
    `let (a#, b#) = (two(1), two(#));
println!("{}", a# + b#);`,
    `let s# = match n { 0 => "zero", _ => "more" };
println!("{}", s#);`,
    `drop(G("d#"));`,
    `/* a */ say("x#"); // b`,
    `if n > 50 { return; }`,
  ],
};
