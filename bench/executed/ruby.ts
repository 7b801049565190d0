import type { Pieces } from "@/core/quiet/testing/programs";

/** Programs of Ruby: words that take what stands behind them, classes that are opened again, texts that begin below. */
export const RUBY: Pieces = {
  path: "a.rb",
  blocks: [
    ["if true # once", "end # once"],
    ["unless false # once", "end # once"],
    ["begin # once", "end # once"],
    ["begin # once", "ensure # once\nend # once"],
  ],
  pieces: [
    `def $A(x = nil)
  log("#", x)
  x
end`,
    `def $A(x = log("d#"))
  log(:"#", x)
  $B -1
end`,
    `def $B(y = 3)
  log("b#", y)
  y
end`,
    `class K$A
  def go
    log("go#")
    1
  end

  def run
    go
    log("run#")
  end
end`,
    `class K$A
  attr_accessor :$B
  private

  def secret
    log("s#")
  end

  public

  def open
    secret
    log("o#")
  end
end`,
    `class K$A
  def one
    log("one#")
  end

  private def two
    log("two#")
  end

  protected

  def three
    log("three#")
  end
end`,
    `module M#
  module_function

  def $A
    log("m#")
    2
  end

  def $B
    log("n#")
    3
  end
end
log(M#.$A)`,
    `begin
  K$A.new.go
rescue NoMethodError, NameError => e
  log(e.class.name)
else
  log("else#")
ensure
  log("ens#")
end`,
    `begin
  log($A(1), $B)
rescue => e
  log("r", e.class.name)
end`,
    `t# = <<~TEXT
  one
    two
  three
TEXT
log(t#)`,
    `h# = [<<-A, <<'B']
  x #{1 + 1}
    A
 y #{2}
B
log(h#)`,
    `w# = %w[
  a b
  c
]
log(w#, %i(x y), %q(a  b))`,
    `v# = [3, 1, 2]
  .map { |x| x + 1 }
  .select { |x| x > 2 }
log(v#)`,
    `s# = "one " \\
  "two"
log(s#, ?a)`,
    `d# = {
  "$A": log("a#"),
  $B: log("b#"),
  "c" => [
    1,
    2,
  ],
}
log(d#.keys)`,
    `x# = 5
y# = x# > 3 ? :big : :small
log(y#) unless x# < 2
log(-x#.abs, x# - 1, x# -1)`,
    `case #
when 1, 2
  log("one#")
when Integer
  log("int#")
else
  log("else#")
end`,
    `case { k: # }
in { k: Integer => n }
  log("n", n)
end`,
    `log(if # > 50
  "big"
else
  "small"
end)`,
    `[1, 2].each do |e|
  next if e == 1
  log("e", e)
end`,
    `3.times { |i|
  log(i)
  break if i == 1
}`,
    `p# = proc do |a, b = 2|
  log(a, b)
  a
end
p#.call(1)
p#.(3, 4)`,
    `define_method(:dm#) { log("dm#") } if respond_to?(:define_method)
log(defined?($A), defined?(K$A))`,
    `class K#
  K$A = 3
  LIST = [1,
          2].freeze

  class << self
    def $A
      log("cls#")
    end

    private

    def $B
      log("pcls#")
    end
  end

  def self.make(**opts)
    log(opts)
    new
  end
end
K#.make($A: 1)
K#.$A`,
    `class K#
  alias_method :to_str2, :to_s
  def $A
    log("k1")
  end
  alias $B $A

  def $A
    log("k2")
    super
  rescue NoMethodError
    log("none")
  end
end
K#.new.$A
K#.new.$B`,
    `def yielder#
  return enum_for(:yielder#) unless block_given?
  yield 1
  yield 2
end
yielder# { |x| log x }
log yielder#.to_a`,
    `def sq#(x) = x * x
log sq#(3)
log(sq# (2))`,
    `i# = 0
while i# < 3
  i# += 1
  log(i#)
end
log("until") until true`,
    `=begin
log("never")
=end
log("after#")`,
    `catch(:done) do
  10.times do |a|
    throw :done if a == 2
    log(a)
  end
end`,
    `module Mix#
  def self.included(base)
    log("inc", base.name)
  end

  def $A
    log("mix#")
  end
end
class Use#
  include Mix#
  def $B
    $A
  end
end
Use#.new.$B`,
    `class Meta#
  def self.method_added(name)
    log("added", name)
  end

  def $A
    1
  end

  def $B
    2
  end
end`,
    `module Ref#
  refine String do
    def $A
      "refined"
    end
  end
end
using Ref#
log("x".$A)`,
    `class St# < Struct.new(:a, :b)
  def sum
    a + b
  end

  def ==(other)
    log("eq")
    true
  end

  def [](i)
    log("idx", i)
  end

  def -@
    log("neg")
  end

  def -(o)
    log("minus")
  end
end
st = St#.new(1, 2)
log(st.sum)
st[0]
st -1
-st`,
    `def $A
  @val ||= begin
    log("memo#")
    4
  end
end
log($A, $A)`,
    `a#, (b#, *c#) = 1, [2, 3, 4]
log(a#, b#, c#)`,
    `log("#{1 +
  1} x", 'a
b')`,
    `log [1, 2,
     3].sum`,
    `def args#(a, b = 2, *c, d:, e: 5, **f, &g)
  log(a, b, c, d, e, f)
end
args#(1, d: 4)
args# 1, 2, 3, d: 4, z: 6`,
    `log(__LINE__.class, __method__.inspect)`,
    `x = 10
[1].each { |y; x| x = y }
log(x)`,
    `private

def $A
  log("priv#")
end`,
    `trap_# = -> (x) {
  log("lam", x)
}
trap_#[2]
trap_#.call 3`,
    `log(!true & false || 1)
log not(true)
puts_# = 5 if false
log(puts_#)`,
    `r = begin
  Integer("z")
rescue ArgumentError
  log("bad")
  retry_# = 1
end
log(r)`,
    `log /a b/ =~ "a b"
log "a/b".split(/\\//)
log 6 / 2
q# = 4
log q# /2`,
    `class Cmp#
  include Comparable
  attr_reader :v

  def initialize(v)
    @v = v
  end

  def <=>(o)
    v <=> o.v
  end
end
log(Cmp#.new(1) < Cmp#.new(2))`,
    `$A = 4
log $A
log $A -1
log $A [0]`,
    `log($A (1), 2) rescue log("x")`,
    `def opt#(a = 1,
           b = 2)
  return a,
    b
end
log opt#`,
    `z# = true &&
  false
z# ||= 4
log z#`,
    `class Par#
  def initialize; @v = 1; end
  attr_writer :v
  def v=(x)
    log("set", x)
  end
end
Par#.new.v =
  3`,
    `def $A(*) = log("endless#")`,
    `def self.$B
  log("main#")
end`,
    `__END__
tail #
  text`,
    `class K$A
  @@count = 0
  @inst = 1
  COUNT = [1, 2]

  def self.inherited(k)
    log("inh", k.name)
    super
  end

  class Inner
    def $A
      log(COUNT)
    end
  end

  def method_missing(n, *a)
    log("mm", n)
  end

  def respond_to_missing?(*)
    true
  end
end`,
    `class K$B < K$A
  def $A
    super rescue log("nosuper")
  end

  undef_method :$A
end`,
    `module K$A#
  extend self
  def $A; log("ext#"); end
  private def $B
    log("pb")
  end
end
K$A#.$A`,
    `log((1..3).inject { |a, b| a + b })
log [1, 2, 3].map do |x|
  x * 2
end`,
    `log("a" "b", "c"\\
"d")`,
    `log <<~ONE.strip, <<~TWO
  first
ONE
  second
   deep
TWO`,
    `v = if true then 1 else 2 end
log(v ? "y":"n")
log(v.nil? ? 1 : 2)`,
    `log %w(a b).each_with_index.map { |x, i| "#{x}#{i}" }`,
    `o = Object.new
def o.$A
  log("single#")
end
o.$A`,
    `Foo# = Class.new do
  def $A
    log("cn#")
  end

  define_method(:$B) do |x = 1|
    log("dm", x)
  end
end
Foo#.new.$B`,
    `log(->(x) { x * 2 }.call(2), (lambda do |x| x end).(1))`,
    `e = [3, 4].each
loop do
  log(e.next)
end`,
    `$g# = 1
alias $h# $g#
log($h#)`,
    `log(1.then { _1 + 1 })
h = { a: 1, **{ b: 2 } }
log h
def kw#(a:, b: a + 1) = log(a, b)
kw# a: 1
kw#(**h)`,
    `class Hook#
  @seen = []
  class << self
    attr_reader :seen

    def note(x)
      @seen << x
      log("note", x)
    end
  end
  note :$A

  def $B
    self.class.seen
  end
end
log(Hook#.new.$B)`,
    `module Conc#
  def self.extended(base)
    base.define_singleton_method(:$A) do
      log("ext", name)
    end
  end
end
class UseC#
  extend Conc#
end
UseC#.$A`,
    `class K$A
  def initialize(a = 1, b: 2)
    @a = a
    @b = b
    super()
  end

  def to_s
    "#{@a}-#{@b}"
  end

  def each
    return to_enum(:each) unless block_given?
    yield @a
    yield @b
  end
  include Enumerable
end
log(K$A.new.to_a.to_s) rescue log("bad")`,
    `class K$B
  def visible
    helper
  rescue NameError => e
    log(e.message[0, 20])
  end

  def helper
    log("helper#")
  end
  private :helper

  def other
    helper + 1
  end
  public

  def last_one
    log("last")
    self
  end
end
(K$B.new.helper rescue log("private"))
K$B.new.last_one.visible`,
    `class Err# < StandardError
  def message
    "custom#"
  end
end
begin
  raise Err#
rescue Err# => e
  log(e.message)
end`,
    `def big#(n)
  case n
  when 0
    log("zero")
  when ->(x) { x > 5 }
    log("big")
    return :big
  else
    log("else")
  end
  n
end
log(big#(0), big#(9))`,
    `def deep#
  result = []
  (1..2).each do |i|
    [3, 4].each do |j|
      result << i * j
    end
  end
  result
end
log deep#`,
  ],
};
