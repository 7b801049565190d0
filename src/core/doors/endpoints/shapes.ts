/** The shapes of answers, in parts. That they say all that the types say, and no less, is held by the types and by real answers. */
import * as v from "valibot";
import type { AnchorHistory, AnchorPosition } from "../../anchor/anchor-history";
import type { Caution } from "../../cautions/caution";
import type { Finding } from "../../checks/report";
import type { Comparison } from "../../diff/compare";
import type { Hunk } from "../../diff/hunk";
import type { FileView } from "../../diff/view";
import { FLAGS, type Label } from "../../house/labels/labels";
import type { LinkedItem } from "../../house/work/trailers";
import { REFUSALS, type Refusal } from "../../plain/outcome";
import { CLASSES } from "../../quiet/classes";
import type { LockSummary } from "../../quiet/kinds/lock/lockfile";
import type { Replacement } from "../../quiet/kinds/repeated";
import { anchor, checked, commitsRead, revisionKind, suggestion, verdict, weight } from "../../review/shapes";
import type { Review, Revision, Task, Thread } from "../../review/state";
import { CONDITION_KEYS } from "../../rules/condition";
import type { Gate } from "../../rules/gate";
import { MERGE_KINDS } from "../../rules/rule";
import type {
  ChainView,
  ColouredLines,
  ColoursView,
  CommitView,
  FileClasses,
  LineOrigins,
  PersonView,
  ReadingFile,
  Unsent,
} from "../../views/api";
import type {
  FindingsView,
  LogView,
  MergePreview,
  RuleTrial,
  WorkItemView,
  YardstickView,
} from "../../views/keeping-view";

/** A schema of which every value is a `T`. */
export type Shape<T> = v.GenericSchema<unknown, T>;

const text = v.string();
const number = v.number();
const texts = v.array(text);
/** Milliseconds since 1970. */
const time = v.number();
const maybe = <S extends v.GenericSchema>(schema: S) => v.nullable(schema);
export const state = v.picklist(["draft", "open", "merged", "withdrawn"]);
const how = v.picklist(MERGE_KINDS);
const side = v.picklist(["old", "new"]);

export const refusalAnswer = v.object({
  refusal: v.object({ code: v.picklist(Object.keys(REFUSALS) as Refusal["code"][]), reason: text }),
});

export const commit = v.object({
  id: text,
  author: text,
  at: time,
  subject: text,
  body: text,
}) satisfies Shape<CommitView>;
export const person = v.object({
  id: text,
  name: text,
  fullName: text,
  machine: v.boolean(),
  ...{ hue: number, picture: maybe(text) },
}) satisfies Shape<PersonView>;
const personOrRole = v.union([
  v.object({ person: text, by: text, at: time }),
  v.object({ role: v.picklist(["contributor", "keeper"]), by: text, at: time }),
]);

export const revision = v.object({
  ...{ number, by: text, pusher: text, at: time, how: maybe(revisionKind), same: v.boolean(), resultSame: v.boolean() },
  ...{ head: text, target: text, base: text },
}) satisfies Shape<Revision>;

const comment = v.object({
  ...{ id: text, by: text, at: time, body: text },
  edits: v.array(v.object({ body: text, until: time })),
  erased: maybe(v.object({ by: text, at: time })),
  reactions: v.partial(v.object({ agreed: texts, thanks: texts, unsure: texts })),
});
export const thread = v.object({
  ...{ id: text, anchor, weight, comments: v.array(comment) },
  suggestions: v.array(
    v.object({ ...suggestion.entries, taken: maybe(v.object({ revision: number, by: text, at: time })) }),
  ),
  resolved: maybe(v.object({ by: text, at: time, revision: number })),
}) satisfies Shape<Thread>;
export const review = v.object({
  ...{ id: text, by: text, at: time, revision: number, verdict, remark: text, threads: texts },
  read: maybe(commitsRead),
}) satisfies Shape<Review>;
export const task = v.object({
  ...{ id: text, by: text, at: time, body: text, person: maybe(text) },
  done: maybe(v.object({ by: text, at: time })),
}) satisfies Shape<Task>;
export const asked = v.array(personOrRole);
export const again = v.array(v.object({ person: text, by: text, at: time, revision: number }));
export const lift = v.object({ person: text, by: text, at: time, reason: text, review: v.nullable(text) });
export const check = v.object({ ...checked.entries, by: text, at: time });
export const link = v.object({ item: text, closes: v.boolean(), by: text, at: time });
export const wording = v.object({ title: text, description: text, by: text, until: time });
export const settled = maybe(v.object({ by: text, at: time, commit: maybe(text), passing: maybe(text) }));
export const mergeAsked = maybe(v.object({ by: text, at: time, kind: how, message: maybe(text) }));
export const mergeFailed = maybe(v.object({ why: text, at: time, asker: text }));

