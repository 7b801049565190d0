import type { Hunk } from "./hunk";
import { type LinePair, pairLines } from "./line-pairs";
import { diffTexts } from "./lines";
import { type Encoding, isBinary, isNearlyText, readText, type Text } from "./text";

/** Names this engine in kept results. Raise it when an answer to the same two files would come out different. */
export const ENGINE = 5;

/** How two states of one file differ, without their text: small enough to keep, and enough to show with the text at hand. */
export interface Comparison {
  binary: boolean;
  /** Taken for no text because of a few NUL, and text otherwise: worth opening as text. */
  nearlyText: boolean;
  /** Sizes in bytes; 0 where the file is not there. */
  oldSize: number;
  newSize: number;
  oldLines: number;
  newLines: number;
  hunks: Hunk[];
  pairs: LinePair[];
  /** Changed lines, counted as everyone counts them. */
  added: number;
  removed: number;
  oldEncoding: Encoding | null;
  newEncoding: Encoding | null;
  oldMissingNewline: boolean;
  newMissingNewline: boolean;
}

/** Compares two states of a file, given as bytes; null for a state in which there is no such file. `asText`: whatever they hold. */
export function compareFiles(old: Uint8Array | null, next: Uint8Array | null, asText = false): Comparison {
  return compareWithText(old, next, asText).comparison;
}

/** The same, with the two texts at hand: empty ones for what is binary or not there. `read` is asked for the text of bytes. */
export function compareWithText(
  old: Uint8Array | null,
  next: Uint8Array | null,
  asText = false,
  read: (bytes: Uint8Array) => Text = readText,
): { comparison: Comparison; left: Text; right: Text } {
  const binary = !asText && ((old && isBinary(old)) || (next && isBinary(next)) || false);
  const left = read(old && !binary ? old : NOTHING);
  const right = read(next && !binary ? next : NOTHING);
  return { comparison: compare(old, next, left, right, binary), left, right };
}

const NOTHING = new Uint8Array(0);

function compare(
  old: Uint8Array | null,
  next: Uint8Array | null,
  left: Text,
  right: Text,
  binary: boolean,
): Comparison {
  const [oldSize, newSize] = [old?.length ?? 0, next?.length ?? 0];
  if (binary) {
    return {
      oldSize,
      newSize,
      binary: true,
      nearlyText: [old, next].every((bytes) => bytes === null || isNearlyText(bytes)),
      oldLines: 0,
      newLines: 0,
      hunks: [],
      pairs: [],
      added: 0,
      removed: 0,
      oldEncoding: null,
      newEncoding: null,
      oldMissingNewline: false,
      newMissingNewline: false,
    };
  }
  const hunks = diffTexts(left, right);
  return {
    oldSize,
    newSize,
    binary: false,
    nearlyText: false,
    oldLines: left.lines.length,
    newLines: right.lines.length,
    hunks,
    pairs: hunks.flatMap((hunk) => pairLines(left.lines, right.lines, hunk)),
    added: hunks.reduce((sum, hunk) => sum + hunk.newEnd - hunk.newStart, 0),
    removed: hunks.reduce((sum, hunk) => sum + hunk.oldEnd - hunk.oldStart, 0),
    oldEncoding: old ? left.encoding : null,
    newEncoding: next ? right.encoding : null,
    oldMissingNewline: left.missingFinalNewline,
    newMissingNewline: right.missingFinalNewline,
  };
}
