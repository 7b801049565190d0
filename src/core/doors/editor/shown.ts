import { visible, visibleWords } from "../../cautions/visible";
import { counted } from "../../plain/words";
import type { Thread } from "../../review/state";
import type { PersonView, Unsent } from "../../views/api";
import type { FindingsView } from "../../views/keeping-view";
import type { LineMap, Placed } from "./placed";

/** How much weight is given to something that is shown beside a line. */
export type Severity = "error" | "warning" | "information" | "hint";

/** Something beside lines, as every editor can show it. Line numbers are 1-based, both ends included. */
export interface Beside {
  id: string;
  start: number;
  end: number;
  severity: Severity;
  /** Who or what says it: "lens", the name of a machine, or of a tool. */
  source: string;
  message: string;
}

type People = Record<string, Pick<PersonView, "fullName" | "machine">>;

const nameOf = (people: People, id: string) => people[id]?.fullName ?? "someone";

/** Open threads and unsent remarks, each with its first words; what is settled is not in anybody's way. */
export function besides(
  threads: readonly Placed<Thread>[],
  unsent: readonly Placed<Extract<Unsent, { kind: "remark" }>>[],
  people: People,
): Beside[] {
  const shown = threads.flatMap(({ what: thread, start, end, edited }): Beside[] => {
    if (thread.resolved !== null) return [];
    const [first, ...answers] = thread.comments;
    const machine = people[first.by]?.machine === true;
    const message = [
      machine ? saidIn(first) : `${nameOf(people, first.by)}: ${saidIn(first)}`,
      ...(thread.suggestions.length > 0 ? [`With ${counted(thread.suggestions.length, "suggestion")}.`] : []),
      ...(answers.length > 0
        ? [`${counted(answers.length, "answer")}, the last by ${nameOf(people, answers.at(-1)!.by)}.`]
        : []),
      ...(edited ? ["The lines were changed since: answered?"] : []),
    ].join("\n");
    const severity = machine || thread.weight === "aside" ? "information" : "warning";
    return [{ id: thread.id, start, end, severity, source: machine ? nameOf(people, first.by) : "lens", message }];
  });
  const own = unsent.map(
    ({ what: { id, body }, start, end }): Beside => ({
      id,
      start,
      end,
      severity: "hint",
      source: "lens, not sent",
      message: body === "" ? "A suggestion of yours." : visibleWords(body),
    }),
  );
  return [...shown, ...own];
}

const LEVELS = { error: "error", warning: "warning", note: "information" } as const;

/** What checks found in a file, each at its present line and under the name of its tool; what is gone is left out. */
export function foundBesides(findings: readonly FindingsView[], path: string, map: LineMap): Beside[] {
  return findings.flatMap(({ check, findings: all }) =>
    all.flatMap(({ tool, name, level, message, path: its, line, endLine }, i): Beside[] => {
      if (its !== path) return [];
      // What is about a file as a whole stands at its top.
      const there =
        line === null ? { start: 1, end: 1, edited: false } : map.toWorking(line, Math.max(line, endLine ?? line));
      if (!there) return [];
      const words = [visibleWords(name === "" || message.startsWith(name) ? message : `${name}: ${message}`)];
      if (there.edited) words.push("The line was changed since.");
      const { start, end } = there;
      const id = `${check} ${i}`;
      return [{ id, start, end, severity: LEVELS[level], source: tool || check, message: words.join("\n") }];
    }),
  );
}

/** Who began a thread and when, in few words: `Ada Brandt, 21 Nov`. */
export function beginning({ comments: [first] }: Thread, people: People): string {
  const day = new Date(first.at).toLocaleDateString("en-GB", { day: "numeric", month: "short" });
  return `${nameOf(people, first.by)}, ${day}`;
}

function saidIn({ body, erased }: Thread["comments"][number]): string {
  return erased ? "(deleted)" : visibleWords(body) || "A suggestion.";
}

/** A thread whole, as Markdown. What people wrote is Markdown already; names are not. */
export function threadMarkdown({ comments, suggestions, resolved }: Thread, people: People): string {
  const escaped = (words: string) => words.replace(/[\\`*_[\]<>#]/g, "\\$&");
  const said = comments.map((comment) => `**${escaped(nameOf(people, comment.by))}**\n\n${saidIn(comment)}`);
  const suggested = suggestions.map(({ was, lines, taken }) => {
    const fence = "`".repeat(Math.max(3, ...[...was, ...lines].map((line) => (/`+/.exec(line)?.[0].length ?? 0) + 1)));
    const change = [...was.map((line) => `- ${visible(line)}`), ...lines.map((line) => `+ ${visible(line)}`)].join(
      "\n",
    );
    return `${taken ? "Taken:" : "Suggested:"}\n\n${fence}diff\n${change}\n${fence}`;
  });
  return [...said, ...suggested, ...(resolved ? [`*Resolved by ${escaped(nameOf(people, resolved.by))}.*`] : [])].join(
    "\n\n---\n\n",
  );
}
