import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of Python: blocks that are told by indentation, lines that go on, names that are taken. */
export const PYTHON: Pieces = {
  path: "a.py",
  blocks: [
    ["if True: # once", ""],
    ["try: # once", "finally: pass # once"],
    ["if not True: pass # once\nelse: # once", ""],
  ],
  pieces: [
    `def $A(x=None):
    log("#", x)
    return x`,
    `def $A(x=log("def#")):
    log("#", x)
    return x`,
    `def $A():
    global $B
    $B = #
    return $B`,
    `@(lambda f: log("deco#") and f)
def $A():
    log("in#")
    return 1`,
    `class $A:
    x = log("#")

    def go(self):
        log("go#")
        return 1`,
    `class $A:
    def go(self):
        log("go#")

    def run(self):
        log("run#")

    go2 = go`,
    `class $A(object if "$B" not in globals() else $B if isinstance($B, type) else object):
    def $B(self):
        log("m#")`,
    `class K#:
    @property
    def $A(self):
        return log("p#")

    @$A.setter
    def $A(self, v):
        log("s#", v)

    $B = 3
K#().$A = 2
log(sorted(k for k in vars(K#) if k[0] != "_"), list(vars(K#))[1:])`,
    `$A = lambda x=1: log("#", x)`,
    `$A = #`,
    `try:
    log($A())
except Exception as e:
    log(type(e).__name__)`,
    `try:
    $A().go()
except Exception as e:
    log(type(e).__name__)
else:
    log("else#")
finally:
    log("fin#")`,
    `log("$A" in globals(), "#")`,
    `if log("#"):
    def $A():
        log("in#")
        return 4`,
    `if "$A" in globals():
    log("y#")
elif log("e#"):
    log("n#")
else:
    log("z#")`,
    `for i in range(2):
    log(i)
    if i: continue
    log("once#")
else:
    log("done#")`,
    `for i in range(2):
    if i:
        log("x#")
        log("y#")
    log("z#")`,
    `while True:
    log("w#")
    break
log("after#")`,
    `with __import__("contextlib").suppress(Exception):
    log("w#")
    $A()
    log("v#")`,
    `s# = """one
  two
three"""
log(s#)`,
    `t# = ("a"
      "b"
      "c")
log(t#)`,
    `u# = 1 + \\
    2
log(u#)`,
    `d# = {
    "$A": log("a#"),
    "$B": log("b#"),
    "c": [
        1,
        2,
    ],
}
log(list(d#))`,
    `def $A():
    def $B():
        log("inner#")
        return 1

    $B = 1
    return $B()`,
    `def $A():
    """doc
    more
    """
    yield log("g#")
    return`,
    `log([y for y in range(3)
     if y
     if y > 1])`,
    `if True: log("one#"); log("two#")
log("three#")`,
    `x# = [1, 2,
      3]
x#[0], y# = 5, 6
log(x#, y#)`,
    `match #:
    case 1:
        log("one#")
    case _:
        log("def#")
        log("any#")`,
    `def f#(a, *, b=2, **k):
    return (a,
            b)


log(f#(1))`,
    `class E#(Exception):
    pass


try:
    raise E#()
except E#:
    log("E#")
except Exception:
    log("other#")`,
    `lam# = lambda: (
    yield_#)
yield_# = #
log(lam#())`,
    `print_# = f"{'$A':>8}  {#}"
log(print_#)`,
    `assert log("as#"), \\
    "no"
del_# = [1]
del del_#[0]
log(del_#)`,
    `def $A():
    nonlocal_# = 1
    def $B():
        nonlocal nonlocal_#
        nonlocal_# += 1
        return nonlocal_#
    log($B())
    return 2`,
    `async def $A():
    log("as#")
    return 1`,
    `from math import (pi,
                  e as $A)
log(round(pi))`,
    `import math
import json as $B
log("imp#")`,
  ],
};
