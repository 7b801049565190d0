import { meant, sharedFolders } from "@/core/definitions/meant";
import { mentionsIn } from "@/core/definitions/mentions";
import { addTo } from "@/core/plain/grouped";
import type { Side } from "@/core/quiet/classes";
import type { NamedPlace, NamedView } from "@/core/views/around-view";
import { type Hit, linesWith } from "@/git/grep";
import { filesIn } from "@/git/repository";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { readingOf } from "../reading/reading";
import type { ReadStates } from "../reading/states";

/** Where a name is asked about. */
export interface AskedName {
  name: string;
  side: Side;
  path: string;
  /** 1-based. */
  line: number;
  /** What the name is a part of there. */
  of: string | null;
}

/** So many lines are looked at, and so many files read whole: those that seem to define the name, and the nearest. */
const MOST_LINES = 3_000;
const MOST_FILES = 40;
/** So many definitions are told of, and so many places. */
const MOST_DEFINITIONS = 20;
const MOST_PLACES = 500;
const LONGEST = 240;

/** Where a name is defined and used, in all files of one of two states: git finds the lines, the grammars say what stands on them. */
export async function lookUp(
  app: AppContext,
  folder: string,
  points: ReadStates,
  { name, side, path, line, of }: AskedName,
  signal: AbortSignal,
): Promise<NamedView> {
  const commit = side === "old" ? points.from : points.to;
  const [{ hits, more }, ids, changed] = await Promise.all([
    linesWith(folder, commit, [name], { most: MOST_LINES, signal }),
    idsAt(app, folder, commit),
    changedLines(app, folder, points, side),
  ]);
  const hitsIn = new Map<string, Hit[]>([[path, []]]);
  for (const hit of hits) addTo(hitsIn, hit.path, hit);
  const near = byNearness(path, [...hitsIn.keys()]);
  // What seems to define the name is read before what is near, or it might not be read at all.
  const likely = new Set(
    near.filter((one) => one === path || hitsIn.get(one)!.some(({ text }) => looksDefined(text, name))),
  );
  const paths = [...likely, ...near.filter((one) => !likely.has(one))];
  const files = paths.slice(0, MOST_FILES).flatMap((one) => {
    const id = ids.get(one);
    return id ? [{ path: one, id }] : [];
  });
  const found = await app.workers.mentions({ folder, name, files, asking: { path, of } }, signal);
  // Of files that are not read whole it is known which lines have the name, and no more.
  const unread = paths.slice(MOST_FILES).map((one) => ({
    path: one,
    places: hitsIn.get(one)!.flatMap((hit) => placesOf(hit, name)),
  }));
  const definitions = found.files.flatMap((file) =>
    file.definitions.map((definition) => ({ ...definition, path: file.path })),
  );
  const asking = { path, line: line - 1, member: of !== null, imports: found.imports };
  const told = meant(asking, definitions);
  const isDefined = new Set(told.map(({ definition }) => `${definition.path} ${definition.line} ${definition.column}`));
  let count = 0;
  let left = MOST_PLACES;
  const placesIn = new Map([...found.files, ...unread].map((file) => [file.path, file]));
  const uses = near
    .flatMap((one) => placesIn.get(one) ?? [])
    .flatMap((file) => {
      const places = file.places.filter((place) => !isDefined.has(`${file.path} ${place.line} ${place.column}`));
      count += places.length;
      const shown = places.slice(0, left).map(
        (place): NamedPlace => ({
          line: place.line + 1,
          column: place.column + 1,
          text: place.text,
          kind: place.kind,
          changed: changed(file.path, place.line),
        }),
      );
      left -= shown.length;
      return shown.length > 0 ? [{ path: file.path, places: shown }] : [];
    });
  return {
    name,
    uses,
    count,
    more: more || found.more || count > MOST_PLACES || told.length > MOST_DEFINITIONS,
    definitions: told.slice(0, MOST_DEFINITIONS).map(({ definition, reason }) => {
      const { path: at, end, kind, within, text } = definition;
      const [on, column, first] = [definition.line + 1, definition.column + 1, definition.first + 1];
      return { path: at, line: on, end, column, kind, within, reason, first, text };
    }),
  };
}

/** The places of a name in a line of a file that is not read. */
function placesOf({ line, text }: Hit, name: string) {
  const kind = COMMENT_LINE.test(text) ? ("comment" as const) : ("code" as const);
  return mentionsIn([text], name, null).map((place) => ({
    ...place,
    kind,
    line: line - 1,
    text: text.slice(0, LONGEST),
  }));
}

const COMMENT_LINE = /^\s*(?:\/\/|\/?\*|#(?!\w)|--)/;
const BEFORE =
  /(?:^|[\s(])(?:function\*?|class|def|func|fn|interface|type|struct|enum|union|trait|const|let|var|val|static|mod|module|namespace|#define)\s+(?:\([^)]*\)\s*)?$/;

/** Whether a line seems to define a name: told by the word before it, or by standing first with what follows a head. */
function looksDefined(text: string, name: string): boolean {
  const at = text.indexOf(name);
  if (BEFORE.test(text.slice(Math.max(0, at - 80), at))) return true;
  const behind = text.slice(at + name.length, at + name.length + 3);
  return text.slice(0, at).trim() === "" && /^(?:\(|\s?[:=](?!=))/.test(behind) && /[{:=]\s*$/.test(text.slice(0, 400));
}

const TREES_OF_NAMES = shelf<ReadonlyMap<string, string>>("trees of names", 4);

/** The blobs of all files of a commit by their paths. */
async function idsAt(app: AppContext, folder: string, commit: string): Promise<ReadonlyMap<string, string>> {
  const trees = TREES_OF_NAMES(app);
  return trees.get(`${folder}\0${commit}`, async () => {
    const files = await filesIn(folder, commit);
    return new Map(files.map((file) => [file.path, file.id]));
  });
}

/** Tells of a line, 0-based, whether it is one of those that differ between two states. */
async function changedLines(
  app: AppContext,
  folder: string,
  points: ReadStates,
  side: Side,
): Promise<(path: string, line: number) => boolean> {
  const { files } = await readingOf(app, folder, points);
  const byPath = new Map(files.map((file) => [side === "old" ? (file.oldPath ?? file.path) : file.path, file]));
  return (path, line) =>
    byPath.get(path)?.runs.some((run) => run.side === side && run.start <= line && line < run.end) ?? false;
}

/** Files by how near they are to one: itself first, then by the folders that they share with it, and the higher ones first. */
function byNearness(to: string, paths: readonly string[]): string[] {
  const ranks = new Map(
    paths.map((path) => [
      path,
      path === to ? Number.POSITIVE_INFINITY : 100 * sharedFolders(to, path) - path.split("/").length,
    ]),
  );
  return [...paths].sort((a, b) => ranks.get(b)! - ranks.get(a)!);
}
