/**
 * Paths are bytes to git and words to people. Here a path is the text of its bytes; those that are no UTF-8 stand as `\xE9`, and where a name
 * holds such an escape itself, its backslash stands as `\x5C`. So every path has one text and every text one path: it shows, and it is the
 * key everywhere.
 */

/** Nothing but characters of one byte that stand for themselves: nearly all paths. */
const PLAIN = /^[\x20-\x5b\x5d-\x7e]*$/;
const ESCAPE = /\\x[0-9A-F]{2}/;
const ESCAPES = /\\x([0-9A-F]{2})/g;

/** The text of a path; `rawPath`, one character a byte, is there when the text is not simply what the bytes say. */
export function pathOf(bytes: Buffer): { path: string; rawPath?: string } {
  const text = bytes.toString("utf8");
  const valid = Buffer.from(text, "utf8").equals(bytes);
  if (valid && !ESCAPE.test(text)) return { path: text };
  const rawPath = bytes.toString("latin1");
  if (valid) return { path: text.replace(ESCAPES, "\\x5Cx$1"), rawPath };
  let path = "";
  for (let at = 0; at < bytes.length; ) {
    const length = validLength(bytes, at);
    if (length > 0) path += bytes.toString("utf8", at, at + length);
    else path += `\\x${bytes[at].toString(16).toUpperCase().padStart(2, "0")}`;
    at += Math.max(1, length);
  }
  return { path: escapedTwice(path, bytes), rawPath };
}

/** The text of a path whose bytes are given as one character each. */
export function pathOfCharacters(characters: string): { path: string; rawPath?: string } {
  return PLAIN.test(characters) ? { path: characters } : pathOf(Buffer.from(characters, "latin1"));
}

/** The same text, unless a name of the bytes holds an escape: then its backslash is written as one. */
function escapedTwice(path: string, bytes: Buffer): string {
  return bytesOfPath(path).equals(bytes) ? path : [...bytes].map(byteAsText).join("");
}

function byteAsText(byte: number): string {
  const plain = byte >= 0x20 && byte < 0x7f && byte !== 0x5c;
  return plain ? String.fromCharCode(byte) : `\\x${byte.toString(16).toUpperCase().padStart(2, "0")}`;
}

/** How many bytes at a place make one character of UTF-8; 0 when they make none. */
function validLength(bytes: Buffer, at: number): number {
  const first = bytes[at];
  const length = first < 0x80 ? 1 : first >= 0xf0 ? 4 : first >= 0xe0 ? 3 : first >= 0xc2 ? 2 : 0;
  if (length === 0 || at + length > bytes.length) return 0;
  const part = bytes.subarray(at, at + length);
  return Buffer.from(part.toString("utf8"), "utf8").equals(part) ? length : 0;
}

/** The bytes that a path's text stands for: the inverse of {@link pathOf}. */
export function bytesOfPath(path: string): Buffer {
  if (!ESCAPE.test(path)) return Buffer.from(path, "utf8");
  const parts: Buffer[] = [];
  let at = 0;
  for (const found of path.matchAll(ESCAPES)) {
    parts.push(Buffer.from(path.slice(at, found.index), "utf8"), Buffer.from([Number.parseInt(found[1], 16)]));
    at = found.index + found[0].length;
  }
  return Buffer.concat([...parts, Buffer.from(path.slice(at), "utf8")]);
}
