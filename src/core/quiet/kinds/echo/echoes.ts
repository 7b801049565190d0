import type { ClassedFile } from "../../classes";
import type { Lines } from "../../stretch/range";
import { groupsOf } from "../groups";
import { classAddedTwice } from "./added-twice";
import { classEchoLines } from "./echo-lines";
import { around, type Echo, headsOf, type Stretch, sameHeads, stretchesOf, textOf } from "./echo-stretch";
import { namesBetween, outlineOf, shapeOf } from "./named-echo";

/** So many lines of its surroundings have to say something: a few brackets are the same everywhere. */
const LEAST_SAYING = 3;
const SAYING = /[\p{L}\p{N}_]{2}/u;

/**
 * Classes changed stretches that are the same as one that is to be read: in a file of the same name and language, the same lines before and
 * after, byte for byte, in the same surroundings (three unchanged lines on either side, or to the end of the file) and under the same heads
 * of all that encloses them, with what marks those; or the same but for names that go with the names of the files, see {@link namesBetween}. The first of them in reading order stands for all,
 * sources before what is made of them or tries them. Lines that are quiet where it stands are not proven here.
 * `skipped` says of a file that it takes no part: it is generated, say, so that nothing in it is read. `twice` are new files that are the
 * same as another new one, see {@link classAddedTwice}.
 */
export function classEchoes(
  files: readonly ClassedFile[],
  skipped: (file: number) => boolean,
): { echoes: Echo[]; twice: Map<number, number> } {
  const echoes: Echo[] = [];
  const order = bestFirst(files).filter((at) => !skipped(at) && !files[at].copy);
  // What is added to a project is read where it comes in, see below.
  const changed = order.filter((at) => files[at].old.length > 0);
  const stretches = changed.flatMap((at) => stretchesOf(at, files[at]));
  const stems = files.map(({ path }) => stemOf(path));
  const likely = groupsOf(
    stretches,
    (stretch) => `${stems[stretch.file]}\0${sample(files[stretch.file], stretch)}`,
    (stretch) => fingerprint(files[stretch.file], stretch),
  );
  for (const group of likely) classSame(files, group, echoes);
  classNamedEchoes(files, stretches, echoes);
  const kinOf = (at: number) => `${stems[at]} ${endingOf(files[at].path)} ${files[at].language?.id}`;
  classEchoLines(files, changed, kinOf, echoes);
  return { echoes, twice: classAddedTwice(files, order, kinOf, echoes) };
}

/** Of stretches that are likely to be the same, the first one that is, stands for each. */
function classSame(files: readonly ClassedFile[], group: readonly Stretch[], echoes: Echo[]): void {
  const heads: { stretch: Stretch; ref: number }[] = [];
  for (const stretch of group) {
    if (!isSaying(files[stretch.file], stretch)) continue;
    const head = heads.find((one) => isSame(files, one.stretch, stretch));
    if (!head) {
      heads.push({ stretch, ref: -1 });
      continue;
    }
    if (head.ref < 0) {
      head.ref = echoes.length;
      const { file: first, old, next } = head.stretch;
      echoes.push({ file: first, old, next, times: 0, names: [] });
    }
    if (fold(files, head.stretch, stretch, head.ref)) echoes[head.ref].times++;
  }
}

/** With so many stretches of one shape that are none of each other's echoes, further ones are compared with these alone. */
const MOST_HEADS = 3;

/** The same for stretches that are equal but for names: {@link namesBetween} proves it. */
function classNamedEchoes(files: readonly ClassedFile[], stretches: readonly Stretch[], echoes: Echo[]): void {
  const shapes = groupsOf(
    stretches.filter((one) => files[one.file].language?.identifiers && isOpen(files[one.file], one)),
    (stretch) => outlineOf(files[stretch.file], stretch),
    (stretch) => `${endingOf(files[stretch.file].path)}\0${shapeOf(files[stretch.file], stretch)}`,
  );
  const nameOf = ({ file, old, next }: Pick<Stretch, "file" | "old" | "next">) => `${file} ${old.start} ${next.start}`;
  /** The echo that each stretch stands for already, and those made here, by what they stand for and their names. */
  const refs = new Map(echoes.map((echo, ref) => [nameOf(echo), ref]));
  for (const same of shapes) {
    const heads: Stretch[] = [];
    for (const stretch of same) {
      if (!isSaying(files[stretch.file], stretch)) continue;
      const isEcho = heads.some((head) => {
        const names = namesBetween(files[head.file], head, files[stretch.file], stretch);
        if (!names) return false;
        const name = `${nameOf(head)} ${JSON.stringify(names)}`;
        const ref = refs.get(name) ?? echoes.length;
        const { file, old, next } = head;
        if (ref === echoes.length) echoes.push({ file, old, next, times: 0, names });
        refs.set(name, ref);
        fold(files, head, stretch, ref);
        echoes[ref].times++;
        // What was an echo of this one is one of the other now: its text is the same.
        const own = refs.get(nameOf(stretch));
        if (own !== undefined) echoes[own] = { ...echoes[own], file, old, next, names };
        return true;
      });
      if (!isEcho && heads.length < MOST_HEADS) heads.push(stretch);
    }
  }
}

