import { randomUUID } from "node:crypto";
import * as v from "valibot";
import type { LineMap } from "@/core/doors/editor/placed";
import { threadsIn, typedOver } from "@/core/doors/editor/placed";
import { verdict } from "@/core/review/shapes";
import { newest } from "@/core/review/state";
import { Stop } from "../stop";
import type { Session } from "./session";
import type { Writing } from "./writing";

/** What a command works with. Lines are 1-based, paths are of the repository. */
export interface Desk {
  session: Session;
  writing: Writing;
  /** How the pushed text of a file and the one that is worked on belong together. */
  mapOf: (path: string) => Promise<LineMap>;
  /** Shows a file of the clone, or one of {@link Writing}, at a line; or says where it is, where the editor cannot be asked to. */
  open: (file: string, line: number) => Promise<void>;
  hide: () => boolean;
}

const text = v.string();
const line = v.pipe(v.number(), v.integer(), v.minValue(1));
const at = v.object({ path: text, start: line, end: line, body: v.optional(text) });
const inThread = v.object({ thread: text, body: v.optional(text) });

interface Kind<S extends v.GenericSchema> {
  takes: S;
  run: (desk: Desk, given: v.InferOutput<S>) => Promise<string>;
}
const kind = <S extends v.GenericSchema>(takes: S, run: Kind<S>["run"]): Kind<S> => ({ takes, run });

/** Every command of the language server: what is given to it, as one object, and what it answers in a sentence. */
export const COMMANDS = {
  "lens.reply": kind(inThread, async (desk, { thread, body }) => {
    const note = desk.session.unsentReply(thread);
    const id = note?.id ?? randomUUID();
    if (body !== undefined) {
      await desk.session.keep(id, { kind: "reply", thread, body, resolves: note?.resolves ?? false });
      return "Kept, and not sent yet.";
    }
    const found = desk.session.need().change.threads.find((one) => one.id === thread);
    if (!found) throw new Stop("There is no such thread.");
    const { people } = desk.session.need().around;
    const about = found.comments.flatMap((said) => [`${people[said.by]?.fullName ?? ""}:`, ...said.body.split("\n")]);
    const file = desk.writing.begin(id, { kind: "reply", thread, resolves: false }, about, note?.body ?? "");
    await desk.open(file, about.length + 4);
    return `Write it in ${file}, and save.`;
  }),
  "lens.remark": kind(at, async (desk, { path, start, end, body }) => {
    const map = await desk.mapOf(path);
    const pushed = map.toPushed(start, end);
    if (!pushed) throw new Stop("These lines were not pushed yet: a remark stands on lines that others can see.");
    const revision = newest(desk.session.need().change).number;
    const written = {
      kind: "remark" as const,
      path,
      blob: await desk.session.blobAt(path),
      revision,
      start: pushed.start,
      end: pushed.end,
    };
    const id = randomUUID();
    if (body !== undefined) {
      const { kind: _, ...anchor } = written;
      await desk.session.keep(id, { kind: "remark", anchor: { kind: "lines", side: "new", ...anchor }, body });
      return "Kept, and not sent yet.";
    }
    const about = [`${path}, line ${pushed.start}:`, ...map.pushed.slice(pushed.start - 1, pushed.end)];
    const file = desk.writing.begin(id, written, about, "");
    await desk.open(file, about.length + 4);
    return `Write it in ${file}, and save.`;
  }),
  "lens.suggest": kind(at, async (desk, { path, start, end, body = "" }) => {
    const typed = typedOver(await desk.mapOf(path), start, end);
    if (!typed)
      throw new Stop("Nothing was typed over pushed lines here: change them first, then suggest what you typed.");
    const revision = newest(desk.session.need().change).number;
    const place = { path, blob: await desk.session.blobAt(path), revision, start: typed.start, end: typed.end };
    const suggestion = { id: randomUUID(), start: typed.start, end: typed.end, lines: typed.lines };
    await desk.session.keep(randomUUID(), {
      kind: "remark",
      anchor: { kind: "lines", side: "new", ...place },
      body,
      suggestions: [suggestion],
    });
    return "Your suggestion is kept, and not sent yet.";
  }),
  "lens.take": kind(v.object({ thread: text, suggestion: text }), ({ session }, { thread, suggestion }) =>
    session.takeForReal(thread, suggestion),
  ),
  "lens.changes": kind(v.object({ path: text }), async (desk, { path }) => {
    const patch = await desk.session.changesOf(path);
    if (patch === "") throw new Stop(`The newest revision does not change ${path}.`);
    const file = desk.writing.shown(path, patch);
    await desk.open(file, 1);
    return `The changes of ${path} are in ${file}.`;
  }),
  "lens.resolve": kind(v.object({ thread: text }), async ({ session }, { thread }) => {
    await session.carryOut({ kind: "resolve", thread });
    return "The thread is resolved.";
  }),
  "lens.reopen": kind(v.object({ thread: text }), async ({ session }, { thread }) => {
    await session.carryOut({ kind: "reopen", thread });
    return "The thread is open again.";
  }),
  "lens.tick": kind(v.object({ task: text }), async ({ session }, { task }) => {
    await session.carryOut({ kind: "finish-task", task });
    return "The task is done.";
  }),
  "lens.send": kind(
    v.object({ verdict: v.optional(verdict, "none"), word: v.optional(text, "") }),
    async ({ session }, given) => {
      // What somebody judges is what they have here, and not what was pushed a moment ago.
      const revision = await session.checkedOut();
      const { change } = session.need();
      if (revision === null && given.verdict === "approve")
        throw new Stop(
          `r${newest(change).number} is not checked out here: what you approve is what you have before you.`,
        );
      const { number, head, base } = revision === null ? newest(change) : change.revisions[revision - 1];
      await session.carryOut({
        kind: "send-review",
        revision: number,
        read: { head, base },
        verdict: given.verdict,
        remark: given.word,
      });
      return "Your review is sent.";
    },
  ),
  "lens.next": kind(v.object({ path: text, line }), (desk, from) => go(desk, from, 1)),
  "lens.previous": kind(v.object({ path: text, line }), (desk, from) => go(desk, from, -1)),
  "lens.hide": kind(v.object({}), async (desk) =>
    desk.hide() ? "Nothing of the review is shown." : "The review is shown again.",
  ),
};
export type CommandName = keyof typeof COMMANDS;

/** To the next open thread, over all files, going round. */
async function go({ session, mapOf, open }: Desk, from: { path: string; line: number }, step: 1 | -1): Promise<string> {
  const { change, around, mine } = session.need();
  const said = { change, histories: around.histories, unsent: mine.unsent };
  const paths = [...new Set(change.threads.flatMap(({ anchor }) => ("path" in anchor ? [anchor.path] : [])))].sort();
  const places: { path: string; line: number }[] = [];
  for (const path of paths) {
    const map = await mapOf(path);
    for (const { what, start, end } of threadsIn(said, path)) {
      const there = what.resolved === null ? map.toWorking(start, end) : null;
      if (there) places.push({ path, line: there.start });
    }
  }
  places.sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : a.line - b.line));
  if (places.length === 0) throw new Stop("No thread is open.");
  const after = (one: { path: string; line: number }) =>
    one.path > from.path || (one.path === from.path && one.line > from.line);
  const before = (one: { path: string; line: number }) =>
    one.path < from.path || (one.path === from.path && one.line < from.line);
  const place = step > 0 ? (places.find(after) ?? places[0]) : (places.findLast(before) ?? places.at(-1)!);
  await open(place.path, place.line);
  return `${place.path}, line ${place.line}`;
}
