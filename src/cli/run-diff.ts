import { resolve } from "node:path";
import { deflateSync } from "node:zlib";
import { visible } from "@/core/cautions/visible";
import { ENGINE } from "@/core/diff/compare";
import { formatPatch, patchOrder } from "@/core/diff/unified";
import { counted, inFigures } from "@/core/plain/words";
import { CLASSES } from "@/core/quiet/classes";
import { lockWords } from "@/core/quiet/kinds/lock/lock-words";
import type { Reading } from "@/core/quiet/whole-reading";
import { ObjectReader } from "@/git/objects";
import { resolveCommit } from "@/git/repository";
import { gitFolderOf } from "@/git/transport/intake";
import { compareTrees, type LoadedFile } from "@/server/workers/tree";
import { Stop, say } from "./stop";

/** Compares two commits of a local repository and writes what comes of it, in one of the formats of the command. */
export async function runDiff(
  repository: string,
  from: string,
  to: string,
  { format, path }: { format: string; path?: string },
): Promise<void> {
  const place = resolve(process.env.INIT_CWD ?? ".", repository);
  const folder = await gitFolderOf(place);
  if (!folder) throw new Stop(`${place} is not a git repository.`);
  const [a, b] = await Promise.all([resolveCommit(folder, from), resolveCommit(folder, to)]);
  if (!a || !b) throw new Stop(`${place} has no commit “${a ? to : from}”.`);
  const objects = new ObjectReader(folder);
  try {
    const { reading, files } = await compareTrees(objects, a, b);
    const within = (candidate: string | null) =>
      !path || (candidate !== null && (candidate === path || candidate.startsWith(`${path.replace(/\/$/, "")}/`)));
    const wanted = (file: { path: string; oldPath: string | null }) => within(file.path) || within(file.oldPath);
    if (format === "unified") await writePatch(files.filter(({ change }) => wanted(change)));
    else if (format === "json")
      await write(
        `${JSON.stringify({ engine: ENGINE, from: a, to: b, ...reading, files: reading.files.filter(wanted) })}\n`,
      );
    else summarize({ ...reading, files: reading.files.filter(wanted) }, path !== undefined);
  } finally {
    objects.close();
  }
}

async function writePatch(files: LoadedFile[]): Promise<void> {
  for (const { change, oldBytes, newBytes } of patchOrder(files)) {
    await write(Buffer.from(formatPatch({ change, old: oldBytes, next: newBytes }, deflateSync), "latin1"));
  }
}

/** Waits while the reader at the other end of a pipe is slower than we are. */
function write(what: string | Uint8Array): Promise<void> {
  return new Promise((done, fail) => process.stdout.write(what, (error) => (error ? fail(error) : done())));
}

function summarize(reading: Reading, part: boolean): void {
  const sums = Object.fromEntries(
    CLASSES.map((kind) => [kind, reading.files.reduce((sum, file) => sum + file.counts[kind], 0)]),
  );
  const toRead = reading.files.reduce((sum, file) => sum + file.toRead, 0);
  const changed = Object.values(sums).reduce((sum, count) => sum + count, 0);
  say(`${counted(reading.files.length, "file")}, ${counted(changed, "changed line")}, ${inFigures(toRead)} to read.`);
  for (const kind of CLASSES)
    if (kind !== "read" && sums[kind] > 0) say(`  ${kind.padEnd(11)}${inFigures(sums[kind])}`);
  if (!part && reading.moves.length > 0)
    say(`${counted(reading.moves.length, "move")}, ${counted(reading.replacements.length, "repeated replacement")}.`);
  for (const file of reading.files) {
    const from = file.oldPath ? ` (${file.status} from ${file.oldPath})` : "";
    const about = file.generated ?? (file.lock ? "lockfile" : null);
    say(
      `${String(file.toRead).padStart(7)} of ${String(file.added + file.removed).padEnd(7)} ${visible(file.path)}${visible(from)}${about ? ` (${about})` : ""}`,
    );
    for (const { says } of file.facts) say(`${" ".repeat(19)}${visible(says)}`);
    for (const { says, line } of file.cautions)
      say(`${" ".repeat(17)}! ${line ? `line ${line}: ` : ""}${visible(says)}`);
    if (file.lock) for (const says of lockWords(file.lock)) say(`${" ".repeat(19)}${visible(says)}`);
  }
}
