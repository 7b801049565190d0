# What both hooks do: tell the server of a push, and its pusher what the server says. Descriptor 3 leads to the server that started git.
# Told are fields that each end with a zero byte: which hook, how many push options, these, and the moves as git gives them. Answered are lines
# for the pusher, each after a space, and at last 0 where all is well.
if [ "${LENS_HOOK:-}" != 3 ]; then
  echo "Pushes go through the server of Earnest Lens." >&2
  exit 1
fi
count=${GIT_PUSH_OPTION_COUNT:-0}
{
  printf '%s\0%s\0' "${0##*/}" "$count"
  i=0
  while [ "$i" -lt "$count" ]; do
    eval "printf '%s\\0' \"\$GIT_PUSH_OPTION_$i\""
    i=$((i + 1))
  done
  cat
  printf '\0'
} >&3
while IFS= read -r line <&3; do
  case $line in
    " "*) printf '%s\n' "${line# }" >&2 ;;
    *) exit "$line" ;;
  esac
done
echo "The server could not be asked." >&2
exit 1
