import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of Go: what ends a statement, what is done when a function ends, and what a name means where. */
export const GO: Pieces = {
  path: "a.go",
  around: [
    `package main

import (
	"fmt"
	"strings"
)

var n, tide, flow = 0, 7, 8
var p = true
var any_ interface{} = "text"

type G struct{ name string }

func (g G) say(s string) G { fmt.Println(g.name, s); return g }
func (g *G) rename(s string) { g.name = s }
func say(s ...interface{}) bool { fmt.Println(s...); return true }
func two(x int) int { fmt.Println(x); return x * 2 }
func end(s string) func() { fmt.Println("begin", s); return func() { fmt.Println("end", s) } }

func main() {
	_ = strings.ToUpper
`,
    `	say("last")
}
`,
  ],
  blocks: [
    ["if true { // once", "} // once"],
    ["{ // once", "} // once"],
    ["switch { // once\ndefault: // once", "} // once"],
    ["for range [1]int{} { // once", "} // once"],
  ],
  pieces: [
    `say("a#")`,
    `say("b#"); say("c#")`,
    `$A := #
say($A)`,
    `{ // once
  $A := #
  say("in#")
  say($A, 1)
  say($A, 2)
} // once
say($A)`,
    `$A, $B := #, 2
say($A + $B)`,
    `defer say("deferred#")`,
    `defer end("d#")()
say("after#")`,
    `{ // once
  defer say("inner#")
  say("still#")
  say("more#")
} // once
say("out#")`,
    `func() {
  defer say("done#")
  say("called#")
}()`,
    `if x := two(#); x > 1 {
  say("x", x)
} else {
  say("small")
}`,
    `for i := 0; i < 2; i++ {
  say(i, #)
}`,
    `for i, x := range []int{1, #} {
  say(i, x)
}`,
    `outer#:
for {
  for {
    say("l#")
    break outer#
  }
}`,
    `switch two(1) {
case 2:
  say("two#")
  fallthrough
case 3:
  say("three#")
default:
  say("d#")
}`,
    `switch v := any_.(type) {
case string:
  say(v, #)
case int:
  say("int")
}`,
    `for k := 0; k < 3; k++ {
  if k == 1 {
    continue
  }
  say("k", k, #)
}`,
    `G{"g#"}.
  say("one").
  say("two")`,
    `g# := G{"a#"}
g#.rename("b#")
g#.say("c")`,
    `f# := func(x int) int {
  say("f#")
  return x + 1
}
say(f#(1))`,
    `fs# := []func(){}
for i := 0; i < 2; i++ {
  i := i
  fs# = append(fs#, func() { say(i) })
}
for _, f := range fs# {
  f()
}`,
    `const (
  a# = iota
  b#
)
say(a#, b#)`,
    `type t# struct {
  x int
}
say(t# {#})`,
    `{ // once
  type G struct{ y int }
  say("type")
  say(G{#}, 1)
  say(G{#}, 2)
} // once
say(G{"g"})`,
    `say(\`a
  b#\`)`,
    `say("x" +
  "y#")`,
    `v# := []int{
  1,
  2,
}
say(len(v#))`,
    `m# := map[string]int{"a": #}
say(m#["a"])`,
    `say('a', "a")`,
    `n += #
say(n)`,
    `tide++
say(tide)`,
    `if p {
  say("p#")
} else if n > 1 {
  say("n#")
}`,
    `func() {
  defer func() { say(recover()) }()
  panic("p#")
}()`,
    `c# := make(chan int, 1)
c# <- #
select {
case x := <-c#:
  say(x)
default:
  say("none")
}`,
    `/* a */ say("x#") // b`,
    `if n > 50 {
  return
}`,
    `return`,
    `goto l#
l#:
  say("l#")`,
    `var $A int
$A = two(#)
say($A)`,
    `x# := -two(#) -
  1
say(x#)`,
    `say(tide, flow)`,
  ],
};