/** Whether all of a stretch's own lines wait for a class. */
function isOpen(file: ClassedFile, { hunks }: Stretch): boolean {
  for (const hunk of hunks) {
    for (let i = hunk.oldStart; i < hunk.oldEnd; i++) if (!file.isOpen("old", i)) return false;
    for (let j = hunk.newStart; j < hunk.newEnd; j++) if (!file.isOpen("new", j)) return false;
  }
  return true;
}

/** Folders of what is made of sources, or tries, shows or copies them: a change is read where it does most. */
const LESSER =
  /(?:^|\/)(?:__tests__|build|dist|docs?|examples?|fixtures?|generated|lib|mocks?|out|samples?|snapshots?|spec|testdata|tests?|third_party|vendor)\//i;

/** The files by their places, sources first; within each in reading order. */
function bestFirst(files: readonly ClassedFile[]): number[] {
  const all = files.map((_, at) => at);
  const lesser = (at: number) => LESSER.test(files[at].path);
  return [...all.filter((at) => !lesser(at)), ...all.filter(lesser)];
}

/** Folds what is to be read in the echo and in what it is an echo of; tells whether there was anything. */
function fold(files: readonly ClassedFile[], head: Stretch, echo: Stretch, ref: number): boolean {
  let some = false;
  for (const side of ["old", "new"] as const) {
    const [from, to] = side === "old" ? [head.old, echo.old] : [head.next, echo.next];
    for (let n = 0; n < to.end - to.start; n++) {
      if (!files[head.file].isOpen(side, from.start + n) || !files[echo.file].isOpen(side, to.start + n)) continue;
      files[echo.file].set(side, to.start + n, "echo", ref);
      some = true;
    }
  }
  return some;
}

/** Whether the surroundings tell one place from another. */
function isSaying(file: ClassedFile, { next }: Stretch): boolean {
  const { start, end } = around(next, file.next);
  let saying = 0;
  for (let line = start; line < end; line++) {
    if (line >= next.start && line < next.end) continue;
    if (SAYING.test(file.next[line])) saying++;
  }
  // A whole file that changed into another, or went, needs nothing around it.
  return saying >= LEAST_SAYING || (start === 0 && end === file.next.length);
}

/** A sample of a stretch: most that differ have another one. */
function sample({ old, next }: ClassedFile, stretch: Stretch): string {
  const first = old[stretch.old.start] ?? "";
  const came = next[stretch.next.start] ?? "";
  const last = next[stretch.next.end - 1] ?? "";
  return `${stretch.old.end - stretch.old.start} ${stretch.next.end - stretch.next.start} ${first.length} ${came.length} ${last.length}`;
}

/** The text of a stretch with what surrounds it, and how long either side of it is. */
function fingerprint(file: ClassedFile, stretch: Stretch): string {
  const { old, next } = stretch;
  return `${old.end - old.start} ${next.end - next.start} ${textOf(file, stretch)}`;
}

function isSame(files: readonly ClassedFile[], a: Stretch, b: Stretch): boolean {
  const [first, second] = [files[a.file], files[b.file]];
  if (first.language !== second.language || endingOf(first.path) !== endingOf(second.path)) return false;
  return (["old", "new"] as const).every((side) => {
    const [x, y] = side === "old" ? [a.old, b.old] : [a.next, b.next];
    return (
      sameLines(first.lines(side), x, second.lines(side), y) &&
      // The same change in another function is another change.
      sameHeads(first.lines(side), headsOf(first, a)[side], second.lines(side), headsOf(second, b)[side])
    );
  });
}

function sameLines(one: readonly string[], a: Lines, other: readonly string[], b: Lines): boolean {
  const [x, y] = [around(a, one), around(b, other)];
  // As far from the beginning of what surrounds it, and from its end: where one ends with the file, so does the other.
  if (a.start - x.start !== b.start - y.start || x.end - a.end !== y.end - b.end) return false;
  if (x.end - x.start !== y.end - y.start) return false;
  for (let n = 0; n < x.end - x.start; n++) if (one[x.start + n] !== other[y.start + n]) return false;
  return true;
}

/** What a file is called without folders and endings: two builds of one source share it. */
function stemOf(path: string): string {
  const name = path.slice(path.lastIndexOf("/") + 1);
  const dot = name.indexOf(".", 1);
  return dot < 0 ? name : name.slice(0, dot);
}

/** Script that is built for two kinds of modules has two endings and one meaning here; all else has to have the same. */
function endingOf(path: string): string {
  const name = path.slice(path.lastIndexOf("/") + 1);
  const dot = name.lastIndexOf(".");
  return dot <= 0 ? "" : name.slice(dot).replace(/^\.[cm]([jt]s)$/, ".$1");
}
