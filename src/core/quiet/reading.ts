import type { Caution } from "../cautions/caution";
import { cautionsOf } from "../cautions/cautions";
import { movedCode } from "../cautions/moved-code";
import { switchedLines } from "../cautions/unchanged/switched";
import type { Comparison } from "../diff/compare";
import { readingOrder } from "../diff/order";
import type { PairedChange } from "../diff/tree";
import type { Parse } from "../grammar/parse";
import { alikeChanges } from "./alike";
import { ClassedFile } from "./classes";
import { addedTwice, factsOf } from "./facts";
import { classBlank, hasBlank } from "./kinds/blank";
import { classEchoes } from "./kinds/echo/echoes";
import { classEndings } from "./kinds/endings";
import { classGenerated, type Generated, generatedBy } from "./kinds/generated";
import { classImports } from "./kinds/imports";
import { classLayout } from "./kinds/layout";
import { type LayoutStretch, layoutStretches } from "./kinds/layout-stretches";
import { classLockfile, type LockSummary } from "./kinds/lock/lockfile";
import { classMoves } from "./kinds/moved";
import { classNested } from "./kinds/nested";
import type { ProvenLines } from "./kinds/proven-lines";
import { classReplacements, guessReplacements } from "./kinds/repeated";
import { namesLeft } from "./leaving/names-left";
import { quietEnds } from "./leaving/quiet-ends";
import { renameFacts } from "./rename-facts";
import { type Survey, surveyOf } from "./survey";
import { type FileFindings, type Reading, wholeReading } from "./whole-reading";

/** What the reading needs of one file: what happened to it, how its two states differ, and their lines. */
export interface ReadFile {
  change: PairedChange;
  /** Null for what is too large to be compared. */
  comparison: Comparison | null;
  old: readonly string[];
  next: readonly string[];
  /** What the git attribute `lens-generated` says of it, in the target's tree. */
  attribute: boolean | null;
  /** What it says by itself, where that was found out already. */
  survey?: Survey;
}

/** A file with what can be told of it by itself and without its grammar. */
interface Begun {
  file: ClassedFile;
  generated: Generated | null;
  lock: LockSummary | null;
  /** What is worth a proof of layout; none where all of the file is told another way. */
  stretches: LayoutStretch[];
}

function begin({ change, comparison, old, next, attribute }: ReadFile, parse: Parse): Begun {
  const { path, oldPath, copy } = change;
  const file = new ClassedFile(path, old, next, comparison?.hunks ?? [], parse, oldPath ?? path, copy);
  const generated = comparison && !comparison.binary ? generatedBy(file, attribute) : null;
  const lock = classLockfile(file);
  if (generated) classGenerated(file, generated);
  if (generated?.lines === "all" || lock) return { file, generated, lock, stretches: [] };
  classEndings(file);
  return { file, generated, lock, stretches: layoutStretches(file) };
}

/**
 * Puts every changed line into exactly one class, and the files into the order in which they are best read. `parse` reads texts by their
 * grammars; without it only what needs no grammar is quiet.
 */
export function makeReading(files: readonly ReadFile[], parse: Parse = () => null): Reading {
  const surveys = files.map(
    ({ survey, change, old, next, comparison }) => survey ?? surveyOf(change.path, old, next, comparison),
  );
  const begun = files.map((file) => begin(file, parse));
  const laid = begun.filter(({ stretches }) => stretches.length > 0);
  parse.ahead?.(laid.map(({ file }) => file.unread("old", "new")));
  const order = readingOrder(files.map(({ change }, i) => ({ path: change.path, names: surveys[i].names })));
  const ordered = order.map((i) => files[i]);
  const classed = order.map((i) => begun[i].file);
  const reasons = order.map((i) => begun[i].generated);
  const locks = order.map((i) => begun[i].lock);
  const guesses = guessReplacements(
    classed,
    ordered.map(({ comparison }) => comparison?.pairs ?? []),
  );
  parse.ahead?.([...new Set(guesses.map(({ file }) => file))].map((file) => classed[file].unread("old", "new")));
  const proven = new Map<ClassedFile, ProvenLines>();
  for (const { file, stretches, generated, lock } of begun) {
    if (generated?.lines === "all" || lock) continue;
    proven.set(file, classLayout(file, stretches));
    classImports(file);
  }
  const { moves, leavings } = classMoves(classed, parse.ahead);
  const replacements = classReplacements(classed, guesses, parse.ahead);
  // Some of it will be an echo: whoever reads ahead is free anyway, and is told when it is not wanted.
  parse.ahead?.(classed.filter(hasBlank).map((file) => file.unread("old", "new")));
  const { echoes, twice } = classEchoes(
    classed,
    (i) => reasons[i] !== null || locks[i] !== null || ordered[i].comparison === null,
  );
  const ends = quietEnds(classed, leavings.transfers);
  const left = namesLeft(classed, leavings.departures);
  const switched = classed.map((file, i) => {
    const lines = proven.get(file);
    if (lines) classNested(file, lines);
    classBlank(file);
    const cautions = reasons[i] || locks[i] ? [] : switchedLines(file);
    file.release();
    return cautions;
  });
  const alike = alikeChanges(classed);
  const renames = renameFacts(ordered);
  const found = ordered.map(({ change, comparison, attribute }, i): FileFindings => {
    const first = twice.get(i);
    const same = first === undefined ? [] : [addedTwice(ordered[first].change.path)];
    const renamed = renames.get(i);
    const facts = attribute === true ? [] : [...factsOf(change, comparison), ...same, ...(renamed ? [renamed] : [])];
    return {
      binary: comparison?.binary ?? false,
      generated: reasons[i]?.reason ?? null,
      runs: classed[i].runs(),
      facts,
      cautions: [
        ...cautionsOf(classed[i], change, surveys[order[i]].cautions, locks[i], attribute),
        ...notToldYet(switched[i], surveys[order[i]].cautions),
        ...movedCode(ends.get(i) ?? [], left.get(i) ?? [], (file) => classed[file].path),
      ],
      lock: locks[i],
      ...change,
    };
  });
  return wholeReading({ files: found, moves, replacements, echoes, alike });
}

function notToldYet(cautions: readonly Caution[], told: readonly Caution[]): Caution[] {
  return cautions.filter(({ says, line }) => !told.some((one) => one.says === says && one.line === line));
}
