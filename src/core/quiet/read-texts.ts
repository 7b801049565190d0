import { compareFiles } from "../diff/compare";
import { readText } from "../diff/text";
import type { Parse } from "../grammar/parse";
import type { CaseFile } from "./foolable/case";
import { makeReading } from "./reading";
import type { Reading } from "./whole-reading";

/** The reading of some files given as texts, for tests. */
export function readTexts(files: Record<string, CaseFile>, parse: Parse): Reading {
  const encoder = new TextEncoder();
  const bytes = (text: string | null) => (text === null ? null : encoder.encode(text));
  return makeReading(
    Object.entries(files).map(([path, { old, next, oldMode, newMode, generated, twin }]) => ({
      change: {
        path,
        twin,
        oldId: old === null ? null : `o${path}`,
        newId: next === null ? null : old === next ? `o${path}` : `n${path}`,
        oldMode: old === null ? 0 : (oldMode ?? 0o100644),
        newMode: next === null ? 0 : (newMode ?? 0o100644),
        oldPath: null,
        copy: false,
        similarity: null,
      },
      comparison: compareFiles(bytes(old), bytes(next)),
      old: old === null ? [] : readText(encoder.encode(old)).lines,
      next: next === null ? [] : readText(encoder.encode(next)).lines,
      attribute: generated ?? null,
    })),
    parse,
  );
}
