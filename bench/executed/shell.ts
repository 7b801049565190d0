import type { Pieces } from "@/core/quiet/testing/programs";

/** Scripts of a shell that run nothing but what the shell has itself. */
export const SHELL: Pieces = {
  path: "a.sh",
  blocks: [
    ["if true; then # once", "fi # once"],
    ["if false; then :; else # once", "fi # once"],
  ],
  pieces: [
    `$A() {
  echo "#" "$1"
  return 0
}`,
    `function $A {
  echo "fn#"
  local x=1
  return $x
}`,
    `$A() (
  echo "sub#"
  x=5
)`,
    `$A || echo "no#"`,
    `$A=#`,
    `echo "v $$A"`,
    `if [ -n "$$A" ]; then
  echo "set#"
else
  echo "unset#"
fi`,
    `for i in a b; do
  echo "$i #"
  [ "$i" = a ] && continue
  echo "once#"
done`,
    `case "$$A" in
  1*) echo "one#" ;;
  "") echo "none#"
    ;;
  *)
    echo "any#" ;;
esac`,
    `while read -r l; do
  echo "got $l"
done <<EOF
a  b
 c
EOF`,
    `cat_() { while IFS= read -r l; do echo "[$l]"; done; }
cat_ <<-EOT
	tab
  two
	EOT`,
    `x="a
  b"
echo "$x"`,
    `echo a  b \\
  c`,
    `echo one && \\
  echo two ||
  echo three`,
    `true &&
  echo yes#`,
    `arr=(a "b c"
  d)
echo "\${arr[*]}" "\${arr[1]}"`,
    `echo $((1 + # )) $(echo  x)`,
    `[[ a == a &&
  b == b ]] && echo "both#"`,
    `{ echo "grp#"; echo "two"; }
( echo "paren#" )`,
    `$A() {
  $B() {
    echo "inner#"
  }
  $B
}`,
    `! true
echo "st $?"`,
    `y=1 ; echo $y
y= echo "y:$y"`,
    `printf '%s\\n' a\\ b 'c  d' "e  f"`,
    `until [ "\${n#:-0}" = 2 ]; do
  n#=$((\${n#:-0} + 1))
done
echo "n \${n#}"`,
    `# note #
echo "c#" # here`,
    `select_=1
echo "\${select_:+ a  b}" "\${none:-  dflt}"`,
    `z=$(
  echo "cap#"
  echo "two"
)
echo "$z"`,
    `unset -f $A
unset $B`,
    `trap 'echo bye#' EXIT
echo "t#"`,
    `told() { echo "$1" "$3"; }
told a b "c d"
echo "#"`,
    `if $A 2>/dev/null_#
then echo t#
fi 2>&1`,
    `echo \\
$A`,
    `coproc_=1; echo "{a,b}" {a,b} { a,b }`,
    `alias $A='echo alias#'
$A`,
    `shopt -s expand_aliases
alias $B='echo al#'
$B x`,
    `time_=1
let "q = 1 + 2"
let q=q+1
echo $q`,
    `m=(1 2)
echo "\${m[0]}" "\${m[1]}"`,
    `[ 1 -lt 2 -a 3 -gt 2 ] && echo lt
test "a" = "a" || echo ne`,
  ],
};
