import type { IncomingMessage } from "node:http";
import { promisify } from "node:util";
import { gunzip } from "node:zlib";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { missingOf, wantsIn, withoutNamed, withoutTips } from "@/git/transport/wants";
import type { AppContext } from "../app/context";
import { noteShown, shownOf } from "../reading/shown";

/** A request for objects is small, also one of a clone without blobs that wants many of them; in bytes. */
const LARGEST = 8 * 1024 * 1024;
const unpack = promisify(gunzip);

/**
 * Reads a request for objects whole, and refuses it when it wants what no branch, tag or revision leads to: version 2 of git's protocol
 * gives anything whose id is known, such as what a branch that was deleted had. Gives the body as it came.
 */
export async function readWants(app: AppContext, folder: string, request: IncomingMessage): Promise<Outcome<Buffer>> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > LARGEST) return refuse("too-large", "That asks for too much at once.");
    chunks.push(chunk);
  }
  const body = Buffer.concat(chunks);
  let wants: Set<string>;
  try {
    const zipped = request.headers["content-encoding"] === "gzip";
    wants = wantsIn(zipped ? await unpack(body, { maxOutputLength: 4 * LARGEST }) : body);
  } catch {
    return refuse("invalid", "That is no request of git’s protocol.");
  }
  const shown = await shownOf(app, folder);
  for (const id of wants) if (shown.has(id)) wants.delete(id);
  if (wants.size === 0) return done(body);
  const asked = [...wants];
  // Most want tips; and what is not there at all is told at once, so that nobody has the history looked through for nothing.
  await withoutTips(folder, wants);
  const none = wants.size === 0 ? null : await missingOf(folder, wants);
  if (none) return refuse("missing", `Nothing here leads to ${none}.`);
  // Looked for in the whole history where it must be, so one at a time.
  if (wants.size > 0) await app.inTurn(`reach ${folder}`, () => withoutNamed(folder, wants));
  await noteShown(
    app,
    folder,
    asked.filter((id) => !wants.has(id)).map((id) => ({ id })),
  );
  const [unknown] = wants;
  return unknown ? refuse("missing", `Nothing here leads to ${unknown}.`) : done(body);
}
