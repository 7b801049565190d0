import { programOf } from "../../../grammar/languages";

/** How files are named that hold what programs run which no grammar reads. */
const ENDINGS: Record<string, string> = {
  ...{ perl: "pl", lua: "lua", luajit: "lua", tclsh: "tcl", wish: "tcl", expect: "tcl", rscript: "r", julia: "jl" },
  ...{
    awk: "awk",
    gawk: "awk",
    mawk: "awk",
    fish: "fish",
    groovy: "groovy",
    kotlin: "kts",
    kotlinc: "kts",
    swift: "swift",
  },
  ...{ scala: "scala", elixir: "exs", crystal: "cr", dart: "dart", make: "mk" },
};

/**
 * The name by which a file is told how it is read by its look: its own, or where that has no ending one that says what program runs it, by the first line of the text.
 *
 * @example lookedAs("bin/berths", ["#!/usr/bin/perl -w"]) // "bin/berths.pl"
 */
export function lookedAs(path: string, lines: readonly string[]): string {
  if (/\.\w+$/.test(path)) return path;
  const ending = ENDINGS[programOf(lines[0] ?? "") ?? ""];
  return ending === undefined ? path : `${path}.${ending}`;
}
