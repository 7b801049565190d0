import { diffTexts } from "./lines";
import { splitLines } from "./text";
import { type PairedChange, SUBMODULE } from "./tree";

/** The format of git-diff(1): a unified diff with extended headers, binary as `git diff --binary` carries it. */

export interface PatchFile {
  change: PairedChange;
  /** The bytes of either state; null where there is none, and for a pointer into another repository. */
  old: Uint8Array | null;
  next: Uint8Array | null;
}

/** What core cannot do itself: zlib's deflate, as RFC 1950 has it. */
export type Deflate = (bytes: Uint8Array) => Uint8Array;

const CONTEXT = 3;
const NO_NEWLINE = "\\ No newline at end of file\n";
const TYPE = 0o170000;

/**
 * One file's part of a patch, one character for each byte (Latin-1), so that every encoding goes through unchanged. Given to `git apply`
 * on the old tree, all parts together make exactly the new one.
 */
export function formatPatch(file: PatchFile, deflate: Deflate): string {
  const { change } = file;
  const { oldMode, newMode } = change;
  // A file that became a link, or the like, is one file gone and another come.
  if (oldMode !== 0 && newMode !== 0 && (oldMode & TYPE) !== (newMode & TYPE)) {
    const gone = { ...change, newMode: 0, newId: null, oldPath: null };
    const come = { ...change, oldMode: 0, oldId: null, oldPath: null };
    return (
      formatPatch({ change: gone, old: file.old, next: null }, deflate) +
      formatPatch({ change: come, old: null, next: file.next }, deflate)
    );
  }
  const oldPath = bytesOf(
    change.oldPath ?? change.path,
    change.rawOldPath ?? (change.oldPath === null ? change.rawPath : undefined),
  );
  const newPath = bytesOf(change.path, change.rawPath);
  let head = `diff --git ${quoted(`a/${oldPath}`)} ${quoted(`b/${newPath}`)}\n`;
  if (oldMode === 0) head += `new file mode ${newMode.toString(8)}\n`;
  else if (newMode === 0) head += `deleted file mode ${oldMode.toString(8)}\n`;
  else if (oldMode !== newMode) head += `old mode ${oldMode.toString(8)}\nnew mode ${newMode.toString(8)}\n`;
  if (change.oldPath !== null) {
    const what = change.copy ? "copy" : "rename";
    head += `similarity index ${Math.floor((change.similarity ?? 0) * 100)}%\n${what} from ${quoted(oldPath)}\n${what} to ${quoted(newPath)}\n`;
  }
  if (change.oldId === change.newId) return head;
  const none = "0".repeat((change.oldId ?? change.newId ?? "").length);
  head += `index ${change.oldId ?? none}..${change.newId ?? none}${oldMode === newMode ? ` ${newMode.toString(8)}` : ""}\n`;
  const old = contents(file.old, change.oldId, oldMode);
  const next = contents(file.next, change.newId, newMode);
  if (needsBinary(old) || needsBinary(next)) return head + binaryPatch(latin1Bytes(old), latin1Bytes(next), deflate);
  const body = hunks(old, next);
  if (body === "") return head;
  const nameOf = (side: string, path: string, there: boolean) =>
    there ? tabbed(quoted(`${side}/${path}`)) : "/dev/null";
  return `${head}--- ${nameOf("a", oldPath, oldMode !== 0)}\n+++ ${nameOf("b", newPath, newMode !== 0)}\n${body}`;
}

/** Files in an order in which every step can be carried out: what goes makes room for what comes. */
export function patchOrder<T extends { change: PairedChange }>(files: readonly T[]): T[] {
  return [...files].sort((a, b) => Number(b.change.newId === null) - Number(a.change.newId === null));
}

function contents(bytes: Uint8Array | null, id: string | null, mode: number): string {
  if (mode === SUBMODULE) return `Subproject commit ${id}\n`;
  return bytes ? latin1(bytes) : "";
}

function needsBinary(text: string): boolean {
  return text.includes("\0");
}

