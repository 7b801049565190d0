import * as v from "valibot";
import { MENTIONS } from "../../definitions/mentions";
import type {
  BlameView,
  FileHistoryView,
  LeftAloneView,
  LineHistoryView,
  NamedView,
  OutlinedView,
} from "../../views/around-view";
import { commit, type Shape } from "./shapes";

const text = v.string();
const number = v.number();
const texts = v.array(text);
const maybe = <S extends v.GenericSchema>(schema: S) => v.nullable(schema);

const kind = v.picklist(["function", "type", "module", "constant", "field", "parameter", "key"]);
export const named = v.object({
  name: text,
  definitions: v.array(
    v.object({
      ...{ path: text, line: number, end: number, column: number, kind, within: texts },
      reason: v.picklist(["scope", "file", "import", "folder", "name"]),
      ...{ first: number, text: texts },
    }),
  ),
  uses: v.array(
    v.object({
      path: text,
      places: v.array(
        v.object({
          line: number,
          column: number,
          text,
          kind: v.picklist(MENTIONS),
          changed: v.boolean(),
        }),
      ),
    }),
  ),
  ...{ count: number, more: v.boolean() },
}) satisfies Shape<NamedView>;

export const leftAlone = v.object({
  items: v.array(
    v.object({
      ...{
        name: text,
        kind,
        within: texts,
        path: text,
        line: number,
        what: v.picklist(["added", "changed", "removed"]),
      },
      ...{ before: text, after: text, uses: v.array(v.object({ path: text, line: number, text })) },
      ...{ count: number, touched: number, others: number, tested: maybe(v.boolean()) },
    }),
  ),
  more: v.boolean(),
}) satisfies Shape<LeftAloneView>;

export const lineHistory = v.object({
  steps: v.array(
    v.object({
      ...{ commit, path: text, line: number, text, before: maybe(text) },
      change: maybe(
        v.object({
          ...{ number, title: text },
          threads: v.array(v.object({ id: text, by: text, words: text })),
        }),
      ),
    }),
  ),
  more: v.boolean(),
}) satisfies Shape<LineHistoryView>;

export const fileHistory = v.object({
  steps: v.array(
    v.object({
      ...{ commit, path: text, oldPath: maybe(text), oldId: maybe(text), newId: maybe(text) },
      ...{ oldMode: number, newMode: number, change: maybe(v.object({ number, title: text })) },
    }),
  ),
  more: v.boolean(),
}) satisfies Shape<FileHistoryView>;

export const blame = v.object({
  commits: v.array(commit),
  runs: v.array(v.object({ start: number, end: number, commit: number })),
}) satisfies Shape<BlameView>;

export const outlined = v.array(
  v.object({
    ...{ name: text, kind: v.picklist([...kind.options, "test", "heading"]), within: texts },
    ...{ line: number, start: number, end: number },
  }),
) satisfies Shape<OutlinedView>;
