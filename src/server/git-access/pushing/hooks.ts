import type { Duplex } from "node:stream";
import type { AppContext } from "../../app/context";
import { afterPush } from "./after";
import { beforePush } from "./before";
import { movesIn, type Push } from "./push";

/** Who pushes where: what is known of a push before git has read it. */
export type Begun = Pick<Push, "person" | "from" | "repository">;

/** More than this, in bytes, no push tells of itself: some ten thousand refs. */
const LIMIT = 1_000_000;
const END = "\0";

/**
 * Answers the hooks of one push, which come one after the other: whether it may be, and what came of it. They write and read as `hooks/tell.sh`
 * says, through a channel that only what this process started has.
 */
export function answerHooks(app: AppContext, channel: Duplex, begun: Begun): void {
  const fields: string[] = [];
  let rest: Buffer[] = [];
  let size = 0;
  const over = (words: string, status: 0 | 1) => {
    const lines = words === "" ? [] : ["", ...words.split("\n"), ""];
    channel.write([...lines.map((line) => ` ${line}`), `${status}\n`].join("\n"));
  };
  channel.on("error", () => undefined);
  channel.on("data", (chunk: Buffer) => {
    size += chunk.length;
    if (size > LIMIT) {
      // What is still coming is let go: a hook that cannot write would wait for ever.
      if (size - chunk.length <= LIMIT) over("A push tells of at most a million bytes of refs and options.", 1);
      return;
    }
    let from = 0;
    for (let end = chunk.indexOf(END); end >= 0; from = end + 1, end = chunk.indexOf(END, from)) {
      fields.push(Buffer.concat([...rest, chunk.subarray(from, end)]).toString("utf8"));
      rest = [];
    }
    rest.push(chunk.subarray(from));
    const [hook, count = "", ...told] = fields;
    if (count === "" || told.length < Number(count) + 1) return;
    fields.length = 0;
    size = 0;
    const push = { ...begun, options: told.slice(0, -1), updates: movesIn(told.at(-1) ?? "") };
    void answer(app, hook, push).then(([words, status]) => over(words, status));
  });
}

/** What a hook is told, and whether it ends well. */
async function answer(app: AppContext, hook: string, push: Push): Promise<[words: string, status: 0 | 1]> {
  try {
    if (hook === "post-receive") return [(await afterPush(app, push)).join("\n"), 0];
    const refusal = await beforePush(app, push);
    return refusal === null ? ["", 0] : [refusal, 1];
  } catch (error) {
    app.log.error({ err: error, hook, repository: push.repository }, "a push could not be dealt with");
    const words =
      hook === "pre-receive"
        ? "Something went wrong here: nothing of this push was taken."
        : "The push is in; what it means for change sets could not be recorded. The server’s log says why.";
    return [words, 1];
  }
}