export const gate = v.object({
  open: v.boolean(),
  conditions: v.array(
    v.object({
      ...{ id: text, key: v.picklist(CONDITION_KEYS), met: v.boolean(), says: text, people: texts },
      ...{ who: maybe(text), canMeet: texts },
    }),
  ),
}) satisfies Shape<Gate>;

export const may = v.union([v.object({ may: v.literal(true) }), v.object({ may: v.literal(false), why: text })]);

const line = v.object({ number, title: text, state });
export const chain = v.object({ on: maybe(line), under: v.array(line), notes: texts }) satisfies Shape<ChainView>;

export const workLink = v.object({
  ...{ item: text, closes: v.boolean(), from: v.picklist(["link", "commit", "description"]) },
}) satisfies Shape<LinkedItem>;

const position = v.object({
  revision: number,
  status: v.picklist(["unchanged", "shifted", "moved", "edited", "gone"]),
  ...{ path: text, start: number, end: number, since: number },
  fileGone: v.optional(v.literal(true)),
  now: v.optional(texts),
}) satisfies Shape<AnchorPosition>;
export const history = v.object({ side, positions: v.array(position) }) satisfies Shape<AnchorHistory>;

const note = { id: text, body: text, changedAt: time };
export const unsent = v.variant("kind", [
  v.object({ kind: v.literal("remark"), ...note, anchor, weight, suggestions: v.array(suggestion) }),
  v.object({ kind: v.literal("closing"), ...note }),
  v.object({ kind: v.literal("reply"), ...note, thread: text, resolves: v.boolean() }),
  v.object({ kind: v.literal("task"), ...note, assignee: maybe(text) }),
]) satisfies Shape<Unsent>;

const counts = v.tuple([number, number]);
const quiet = v.partial(
  v.object(
    Object.fromEntries(CLASSES.map((name) => [name, number])) as Record<(typeof CLASSES)[number], typeof number>,
  ),
);
const caution = v.object({
  kind: v.string() as unknown as Shape<Caution["kind"]>,
  says: text,
  line: maybe(number),
}) satisfies Shape<Caution>;
const pinned = v.array(v.object({ name: text, version: text }));
const lock = v.object({
  ...{ added: pinned, removed: pinned, concerns: texts },
  changed: v.array(v.object({ name: text, from: text, to: text })),
}) satisfies Shape<LockSummary>;
const fact = v.object({
  kind: v.picklist(["executable", "not-executable", "became", "contents", "copied", "renamed"]),
  says: text,
});

export const readingFile = v.object({
  ...{ path: text, rawPath: v.optional(text), oldPath: maybe(text), rawOldPath: v.optional(text) },
  ...{ oldId: maybe(text), newId: maybe(text), oldMode: number, newMode: number },
  ...{ copy: v.boolean(), similarity: maybe(number), binary: v.boolean(), generated: maybe(text) },
  ...{ counts: maybe(counts), toRead: maybe(number), quiet, facts: v.array(fact), cautions: v.array(caution) },
  ...{
    lock: maybe(lock),
    echoed: v.optional(number),
    alike: v.optional(number),
    read: v.picklist(["unread", "read", "changed"]),
  },
}) satisfies Shape<ReadingFile>;
export const countsLine = v.array(v.object({ path: text, counts }));

