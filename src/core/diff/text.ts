/** How the bytes of a file became text. `utf-16` carries its byte order; `latin-1` is what is left when nothing else fits. */
export type Encoding = "utf-8" | "utf-16le" | "utf-16be" | "latin-1";

export interface Text {
  /** Lines with their `\r` kept and their `\n` taken off. An empty file has no lines. */
  lines: string[];
  encoding: Encoding;
  /** The last line has no `\n` behind it. False for an empty file. */
  missingFinalNewline: boolean;
}

const BINARY_PROBE = 8000;

/** A file is binary when a NUL stands in its first 8,000 bytes and no UTF-16 byte order mark explains it. */
export function isBinary(bytes: Uint8Array): boolean {
  if (byteOrder(bytes)) return false;
  const probe = bytes.length > BINARY_PROBE ? bytes.subarray(0, BINARY_PROBE) : bytes;
  return probe.includes(0);
}

/** Whether bytes are text but for a NUL here and there: few of those, few other control characters, and lines that end. */
export function isNearlyText(bytes: Uint8Array): boolean {
  const probe = bytes.subarray(0, BINARY_PROBE);
  let odd = 0;
  for (const byte of probe) if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 13) odd++;
  return odd <= Math.max(1, probe.length / 50);
}

function byteOrder(bytes: Uint8Array): "utf-16le" | "utf-16be" | null {
  if (bytes.length < 2 || bytes.length % 2 === 1) return null;
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return "utf-16le";
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return "utf-16be";
  return null;
}

const UTF_8 = new TextDecoder("utf-8", { fatal: true, ignoreBOM: true });

/** Bytes to text: UTF-16 when its mark is there, UTF-8 (a mark stays, as U+FEFF) when valid, else Latin-1, one byte one character. */
export function decode(bytes: Uint8Array): { text: string; encoding: Encoding } {
  const wide = byteOrder(bytes);
  if (wide) {
    try {
      return { text: new TextDecoder(wide, { fatal: true, ignoreBOM: true }).decode(bytes), encoding: wide };
    } catch {
      // Lone surrogates: shown byte for byte below.
    }
  }
  try {
    return { text: UTF_8.decode(bytes), encoding: "utf-8" };
  } catch {
    return { text: latin1(bytes), encoding: "latin-1" };
  }
}

/** One character for each byte, U+0000 to U+00FF. TextDecoder's "latin1" is windows-1252, which is not that. */
function latin1(bytes: Uint8Array): string {
  let text = "";
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return text;
}

/** Splits at `\n` alone; `\r` stays on its line. */
export function splitLines(text: string): { lines: string[]; missingFinalNewline: boolean } {
  if (text === "") return { lines: [], missingFinalNewline: false };
  const lines = text.split("\n");
  if (lines[lines.length - 1] === "") {
    lines.pop();
    return { lines, missingFinalNewline: false };
  }
  return { lines, missingFinalNewline: true };
}

/** The inverse of {@link splitLines}. */
export function joinLines(lines: readonly string[], missingFinalNewline: boolean): string {
  if (lines.length === 0) return "";
  return lines.join("\n") + (missingFinalNewline ? "" : "\n");
}

/** Bytes to lines. Call {@link isBinary} first. */
export function readText(bytes: Uint8Array): Text {
  const { text, encoding } = decode(bytes);
  const { lines, missingFinalNewline } = splitLines(text);
  return { lines, missingFinalNewline, encoding };
}

/** The inverse of {@link readText}. Characters that the encoding does not have are told of, so that nothing is lost: null then. */
export function writeText({ lines, missingFinalNewline, encoding }: Text): Uint8Array | null {
  const text = joinLines(lines, missingFinalNewline);
  if (encoding === "utf-8") return new TextEncoder().encode(text);
  if (encoding === "latin-1") {
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      if (code > 0xff) return null;
      bytes[i] = code;
    }
    return bytes;
  }
  const bytes = new DataView(new ArrayBuffer(2 * text.length));
  for (let i = 0; i < text.length; i++) bytes.setUint16(2 * i, text.charCodeAt(i), encoding === "utf-16le");
  return new Uint8Array(bytes.buffer);
}
