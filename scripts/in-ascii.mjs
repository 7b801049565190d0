import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/**
 * A script with every sign beyond ASCII written as an escape, which says the same in texts, patterns, names and remarks. An engine keeps a script as it was read, for as long as it
 * runs: with one sign beyond Latin-1 in it, each of its signs takes twice the memory.
 *
 * @example inAscii('say("…")') // 'say("\\u2026")'
 */
export function inAscii(script) {
  return script.replace(/(\\*)([^\0-\x7f])/g, (_, slashes, sign) => {
    // A backslash before a sign that needs none would make another thing of the escape.
    const kept = slashes.length % 2 === 1 ? slashes.slice(1) : slashes;
    return `${kept}\\u${sign.charCodeAt(0).toString(16).padStart(4, "0")}`;
  });
}

/** Writes the scripts in a folder, and in those within it, in ASCII. */
export function putInAscii(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const place = join(folder, entry.name);
    if (entry.isDirectory()) putInAscii(place);
    else if (/\.[cm]?js$/.test(entry.name)) {
      const script = readFileSync(place, "utf8");
      const plain = inAscii(script);
      if (plain !== script) writeFileSync(place, plain);
    }
  }
}
