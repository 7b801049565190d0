import type { ReviewEvent } from "@/core/review/events";
import { replay } from "@/core/review/evolve";

const STREAM = "01KE6JR280FBBZ2W7BCE738MRJ";
const ROUNDS = 7;

/** How long it takes to make a change set of its events, with thousands of threads that are all answered. */
export function replaying(say: (words: string) => void, many: number): number {
  const events = history(many);
  const times = Array.from({ length: ROUNDS }, () => {
    const begun = performance.now();
    replay(events);
    return performance.now() - begun;
  }).sort((a, b) => a - b);
  const change = replay(events)!;
  const answers = change.threads.reduce((sum, { comments }) => sum + comments.length - 1, 0);
  say(`${many} events: ${change.threads.length} threads and ${answers} answers`);
  process.stdout.write(`replay: ${times[ROUNDS >> 1].toFixed(0)} ms in the middle of ${ROUNDS}\n`);
  return 0;
}

/** A change set, then reviews of one remark each with three answers. */
function history(many: number): ReviewEvent[] {
  const [head, base] = ["a".repeat(40), "b".repeat(40)];
  const opened = {
    ...{ repository: "r", number: 1, title: "Hold berths", description: "", source: "topic", target: "main" },
    revision: { head, base, target: base },
  };
  const anchor = { path: "a.ts", revision: 1, side: "new", start: 1, end: 1 };
  const events: unknown[] = [{ id: "0", stream: STREAM, version: 1, by: "ada", at: 0, kind: "opened", data: opened }];
  for (let n = 1; n < many; n++) {
    const remark = n - ((n - 1) % 4);
    const said = { id: `${n}`, stream: STREAM, version: 1, by: `p${n % 9}`, at: n };
    const remarks = [{ thread: `t${n}`, comment: `c${n}`, anchor, body: "Why?", suggestions: [] }];
    const reviewed = { revision: 1, verdict: "none", remark: "", remarks };
    const replied = { thread: `t${remark}`, comment: `c${n}`, body: "Since." };
    events.push(
      remark === n ? { ...said, kind: "reviewed", data: reviewed } : { ...said, kind: "replied", data: replied },
    );
  }
  return events as ReviewEvent[];
}
