import * as v from "valibot";
import { searchRequest } from "../../views/api";
import * as around from "./around-shapes";
import type { Endpoints } from "./endpoint";
import * as shape from "./shapes";

const point = v.optional(v.pipe(v.string(), v.maxLength(300)));
/** Two points of a change set: `base`, `r1` …, `read`, `at:COMMIT`, `live:NAME`. Left out: all of the newest revision. */
const points = { from: point, to: point };
const lineNumber = v.pipe(v.string(), v.regex(/^[1-9]\d{0,8}$/, "A line is a number from 1."));
const path = v.pipe(v.string(), v.maxLength(4_096));

/** What differs between two points of a change set, and what is told of it. */
export const readingEndpoints = {
  "GET /api/repos/{repo}/changes/{number}/reading": {
    who: "signed-in",
    does: "The files that differ between two points of a change set; with `whole`, only when all of it has been compared; with `path`, that file alone; with `brief`, the ids of contents are left empty where there are hundreds of files, save of the first that are left to read: they are told with `path`, and those of as many files that follow it in the list with `next`.",
    query: v.object({
      ...points,
      whole: v.optional(v.string()),
      brief: v.optional(v.string()),
      path: v.optional(path),
      next: v.optional(v.pipe(v.string(), v.regex(/^[1-9]\d?$/, "As many as 99 files that follow are told with one."))),
    }),
    answer: v.object({
      ...{ from: v.string(), to: v.string(), files: v.array(shape.readingFile), complete: v.boolean() },
      ...{ conflicts: v.array(v.string()), leftOut: v.nullable(v.number()), merged: v.number() },
    }),
  },
  "GET /api/repos/{repo}/changes/{number}/counts": {
    who: "signed-in",
    does: "How the comparison goes on, until the whole is done.",
    query: v.object(points),
    answer: { type: "application/x-ndjson", holds: "JSON lines: files by path, with their added and removed lines." },
  },
  "GET /api/repos/{repo}/changes/{number}/classes": {
    who: "signed-in",
    does: "Which lines of one file are quiet, and why.",
    query: v.object({ ...points, path }),
    answer: shape.classes,
  },
  "GET /api/repos/{repo}/changes/{number}/origins": {
    who: "signed-in",
    does: "Which commits touched the changed lines of one file.",
    query: v.object({ ...points, path }),
    answer: shape.origins,
  },
  "GET /api/repos/{repo}/changes/{number}/search": {
    who: "signed-in",
    does: "Where words stand in the changed lines, in the whole of the changed files, or in all files of the later state.",
    query: v.object({ ...points, ...searchRequest.entries }),
    answer: {
      type: "application/x-ndjson",
      holds: "JSON lines: lists of places as they are found, and last how it ended; or the refusal where it broke off.",
    },
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/progress": {
    who: "signed-in",
    does: "How far each person has come with the newest revision, in lines to read, by their ids.",
    answer: v.record(v.string(), v.object({ read: v.number(), total: v.number() })),
  },
  "GET /api/repos/{repo}/changes/{number}/sizes": {
    who: "signed-in",
    does: "How much of the author’s work each revision changed, by their order.",
    answer: v.array(v.object({ files: v.number(), added: v.number(), removed: v.number(), toRead: v.number() })),
  },
  "GET /api/repos/{repo}/changes/{number}/commits": {
    who: "signed-in",
    does: "The commits of a revision, the newest first.",
    query: v.object({ revision: v.string() }),
    answer: v.array(shape.commit),
  },
  "GET /api/repos/{repo}/changes/{number}/findings": {
    who: "signed-in",
    does: "What the checks of the newest revision found.",
    answer: v.array(shape.findings),
  },
  "GET /api/repos/{repo}/changes/{number}/logs": {
    who: "signed-in",
    does: "How far the checks of the newest revision are, and what each wrote last.",
    answer: v.array(shape.log),
  },
  "GET /api/repos/{repo}/changes/{number}/log": {
    who: "signed-in",
    does: "The end of what a check of the newest revision wrote, as an account told it; nothing where there is none.",
    query: v.object({ check: v.pipe(v.string(), v.maxLength(100)), by: v.pipe(v.string(), v.maxLength(40)) }),
    answer: v.object({ tail: v.string() }),
  },
  "GET /api/repos/{repo}/changes/{number}/names": {
    who: "signed-in",
    does: "Where a name is defined, the one that is most likely meant first, and where it is used, in all files of one of the two points.",
    query: v.object({
      ...{
        ...points,
        side: v.picklist(["old", "new"]),
        path,
        name: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
      },
      /** Where it is asked from, both counted from 1; `of` is what the name is a part of there. */
      line: lineNumber,
      of: v.optional(v.pipe(v.string(), v.maxLength(200))),
    }),
    answer: around.named,
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/left-alone": {
    who: "signed-in",
    does: "Definitions that the change makes another one, with their uses in lines that it leaves alone; new ones that nothing uses; changed ones that no test names.",
    query: v.object(points),
    answer: around.leftAlone,
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/line-history": {
    who: "signed-in",
    does: "How a line of one of the two points came to be: every commit that touched it, through renames and edits, the newest first, with the change set in which it was agreed.",
    query: v.object({ ...points, side: v.picklist(["old", "new"]), path, line: lineNumber }),
    answer: around.lineHistory,
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/file-history": {
    who: "signed-in",
    does: "The commits that touched a file until one of the two points, through its renames, the newest first, each with the change set in which it was agreed.",
    query: v.object({ ...points, side: v.picklist(["old", "new"]), path }),
    answer: around.fileHistory,
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/blame": {
    who: "signed-in",
    does: "By which commits the lines of a file came, at one of the two points.",
    query: v.object({ ...points, side: v.picklist(["old", "new"]), path }),
    answer: around.blame,
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/files": {
    who: "signed-in",
    does: "The contents of two sides compared, with their text. Either may be left out, for a file that was added or deleted.",
    query: v.object({
      ...{ old: v.optional(v.string()), new: v.optional(v.string()) },
      /** Nothing is made of it: the answer to the same contents is kept by browsers for ever, until this is another. */
      engine: v.optional(v.string()),
    }),
    answer: shape.fileView,
  },
  "GET /api/repos/{repo}/colours": {
    who: "signed-in",
    does: "The syntax colours of two sides by their blobs, in the language that the path tells. Either may be left out; of two of which one cannot be had the other is told alone.",
    query: v.object({ old: v.optional(v.string()), new: v.optional(v.string()), path: v.optional(path, "") }),
    answer: shape.colours,
  },
  "GET /api/repos/{repo}/definitions": {
    who: "signed-in",
    does: "What a blob is made of, in order, in the language that its path tells (definitions, tests, headings): nothing where that is not known.",
    query: v.object({ id: v.string(), path: v.optional(path, "") }),
    answer: around.outlined,
  },
  "GET /api/repos/{repo}/tree": {
    who: "signed-in",
    does: "The paths of all files of a commit, with their blobs.",
    query: v.object({ at: v.string() }),
    answer: v.array(v.object({ path: v.string(), id: v.string(), mode: v.number() })),
  },
  "GET /api/repos/{repo}/image": {
    who: "signed-in",
    does: "An image of a repository, by the id of its object.",
    query: v.object({ id: v.string() }),
    answer: { type: "image/*", holds: "The image. Its type comes from its bytes." },
  },
} satisfies Endpoints;
