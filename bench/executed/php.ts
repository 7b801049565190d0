import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of PHP: functions that are there from the beginning and others, code between printed text, names in small letters or capitals. */
export const PHP: Pieces = {
  path: "a.php",
  blocks: [
    ["if (true) { // once", "} // once"],
    ["try { // once", "} finally {} // once"],
    ["{ // once", "} // once"],
  ],
  head: "<?php",
  pieces: [
    `function $A#($x = null) {
    tell("f#", $x);
    return $x;
}`,
    `function $A($x = null)
{
    tell("#", $x);
    return $x;
}`,
    `if (!function_exists("$B")) {
    function $B()
    {
        tell("cond#");
        return 1;
    }
}`,
    `function $B($y = 3) {
    tell("b#", $y);
    return -$y;
}`,
    `class K$A
{
    public $a = 1;
    const C = 2;

    public function go()
    {
        tell("go#");
        return $this;
    }

    private function hid()
    {
        tell("h#");
    }

    public function __call($n, $a)
    {
        tell("call", $n);
    }
}`,
    `class K$A extends K$B
{
    public function run()
    {
        tell("run#");
    }
}`,
    `class K$B
{
    public static $n = 0;

    public static function make()
    {
        self::$n++;
        tell(static::class, self::$n);
        return new static();
    }
}`,
    `try {
    tell($A(1));
} catch (Error $e) {
    tell("err", get_class($e));
} finally {
    tell("fin#");
}`,
    `try {
    (new K$A())->go();
} catch (Error | Exception $e) {
    tell(get_class($e));
}`,
    `try {
    K$B::make();
} catch (Error $e) {
    tell(get_class($e));
}`,
    `$t# = <<<TEXT
  one {$x}
    two
  TEXT;
tell($t#);`,
    `$n# = <<<'X'
 a $b
X;
tell($n#);`,
    `$x = #;
tell($x <=> 3, $x - -1, $x . "a" . 1);`,
    `$list = [
    "$A" => tell("a"),
    "b" => [1, 2],
    ...[3, 4],
];
tell(array_keys($list));`,
    `if (# > 50) {
    tell("big");
} elseif (# > 30) {
    tell("mid");
} else {
    tell("small");
}`,
    `if (# > 50):
    tell("BIG");
else:
    tell("SMALL");
endif;`,
    `foreach ([1, 2] as $k => $v) {
    if ($k) continue;
    tell($k, $v);
}`,
    `for ($i = 0; $i < 3; $i++) {
    tell($i);
    if ($i == 1) break;
}`,
    `$f# = function ($a) use (&$x) {
    $x = $a;
    return $a;
};
tell($f#(5), $x ?? null);`,
    `$g# = fn($a) => $a
    * 2;
tell($g#(4));`,
    `switch (#) {
    case 1:
        tell("one");
    case #:
        tell("same");
    default:
        tell("fall");
}`,
    `tell(match (true) {
    # > 50 => "hi",
    default => "lo",
});`,
    `interface I#
{
    const X = 3;
    public function $A();
}
class Impl# implements I#
{
    public function $A()
    {
        return tell(self::X);
    }
}
(new Impl#)->$A();`,
    `trait T#
{
    public function $A()
    {
        tell("t", __CLASS__, __FUNCTION__);
    }

    abstract function $B();
}
class U#
{
    use T#;

    public function $B()
    {
        $this->$A();
    }
}
(new U#())->$B();`,
    `// a note
tell("c#"); // here
/* block
   more */`,
    `static $st# = 4;
global $x;
tell($st#);`,
    `function gen#() {
    yield 1;
    $r = yield 2;
    return 3;
}
foreach (gen#() as $v) {
    tell($v);
}`,
    `define("D#", 5);
const E# = D# + 1;
tell(D#, E#);`,
    `echo "out#\\n";
print("p#");`,
    `enum S#: string
{
    case A = "a";
    case B = "b";

    public static function $A(): self
    {
        return self::A;
    }

    public function label(): string
    {
        return ucfirst($this->value);
    }
}
tell(S#::$A()->label(), count(S#::cases()), S#::cases()[0]->name);`,
    `?>
<p>html #</p>
<?php
tell("back#");`,
    `?><b><?= # ?></b>
text
<?php if (true): ?>
  inner
<?php endif ?>
<?php`,
    `abstract class Abs#
{
    protected int $n = 0;

    public function __construct(public readonly int $a = 1, protected ?string $b = null)
    {
        tell("ctor", $a, $b);
    }

    public function __get($k)
    {
        return "magic $k";
    }

    public function __toString(): string
    {
        return "abs";
    }
}
$o# = new class(2) extends Abs# {};
tell($o#->zz, "$o#", (string) $o#);`,
    `#[Attribute]
class At#
{
    public function __construct(public $v = 1) {}
}
#[At#(3)]
function marked#() {
    return 1;
}
tell((new ReflectionFunction("marked#"))->getAttributes()[0]->newInstance()->v);`,
    `list($a, [, $b]) = [1, [2, 3]];
["k" => $c] = ["k" => 9];
tell($a, $b, $c);`,
    `$a = 1;
$a ??= 2;
$b = $a ?: 3;
tell($a, $b, $a++ + ++$a);`,
    `while (true) {
    tell("w");
    break;
}
do {
    tell("d");
} while (false);`,
    `goto end#;
tell("skipped");
end#:
tell("landed");`,
    `function counter#() {
    static $n = 0;
    return ++$n;
}
tell(counter#(), counter#());`,
    `tell(__LINE__ > 0, __FUNCTION__, basename(__FILE__) ? 1 : 0);`,
    `tell("a{$x}b", "\${x}", 'q$x', "multi
 line");`,
    `function &ref#(array &$arr) {
    return $arr[0];
}
$arr = [1, 2];
$r = &ref#($arr);
$r = 7;
tell($arr);`,
    `function named#(int $alpha = 1, int ...$rest) {
    tell($alpha, $rest);
}
named#(alpha: 4);
named#(1, 2, 3);`,
    `namespace A#;
function inner() { return __NAMESPACE__; }
\\tell(inner(), namespace\\inner());`,
    `tell(get_defined_vars() ? 1 : 0, class_exists("K$A"), function_exists("$A"));`,
    `$s = 3; $u = 4;
tell($s
    + $u);
return;`,
    `class Const# {
    const A = self::B + 1;
    const B = 2;
    public static $z = [self::A,
        self::B];
    public function __invoke($x) { return tell("inv", $x); }
    public static function __callStatic($n, $a) { tell("cs", $n); }
}
tell(Const#::A, Const#::$z);
(new Const#)(3);
Const#::$A();`,
    `function cast#($x) {
    return (int) - $x . (string)1;
}
tell(cast#("3"));`,
    `function up#($x) {
    return \\strtoupper($x);
}
tell(up#("a"), new \\ArrayObject([1]) instanceof \\Countable);`,
    `class K$A implements Countable
{
    public function count(): int
    {
        return #;
    }
}
tell(count(new K$A()));`,
    `class P# { const K = 1; public $p = self::K; }
class Q# extends P# { const K = 2; }
tell((new Q#)->p, Q#::K);`,
    `tell($o?->x, null?->y());
tell(1 . 2, 1.5 . "", -1 ** 2, !true || false and true);`,
    `function $A#() {
    function nested#() {
        return tell("nested");
    }
    return nested#();
}
$A#();`,
    `tell(<<<A
    a
      b
    A . "x", 3);`,
    `declare(ticks=1);
register_tick_function(function () { static $t = 0; if ($t++ < 3) tell("tick"); });`,
    `abstract class Shape# {
    abstract public function area(): float;

    public static function of(...$args): static {
        return new static(...$args);
    }
}
final class Sq# extends Shape# {
    public function __construct(private float $s = 2) {
    }

    public function area(): float {
        return $this->s ** 2;
    }
}
tell(Sq#::of(3)->area());`,
    `tell(isset($a["b"]["c"]), empty($zz), \`echo hi\`);`,
    `$arr = ['x' => ['y' => 1]];
tell("{$arr['x']['y']} $arr[x] \${arr}['x']");`,
    `try {
    throw new LogicException("no#");
} catch (RuntimeException) {
    tell("rt");
} catch (LogicException $e) {
    tell($e->getLine() > 0, $e->getMessage());
}`,
    `$i = 10;
while ($i-- > 7):
    tell($i);
    continue;
endwhile;`,
    `print "x" . PHP_EOL;
tell(print("y"));
die_#:`,
    `function typed#(int|string $a, ?array &$b = null, self|null ...$c): ?int { return null; }
tell(typed#(1));`,
    `tell((function () { yield from [1, 2]; return 3; })()->current());`,
    `trait Z# { private static int $c = 0; public static function hit() { return ++self::$c; } }
class Z1# { use Z# { hit as protected hit2; hit as public; } }
class Z2# { use Z#; }
tell(Z1#::hit(), Z2#::hit());`,
  ],
};