function hunks(oldText: string, newText: string): string {
  const old = { ...splitLines(oldText), encoding: "latin-1" as const };
  const next = { ...splitLines(newText), encoding: "latin-1" as const };
  const differences = diffTexts(old, next);
  let result = "";
  for (let first = 0; first < differences.length; ) {
    let last = first;
    while (last + 1 < differences.length && differences[last + 1].oldStart - differences[last].oldEnd <= 2 * CONTEXT)
      last++;
    const oldLow = Math.max(0, differences[first].oldStart - CONTEXT);
    const oldHigh = Math.min(old.lines.length, differences[last].oldEnd + CONTEXT);
    const newLow = differences[first].newStart - (differences[first].oldStart - oldLow);
    const newHigh = differences[last].newEnd + (oldHigh - differences[last].oldEnd);
    result += `@@ -${range(oldLow, oldHigh)} +${range(newLow, newHigh)} @@\n`;
    let at = oldLow;
    const line = (sign: string, text: typeof old, number: number) => {
      result += `${sign}${text.lines[number]}\n`;
      if (text.missingFinalNewline && number === text.lines.length - 1) result += NO_NEWLINE;
    };
    for (let n = first; n <= last; n++) {
      for (; at < differences[n].oldStart; at++) line(" ", old, at);
      for (; at < differences[n].oldEnd; at++) line("-", old, at);
      for (let j = differences[n].newStart; j < differences[n].newEnd; j++) line("+", next, j);
    }
    for (; at < oldHigh; at++) line(" ", old, at);
    first = last + 1;
  }
  return result;
}

/** 0-based, end exclusive, to "first,count"; an empty range names the line before it. */
function range(low: number, high: number): string {
  return high === low ? `${low},0` : `${low + 1},${high - low}`;
}

function binaryPatch(old: Uint8Array, next: Uint8Array, deflate: Deflate): string {
  return `GIT binary patch\n${literal(next, deflate)}${literal(old, deflate)}`;
}

function literal(bytes: Uint8Array, deflate: Deflate): string {
  const packed = deflate(bytes);
  let result = `literal ${bytes.length}\n`;
  for (let at = 0; at < packed.length; at += 52) {
    const part = packed.subarray(at, at + 52);
    result += `${String.fromCharCode(part.length <= 26 ? 64 + part.length : 70 + part.length)}${base85(part)}\n`;
  }
  return `${result}\n`;
}

const ALPHABET = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz!#$%&()*+-;<=>?@^_`{|}~";

/** Four bytes to five characters, the last group filled with zeros. */
function base85(bytes: Uint8Array): string {
  let result = "";
  for (let at = 0; at < bytes.length; at += 4) {
    let value = 0;
    for (let i = 0; i < 4; i++) value = value * 256 + (bytes[at + i] ?? 0);
    let group = "";
    for (let i = 0; i < 5; i++) {
      group = ALPHABET[value % 85] + group;
      value = Math.floor(value / 85);
    }
    result += group;
  }
  return result;
}

/** Paths with characters that would break the header stand in quotes, escaped as in C. */
function quoted(path: string): string {
  if (!/[\x00-\x1f\x7f-\xff"\\]/.test(path)) return path;
  const named: Record<string, string> = { "\n": "\\n", "\t": "\\t", "\r": "\\r", '"': '\\"', "\\": "\\\\" };
  const escaped = path.replace(
    /[\x00-\x1f\x7f-\xff"\\]/g,
    (c) => named[c] ?? `\\${c.charCodeAt(0).toString(8).padStart(3, "0")}`,
  );
  return `"${escaped}"`;
}

/** A name with a space is followed by a tab, so that it can be told where it ends. */
function tabbed(name: string): string {
  return name.includes(" ") && !name.startsWith('"') ? `${name}\t` : name;
}

function bytesOf(path: string, raw: string | undefined): string {
  return raw ?? latin1(new TextEncoder().encode(path));
}

function latin1(bytes: Uint8Array): string {
  let text = "";
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return text;
}

function latin1Bytes(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}
