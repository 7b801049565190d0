import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { counted } from "@/core/plain/words";
import type { TakingRequest, TakingView } from "@/core/views/setting-up-view";
import type { Origin } from "@/git/transport/origin";
import { audit, type Doer } from "../access/audit";
import { addRepository, wrongNewName } from "../access/repositories";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

/** So many can go on at a time: each is a fetch. */
const MOST_AT_ONCE = 2;
/** A bundle is at most so large, in bytes. */
const LARGEST_BUNDLE = 4 * 1024 ** 3;

interface Taking extends TakingView {
  cancel: () => void;
}

const TAKINGS = shelf<Map<string, Taking>>("takings", 1);

/** Takings of this process, by their ids, the last of them. */
function takings(app: AppContext): Promise<Map<string, Taking>> {
  return TAKINGS(app).get("", async () => new Map());
}

/** Begins to take a repository in, and gives under which id one can ask how far it is. */
export async function beginTaking(
  app: AppContext,
  doer: Doer,
  { name, from }: TakingRequest,
): Promise<Outcome<TakingView>> {
  const begun = await begin(app, name);
  if (!begun.ok) return begun;
  const { taking, signal } = begun.value;
  void carry(app, doer, taking, from, signal, from.kind === "address" ? from.every : 0);
  return done(viewOf(taking));
}

/** Takes a repository in from a bundle that comes as a body; it is written to the disk as it comes, never held whole. */
export async function takeBundle(
  app: AppContext,
  doer: Doer,
  name: string,
  body: ReadableStream | null,
): Promise<Outcome<TakingView>> {
  if (!body) return refuse("invalid", "Send the bundle as the body of the request.");
  const begun = await begin(app, name);
  if (!begun.ok) return begun;
  const { taking, signal } = begun.value;
  const folder = join(app.settings.data, "incoming");
  const path = join(folder, `${taking.id}.bundle`);
  try {
    await mkdir(folder, { recursive: true });
    let size = 0;
    const counting = async function* (chunks: AsyncIterable<Uint8Array>) {
      for await (const chunk of chunks) {
        size += chunk.length;
        if (size > LARGEST_BUNDLE) throw new TooLarge();
        taking.says = `${Math.floor(size / 1024 / 1024)} MB have come`;
        yield chunk;
      }
    };
    await pipeline(Readable.fromWeb(body as never), counting, createWriteStream(path), { signal });
    await carry(app, doer, taking, { kind: "bundle", path }, signal);
  } catch (error) {
    taking.state = "refused";
    if (error instanceof TooLarge)
      return refuse("too-large", "A bundle of more than 4 GB is taken in on the command line.");
    if (signal.aborted) taking.says = "It was cancelled; nothing was taken in.";
    else throw error;
  } finally {
    await rm(path, { force: true });
  }
  return done(viewOf(taking));
}

class TooLarge extends Error {}

/** Those that go on and the last that ended, the newest first. */
export async function takingsOf(app: AppContext): Promise<TakingView[]> {
  return [...(await takings(app)).values()].reverse().map(viewOf);
}

/** Cancels one that goes on, and forgets one that has ended. */
export async function endTaking(app: AppContext, id: string): Promise<Outcome<null>> {
  const all = await takings(app);
  const taking = all.get(id);
  if (!taking) return refuse("missing", "There is no such taking in.");
  if (taking.state === "going") taking.cancel();
  else all.delete(id);
  return done(null);
}

async function begin(app: AppContext, name: string): Promise<Outcome<{ taking: Taking; signal: AbortSignal }>> {
  const wrong = await wrongNewName(app, name);
  if (wrong) return wrong;
  const all = await takings(app);
  const going = [...all.values()].filter(({ state }) => state === "going");
  if (going.length >= MOST_AT_ONCE)
    return refuse("too-many", `${MOST_AT_ONCE} repositories are being taken in: wait for one, or cancel it.`);
  if (going.some((taking) => taking.name === name)) return refuse("conflict", `${name} is being taken in already.`);
  for (const [id, { state }] of all) if (state !== "going" && all.size >= 10) all.delete(id);
  const control = new AbortController();
  const taking: Taking = { id: app.newId(), name, says: "begins", state: "going", cancel: () => control.abort() };
  all.set(taking.id, taking);
  return done({ taking, signal: control.signal });
}

/** Takes it in, and notes how that ended. Never rejects. */
async function carry(
  app: AppContext,
  doer: Doer,
  taking: Taking,
  origin: Origin,
  signal: AbortSignal,
  every = 0,
): Promise<void> {
  try {
    const progress = (words: string) => {
      taking.says =
        words
          .trim()
          .split(/[\r\n]/)
          .at(-1)
          ?.slice(0, 200) || taking.says;
    };
    const added = await addRepository(app, taking.name, origin, { progress, signal, every });
    taking.state = added.ok ? "taken" : "refused";
    if (!added.ok) {
      taking.says = added.refusal.reason;
      return;
    }
    const { branches, repository } = added.value;
    taking.says =
      branches === 0 ? "It is empty, to be pushed to." : `It has ${counted(branches, "branch", "branches")}.`;
    await audit(app, doer, "repository-added", { repository: repository.name });
  } catch (error) {
    app.log.error({ err: error, repository: taking.name }, "a repository could not be taken in");
    taking.state = "refused";
    taking.says = "Something went wrong here; the server’s log has it.";
  }
}

function viewOf({ id, name, says, state }: TakingView): TakingView {
  return { id, name, says, state };
}
