import type { Pieces } from "./programs";

/** Programs of JavaScript: what is there before it stands, what is run when, and where a line ends. `log` tells `true`. */
export const JAVASCRIPT: Pieces = {
  path: "a.js",
  blocks: [
    ["if (true) { // once", "} // once"],
    ["try { // once", "} finally {} // once"],
    ["{ // once", "} // once"],
    ["do { // once", "} while (false); // once"],
    ["if (false) {} else { // once", "} // once"],
  ],
  pieces: [
    `function s#() {
  let own = "out#";
  { // once
    let own = "in#";
    log(own);
    log("#", own);
    log(own, "last#");
  } // once
  log(own, "#");
}
s#();`,
    `function n#() {
  log("this#", typeof this);
  return 1;
}
n#();`,
    `function $A() {
  'use strict'
  log("that#", typeof this);
}
try { $A(); } catch (e) { log(e.name) }`,
    `'use strict'
`,
    `const $A = function () {
  log("fe#");
  return 1;
}`,
    `const $A = class {
  go() {
    return log("ce#");
  }
}`,
    `log("nosemi#")`,
    `[1, 2].forEach((x) => {
  log(x, "#");
})`,
    `\`tpl#\`.split("").forEach((x) => {
  log(x);
})`,
    `+log("plus#")`,
    `/re/.test(log("re#"))`,
    `var c# = typeof $A
`,

    `function $A(x) {
  log("#", x);
  return x;
}`,
    `function $A() {
  log("#", typeof $B);
  return $B;
}`,
    `async function $A() {
  log("#");
  return 1;
}`,
    `function* $A() {
  yield log("#");
  return 2;
}`,
    `class $A {
  static x = log("#");
  go() {
    log("go #");
    return 1;
  }
}`,
    `class $A {
  go() {
    log("go #");
  }
  run() {
    log("run #");
  }
}`,
    `class $A extends ($B ?? Object) {
  constructor() {
    super();
    log("#");
  }
}`,
    `class $A {
  [log("#")]() {
    return 1;
  }
  static {
    log("s#");
  }
}`,
    `class K# {
  get
  $A() {
    return log("g#");
  }
  static
  $B = 3
  *gen() {
    yield log("y#");
  }
}
log(Object.getOwnPropertyNames(K#.prototype).join(), Object.keys(K#).join());`,
    `class M# {
  $A = log("f#");
  $B = log("h#");
  $B() {
    log("m#");
  }
}
new M#();`,
    `const $A = (x) => {
  log("#", x);
  return typeof $B;
};`,
    `var $A = function (x) {
  log("#", x);
  return x;
};`,
    `var $A = #;`,
    `let l# = typeof $A;
log(l#);`,
    `try {
  log($A(#));
} catch (e) {
  log(e.name);
}`,
    `try {
  new $A().go();
} catch (e) {
  log(e.name);
}`,
    `log(typeof $A, "#");`,
    `if (log("#")) {
  function $A() {
    log("in#");
    return 4;
  }
}`,
    `{
  function $A() {
    log("blk#");
    return 5;
  }
}`,
    `const o# = {
  get $A() {
    return log("g#");
  },
  $B: log("#"),
  $B() {
    return log("m#");
  },
};
log(Object.keys(o#).join());`,
    `const p# = {
  $A: 1,
  $A() {
    return 2;
  },
  ...{ $A: 3 },
};
log(JSON.stringify(p#));`,
    `switch (typeof $A) {
  case "function":
    log("fn#");
  case "number":
    log("num#");
    break;
  default:
    log("other#");
}`,
    `for (var i# = 0; i# < 2; i#++) {
  log(i#);
  if (i#) continue;
  log("once#");
}`,
    `outer#: for (const a of [1, 2]) {
  for (const b of [1, 2]) {
    log(a, b);
    if (b === 2) continue outer#;
    log("x#");
  }
}`,
    `$A = #;`,
    `var s# = \`one
  two \${typeof $A}
three\`;
log(s#);`,
    `var t# = "a \\
  b";
log(t#);`,
    `var u# = /a  b/ .test("a  b")
log(u#)`,
    `function r#() {
  return (
    # + 1
  );
}
log(r#());`,
    `function q#() {
  "use strict";
  log(this === undefined);
  return 1;
}
q#();`,
    `var v# = 1
var w# = v#
++v#
log(v#, w#)`,
    `var z# = 1, y# = 2
log(z# + +y#, z# - -y#, z# +
  y#)`,
    `var async = 3, get = 4, of = 5, let_ = 6
log(async, get)
log(async
  , of)`,
    `var d# = (a) => ({
  a,
  b: log(a),
})
log(JSON.stringify(d#(#)))`,
    `if (typeof $A === "number")
  log("n#")
else
  log("m#")`,
    `do log("do#"); while (false)
log("after#")`,
    `var f# = [1, 2]
log(f#[0])
;[f#].forEach(function (x) {
  log(x.length)
})`,
    `// note #
log("c#") // here
/* more
   lines */ log("d#")`,
    `log(1 /* a */ + /* b */ 2, 4 / 2 / 1)
log("a" + "  b")`,
    `function $A() {
  function $B() {
    log("inner#");
  }
  var $B = 1;
  return $B();
}`,
    `function $A() {
  return $B();
  function $B() {
    log("late#");
    return 1;
  }
}`,
    `(function () {
  log("iife#");
  var $A = 2;
  log($A);
})();`,
    `var n# = null ?? typeof $A
log(n# ?. length)
log(n# ? .5 : 1)`,
    `var a# = 5
log(a# .toFixed(1), 5. .toFixed(1), 1..toString())`,
    `var e# = async (x) => x
var g# = function* () { yield
1 }
log([...g#()].length)`,
    `throwing#: {
  try {
    log("t#");
    break throwing#;
  } finally {
    log("fin#");
  }
}`,
    `var h# = { async *$A() {}, get $B() { return 1 }, set $B(v) {}, static: 1, async: 2 }
log(Object.keys(h#).join())`,
    `var k# = a => b => {
  log(a, b)
}
k#(1)(2)`,
    `var m# = function () {}
log(m#.name)
var { $A: x#, ...rest# } = { $A: 1, b: 2 }
log(x#, JSON.stringify(rest#))`,
    `// eslint-disable-next-line
log("lint#");`,
    `label#:
log("lab#")
if (0) log("no#"); else log("yes#")`,
    `enumlike#: for (const k in { a: 1, b: 2 }) log(k)
while (log.count++ < 0);
log("w#")`,
  ],
};