const moveEnd = v.object({ path: text, start: number, end: number, within: maybe(text) });
const sidedEnd = v.object({ ...moveEnd.entries, side });
const names = v.array(v.object({ from: text, to: text }));
const replacement = v.object({
  names,
  ...{ lines: number, files: number },
}) satisfies Shape<Replacement>;
export const classes = v.object({
  runs: v.array(v.object({ side, start: number, end: number, class: v.picklist(CLASSES), ref: number })),
  moves: v.record(text, v.object({ from: moveEnd, to: moveEnd, edited: number })),
  replacements: v.record(text, replacement),
  echoes: v.record(text, v.object({ old: moveEnd, next: moveEnd, times: number, names })),
  echoed: v.object({ places: v.array(sidedEnd), many: number }),
  alike: v.array(
    v.object({
      ...{ at: number, of: number, here: sidedEnd, next: sidedEnd, previous: sidedEnd },
      places: v.array(sidedEnd),
    }),
  ),
}) satisfies Shape<FileClasses>;

const touched = v.array(v.object({ start: number, end: number, steps: v.array(number) }));
export const origins = v.object({
  ...{ commits: v.array(commit), earlier: number, old: touched, next: touched },
}) satisfies Shape<LineOrigins>;

const hunk = v.object({ oldStart: number, oldEnd: number, newStart: number, newEnd: number }) satisfies Shape<Hunk>;
const encoding = maybe(text as unknown as Shape<NonNullable<Comparison["oldEncoding"]>>);
const comparison = v.object({
  ...{
    binary: v.boolean(),
    nearlyText: v.boolean(),
    oldSize: number,
    newSize: number,
    oldLines: number,
    newLines: number,
  },
  hunks: v.array(hunk),
  pairs: v.array(v.object({ old: number, next: number, oldSpans: v.array(number), newSpans: v.array(number) })),
  ...{ added: number, removed: number, oldEncoding: encoding, newEncoding: encoding },
  ...{ oldMissingNewline: v.boolean(), newMissingNewline: v.boolean() },
}) satisfies Shape<Comparison>;
export const label = v.object({
  ...{ name: text, flag: v.picklist(FLAGS), about: text, paths: v.array(text) },
}) satisfies Shape<Label>;
export const fileView = v.object({ comparison, text, removed: text, untold: maybe(text) }) satisfies Shape<FileView>;
const coloured = v.array(v.array(number)) satisfies Shape<ColouredLines>;
export const colours = v.object({ old: coloured, new: coloured }) satisfies Shape<ColoursView>;

const finding = v.object({
  ...{ tool: text, name: text, level: v.picklist(["error", "warning", "note"]), message: text },
  ...{ path: maybe(text), line: maybe(number), endLine: maybe(number) },
  clues: v.optional(v.object({ unit: text, places: v.array(v.object({ path: text, line: number })) })),
}) satisfies Shape<Finding>;
export const log = v.object({
  ...{ name: text, by: text, part: maybe(number), at: time, last: text },
}) satisfies Shape<LogView>;

export const findings = v.object({
  ...{ check: text, revision: number, findings: v.array(finding), more: number },
  tests: maybe(v.object({ passed: number, failed: number, skipped: number })),
}) satisfies Shape<FindingsView>;

const conflict = v.object({
  ...{ path: text, why: maybe(text) },
  places: v.array(v.object({ line: number, base: texts, target: texts, source: texts })),
});
export const mergePreview = v.object({
  ...{ how, message: text, why: maybe(text), behind: number },
  commits: v.array(v.object({ ...commit.entries, made: v.boolean() })),
  conflicts: v.array(conflict),
}) satisfies Shape<MergePreview>;

export const yardstick = v.object({
  names: v.array(v.object({ name: text, kind: v.picklist(["branch", "tag"]) })),
  name: maybe(text),
  files: v.array(
    v.object({
      path: text,
      state: v.picklist(["same", "different", "new", "gone", "there"]),
      changedThere: v.boolean(),
    }),
  ),
}) satisfies Shape<YardstickView>;

export const ruleTrial = v.object({
  ...{ errors: texts, notes: texts },
  tried: v.array(
    v.object({
      number,
      title: text,
      state,
      target: text,
      rule: maybe(text),
      blocked: texts,
      newly: texts,
      open: v.boolean(),
    }),
  ),
}) satisfies Shape<RuleTrial>;

export const workItem = v.object({
  ...{ item: text, title: text, body: text, state: v.picklist(["open", "done"]), person: maybe(text) },
  ...{ closedBy: maybe(number), changedAt: time, address: maybe(text) },
}) satisfies Shape<WorkItemView>;
