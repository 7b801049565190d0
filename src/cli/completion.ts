import type { Command } from "commander";
import { Stop, say } from "./stop";

const SHELLS: Record<string, (commands: readonly Command[]) => string> = {
  bash: (commands) => `_lens() {
  local word="\${COMP_WORDS[COMP_CWORD]}" words
  case "\${COMP_WORDS[1]}" in
${commands.map((one) => `    ${one.name()}) words="${next(one).join(" ")}" ;;`).join("\n")}
    *) words="" ;;
  esac
  [ "$COMP_CWORD" -eq 1 ] && words="${commands.map((one) => one.name()).join(" ")}"
  COMPREPLY=($(compgen -W "$words" -- "$word"))
}
complete -o default -F _lens lens`,
  zsh: (commands) => `#compdef lens
_lens() {
  local -a commands
  commands=(
${commands.map((one) => `    '${one.name()}:${said(one)}'`).join("\n")}
  )
  if (( CURRENT == 2 )); then _describe command commands; return; fi
  case $words[2] in
${commands.map((one) => `    ${one.name()}) compadd -- ${next(one).join(" ")} ;;`).join("\n")}
  esac
  _files
}
compdef _lens lens`,
  fish: (commands) =>
    commands
      .flatMap((one) => [
        `complete -c lens -n __fish_use_subcommand -a ${one.name()} -d '${said(one)}'`,
        ...next(one).map((word) => `complete -c lens -n '__fish_seen_subcommand_from ${one.name()}' -a '${word}'`),
      ])
      .join("\n"),
};

/** What can stand behind a command: its own commands, and its options. */
function next(command: Command): string[] {
  const options = command.options.flatMap(({ long }) => (long ? [long] : []));
  return [...command.commands.map((one) => one.name()), ...options];
}

function said(command: Command): string {
  return command.description().replaceAll("'", "’").replaceAll(":", " ").split("\n")[0];
}

/** What a shell needs to complete the words of this command; made of the commands that there are. */
export function addCompletionCommand(program: Command): void {
  program
    .command("completion <shell>")
    .description(`what makes a shell complete these commands: ${Object.keys(SHELLS).join(", ")}`)
    .addHelpText("after", '\nIn bash: eval "$(lens completion bash)". In fish: lens completion fish | source.')
    .action((shell: string) => {
      if (!Object.hasOwn(SHELLS, shell))
        throw new Stop(`There is none for “${shell}”: ${Object.keys(SHELLS).join(", ")}.`);
      say(SHELLS[shell](program.commands));
    });
}
