import { visible } from "@/core/cautions/visible";
import { type CheckCommand, COMMANDS_FILE, changedCommands, readCommands } from "@/core/checks/commands";
import { filesRunBy, isShellScript } from "@/core/checks/run-by";
import { type Outcome, refuse } from "@/core/plain/outcome";
import { blobAt, objectSize, pathsBetween, readObject } from "@/git/repository";

/** What names the checks is no longer than this, in bytes. */
const LONGEST_COMMANDS = 1_000_000;
/** So many scripts are followed from one command, and none of more bytes. */
const MOST_SCRIPTS = 50;
const LONGEST_SCRIPT = 200_000;

/** The commands of a commit; null where it names none. */
export async function commandsAt(folder: string, commit: string): Promise<Outcome<CheckCommand[]> | null> {
  const blob = await blobAt(folder, commit, COMMANDS_FILE);
  // A link to another repository names nothing that is here.
  const size = blob === null ? null : await objectSize(folder, blob);
  if (blob === null || size === null) return null;
  if (size > LONGEST_COMMANDS) return refuse("invalid", `${COMMANDS_FILE} has more than ${LONGEST_COMMANDS / 1e6} MB.`);
  return readCommands((await readObject(folder, blob)).toString("utf8"));
}

/** A target as it is now: an author can begin at an old one, in which a check was less. */
export interface Target {
  name: string;
  /** Null where there is no such branch. */
  commit: string | null;
}

/**
 * How checks come to another answer by what the change set itself brings, as the end of a sentence, by their names: another command than at the target, or
 * a file that their command runs, or that a shell script among these runs, which is not the same there. `needed` are the names that a rule asks for.
 */
export async function changedHere(
  folder: string,
  head: string,
  target: Target,
  own: readonly CheckCommand[],
  needed: readonly string[],
): Promise<Map<string, string>> {
  const before = target.commit === null ? null : await commandsAt(folder, target.commit);
  const others = changedCommands(own, before?.ok ? before.value : [], needed);
  const differ = target.commit === null ? new Set<string>() : await pathsBetween(folder, target.commit, head);
  const said = new Map<string, string>();
  for (const { name, run } of own) {
    if (others.has(name)) said.set(name, "by a command that this change set changes");
    else {
      const path = await firstThatDiffers(folder, head, run, differ);
      if (path !== null) said.set(name, `by ${visible(path)}, which is not as on ${visible(target.name)}`);
    }
  }
  return said;
}

async function firstThatDiffers(folder: string, head: string, run: string, differ: ReadonlySet<string>) {
  if (differ.size === 0) return null;
  const seen = new Set<string>();
  const scripts: string[] = [];
  const look = (paths: Iterable<string>) => {
    for (const path of paths) {
      const other = [...placesOf(path)].find((place) => differ.has(place));
      if (other !== undefined) return other;
      if (isShellScript(path) && !seen.has(path)) scripts.push(path);
      seen.add(path);
    }
    return null;
  };
  let found = look(filesRunBy(run));
  for (let i = 0; found === null && i < Math.min(scripts.length, MOST_SCRIPTS); i++) {
    const blob = await blobAt(folder, head, scripts[i]);
    if (blob === null || ((await objectSize(folder, blob)) ?? 0) > LONGEST_SCRIPT) continue;
    const text = (await readObject(folder, blob)).toString("utf8");
    found = look(filesRunBy(text, scripts[i].slice(0, scripts[i].lastIndexOf("/") + 1)));
  }
  return found;
}

/** A path, and the folders above it: one of these can be a link, or another repository. */
function* placesOf(path: string): Generator<string> {
  yield path;
  for (let end = path.lastIndexOf("/"); end > 0; end = path.lastIndexOf("/", end - 1)) yield path.slice(0, end);
}
