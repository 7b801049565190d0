import { ENGINE } from "../../diff/compare";
import type { LineClass } from "../classes";
import { PACKING } from "../packed";

/** A kind of quiet: what it is called, and what proves it of a line. */
export interface Kind {
  /** Raise it when the same two files would be classed otherwise. Readings kept from before are then made anew. */
  version: number;
  name: string;
  /** What has to hold, in a sentence or two for whoever reads. */
  proof: string;
}

export type QuietClass = Exclude<LineClass, "read">;

/** Every kind of quiet with its proof: the same words in the interface and in docs/quiet.md. */
export const KINDS: Record<QuietClass, Kind> = {
  moved: {
    version: 14,
    name: "Moved",
    proof:
      "The same lines, with one common change of indentation, were really removed at the other end. Both files parse, the lines are made of the same kinds of tokens at both ends, no end lies in a comment, a text or where nothing is reached, and what stays in the same named block is a whole definition that went past nothing but what it can change places with in its language. What goes to another block keeps its order, and meets no other of its name.",
  },
  repeated: {
    version: 6,
    name: "Repeated",
    proof:
      "Both states parse, and the tokens of the line are the same save that each name was replaced by one other, everywhere on the line; the same on three lines or more. No operators, numbers, keywords or texts, no two names that change places or become one, none that look alike. The new name did not stand there before, and the old one stands there no more: in the function that declares it, else in the whole file.",
  },
  layout: {
    version: 8,
    name: "Layout",
    proof:
      "Both states parse, and the stretch has the same tokens, byte for byte, in the same structure, inside the same enclosing structure. Only white space between tokens differs, where the language lets it, or before the stars of a comment.",
  },
  style: {
    version: 1,
    name: "Style",
    proof:
      "Both states parse, and the stretch says the same save for signs that say nothing where they stand: which quotes are around a plain text, a comma behind the last of several, a semicolon where the line ends it, brackets or a block around what is one without them. All else is the same, byte for byte, in the same structure.",
  },
  nested: {
    version: 6,
    name: "Nested",
    proof:
      "Both states parse, and the same whole statements stand in the same function in the same order, in other blocks of it. Those blocks only decide whether they run, name nothing and end no loop, and all that makes them or made them is to be read, on either side. Nothing that the statements name for their block is meant outside of them, and they mean nothing that such a block names unseen.",
  },
  blank: {
    version: 4,
    name: "Blank",
    proof:
      "The text parses, and the line lies between two of its tokens with nothing but spaces and tabs on it: never in a text, a comment, or at the head of a file, and never where the file came or went whole.",
  },
  endings: {
    version: 2,
    name: "Line endings",
    proof:
      "The line is the same but for its ending, and the format reads both endings alike there: never in a shell script, behind a first line #!, or in a text that would keep it.",
  },
  imports: {
    version: 4,
    name: "Imports",
    proof:
      "The same plain import, word for word, stands elsewhere in the same unbroken block at the top of the file, between the same neighbours, in a language in which a name is bound alike wherever its import stands. None that is imported for what it does when loaded.",
  },
  echo: {
    version: 4,
    name: "Echo",
    proof:
      "A stretch in another file of the same name, or elsewhere in this one, is changed in the same way and is to be read: the same lines before and after, byte for byte, with the same three lines around them, the same heads of all that encloses them, and the same marks and conditions above those. Or the same but for names that differ as the paths of the files do. Reading that one is reading this one.",
  },
  generated: {
    version: 4,
    name: "Generated",
    proof:
      "The target’s own .gitattributes says so; or the file was made of very long lines before and after, and this line is one of them; or it belongs to a lockfile entry whose change is told whole in the summary above.",
  },
};

const KIND_VERSIONS = Object.values(KINDS).reduce((sum, { version }) => sum + version, 0);

/** Names the engine in kept readings: changes with the comparison, with every kind, and with how they are packed. */
export const READING_ENGINE = ENGINE * 1000 + PACKING * 100 + KIND_VERSIONS;
