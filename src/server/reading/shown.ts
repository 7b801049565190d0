import { setImmediate } from "node:timers/promises";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { isNamedCommit, isNamedObject } from "@/git/transport/reach";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

type Files = Iterable<{ oldId?: string | null; newId?: string | null; id?: string }>;

/** So many ids are remembered: more than a page of a large repository asks for. */
const MOST = 500_000;

/** After so many the others who ask have their turn: tens of thousands together take a third of a second. */
const AT_ONCE = 2_000;

/** Ids of contents that were part of what someone was shown: from readings, trees and lists. By their first 52 bits. */
class Shown {
  private readonly ids = new Set<number>();
  /** Goes on behind what it gave last. One begun anew looks at all that are gone before it finds the first that is there. */
  private readonly oldest = this.ids.values();
  /** Lists of which all is among them. */
  private lists = new WeakSet<object>();

  async addAll(files: Files): Promise<void> {
    // Another set by the end, where some that were there are forgotten meanwhile.
    const { lists } = this;
    if (lists.has(files)) return;
    let taken = 0;
    for (const { oldId = null, newId = null, id = null } of files) {
      if (++taken % AT_ONCE === 0) await setImmediate();
      this.add(oldId);
      this.add(newId);
      this.add(id);
    }
    lists.add(files);
  }

  add(id: string | null): void {
    if (id === null) return;
    this.ids.add(short(id));
    if (this.ids.size <= MOST) return;
    this.ids.delete(this.oldest.next().value as number);
    this.lists = new WeakSet();
  }

  has(id: string): boolean {
    return this.ids.has(short(id));
  }
}

function short(id: string): number {
  return Number.parseInt(id.slice(0, 13), 16);
}

const SHOWN = shelf<Shown>("shown", 100);

/** What was shown of a repository. */
export function shownOf(app: AppContext, folder: string): Promise<Shown> {
  return SHOWN(app).get(folder, async () => new Shown());
}

/** Remembers that these contents are part of what people are shown: one and the same list once. */
export async function noteShown(app: AppContext, folder: string, files: Files): Promise<void> {
  await (await shownOf(app, folder)).addAll(files);
}

/**
 * Whether contents may be served by their id: those that were shown, and those that some branch, tag or revision has. What lies in a
 * repository and hangs nowhere, such as what a refused push left, is nobody's to read.
 */
export async function mayServe(
  app: AppContext,
  folder: string,
  ids: readonly (string | null)[],
): Promise<Outcome<null>> {
  const shown = await shownOf(app, folder);
  for (const id of ids) {
    if (id === null || shown.has(id)) continue;
    // Looked for in the whole history, so one at a time.
    const named = await app.inTurn(`reach ${folder}`, async () => shown.has(id) || (await isNamedObject(folder, id)));
    if (!named) return refuse("missing", "There are no such contents here.");
    shown.add(id);
  }
  return done(null);
}

const NAMED_COMMITS = shelf<boolean>("named commits", 1_000);

/** Forgets what was shown of a repository: a branch is gone or was rewritten, and what it led to may be led to by nothing now. */
export function forgetShown(app: AppContext, folder: string): void {
  SHOWN(app).forget(folder);
  NAMED_COMMITS(app).clear();
}

/** The same for a commit: only those that some branch, tag or revision has. */
export async function mayServeCommit(app: AppContext, folder: string, commit: string): Promise<boolean> {
  return NAMED_COMMITS(app)
    .get(`${folder}\0${commit}`, async () => {
      const named = await isNamedCommit(folder, commit);
      if (!named) throw new NotNamed();
      return true;
    })
    .catch((error: unknown) => {
      if (error instanceof NotNamed) return false;
      throw error;
    });
}

/** Not kept: it may be named a moment later. */
class NotNamed extends Error {}
