import { Additions, type Grown } from "@/core/anchor/again";
import {
  type AnchorPosition,
  differs,
  type FileStep,
  seekAgain,
  stepTrack,
  type Track,
} from "@/core/anchor/anchor-history";
import type { Hunk } from "@/core/diff/hunk";
import { diffTexts } from "@/core/diff/lines";
import { isBinary, readText, type Text } from "@/core/diff/text";
import type { PairedChange } from "@/core/diff/tree";
import { type FileChange, isSubmodule } from "@/core/diff/tree";
import type { ObjectReader } from "@/git/objects";
import { loadBlobs, pairChanges } from "../workers/pairing";

/** Two trees that follow each other: those of the source branch, or those that it left the target from. */
interface Trees {
  from: string;
  to: string;
}

/** One thread's lines on their way. Lines of the old text are followed through the bases, those of the new one through the heads. */
export interface Follower {
  id: string;
  side: "old" | "new";
  track: Track;
}

/** What happened between two revisions; the number is that of the later one. */
export interface RevisionStep {
  revision: number;
  old: Trees;
  new: Trees;
}

export interface FollowTask {
  /** In order. Each follower takes part in those after the revision where it stands. */
  steps: RevisionStep[];
  followers: Follower[];
}

/** Where trees and blobs are read from. */
export interface Source {
  objects: Pick<ObjectReader, "size" | "read">;
  changes: (trees: Trees) => Promise<FileChange[]>;
}

/** Where a follower has come to, and the stands on its way that say something new. */
export interface Followed extends Follower {
  positions: AnchorPosition[];
}

/** Beyond so many changed files lost lines are looked for in their own file alone. */
const MOST_SEARCHED = 5_000;

/** Follows the lines of threads from revision to revision. */
export async function followTracks(source: Source, { steps, followers }: FollowTask): Promise<Followed[]> {
  const followed: Followed[] = followers.map((follower) => ({ ...follower, positions: [] }));
  for (const step of steps) {
    for (const side of ["old", "new"] as const) {
      const here = followed.filter((one) => one.side === side && one.track.position.revision < step.revision);
      if (here.length === 0) continue;
      const texts = await TreeStep.open(source, step[side]);
      await texts.prepare(here.map(({ track }) => track.position.path));
      for (const one of here) {
        const next = await texts.advance(one.track, step.revision);
        if (differs(one.track.position, next.position)) one.positions.push(next.position);
        one.track = next;
      }
    }
  }
  return followed;
}

/** What differs between two trees, read as far as it is asked for. */
class TreeStep {
  private readonly files = new Map<string, Promise<FileStep>>();
  private pairs: Promise<PairedChange[]> | null = null;
  private all: Promise<{ additions: Additions; texts: Map<string, readonly string[]> }> | null = null;

  private constructor(
    private readonly objects: Source["objects"],
    private readonly changes: ReadonlyMap<string, FileChange>,
  ) {}

  static async open({ objects, changes }: Source, trees: Trees): Promise<TreeStep> {
    const files = trees.from === trees.to ? [] : await changes(trees);
    return new TreeStep(objects, new Map(files.map((change) => [change.path, change])));
  }

  /** Compares the files that will be asked for. */
  async prepare(paths: readonly string[]): Promise<void> {
    await Promise.all([...new Set(paths)].filter((path) => this.changes.has(path)).map((path) => this.file(path)));
  }

  async advance(track: Track, revision: number): Promise<Track> {
    const { path } = track.position;
    const file = this.changes.has(path) ? await this.file(path) : null;
    const { track: next, sought } = stepTrack(track, file, revision);
    if (!sought) return next;
    const { additions, texts } = await this.everything();
    return seekAgain(track, next, file?.old ?? null, additions, (at) => texts.get(at) ?? []);
  }

  private file(path: string): Promise<FileStep> {
    const made = this.files.get(path) ?? this.load(path);
    this.files.set(path, made);
    return made;
  }

  private async load(path: string): Promise<FileStep> {
    const change = this.changes.get(path)!;
    if (change.newId !== null && change.oldId !== null) return this.compare(change.oldId, change.newId, path);
    const renamed = (await this.renames()).find(({ oldPath, copy }) => oldPath === path && !copy);
    return this.compare(change.oldId, renamed?.newId ?? change.newId, renamed?.path ?? (change.newId ? path : null));
  }

  private async compare(oldId: string | null, newId: string | null, to: string | null): Promise<FileStep> {
    const [old, next] = await Promise.all([this.text(oldId), this.text(newId)]);
    return { to, old: old.lines, next: next.lines, hunks: diffTexts(old, next) };
  }

  /** What is no text has no lines. */
  private async text(id: string | null): Promise<Text> {
    const blobs = new Map<string, Buffer>();
    if (id !== null) await loadBlobs(this.objects, [{ ...NO_CHANGE, newId: id }], blobs);
    const bytes = id === null ? undefined : blobs.get(id);
    return readText(bytes && !isBinary(bytes) ? bytes : NOTHING);
  }

  private renames(): Promise<PairedChange[]> {
    this.pairs ??= (async () => {
      const blobs = new Map<string, Buffer>();
      const ends = [...this.changes.values()].filter(({ oldId, newId }) => oldId === null || newId === null);
      await loadBlobs(this.objects, ends, blobs);
      return pairChanges(ends, blobs);
    })();
    return this.pairs;
  }

  /** All that the step added: in the files that were followed as they were compared, in the others by which lines are new to the file. */
  private everything() {
    this.all ??= (async () => {
      const files: Grown[] = [];
      const texts = new Map<string, readonly string[]>();
      for (const step of this.files.values()) {
        const { to, next, hunks } = await step;
        if (to === null || texts.has(to)) continue;
        texts.set(to, next);
        files.push({ path: to, next, hunks });
      }
      const others = this.changes.size > MOST_SEARCHED ? [] : await this.paired();
      for (const { path, oldId, newId } of others) {
        if (newId === null || texts.has(path)) continue;
        const [old, next] = await Promise.all([this.text(oldId), this.text(newId)]);
        texts.set(path, next.lines);
        files.push({ path, next: next.lines, hunks: newLines(old.lines, next.lines) });
      }
      return { additions: new Additions(files), texts };
    })();
    return this.all;
  }

  private async paired(): Promise<PairedChange[]> {
    const renamed = await this.renames();
    const staying = [...this.changes.values()].filter(({ oldId, newId }) => oldId !== null && newId !== null);
    const whole = staying.map((change) => ({ ...change, oldPath: null, copy: false, similarity: null }));
    return [...renamed, ...whole].filter((change) => !isSubmodule(change) && change.oldId !== change.newId);
  }
}

const NOTHING = new Uint8Array();
const NO_CHANGE: FileChange = { path: "", oldId: null, newId: null, oldMode: 0, newMode: 0o100644 };

/** The lines of a text that another does not have, or not so often, as hunks. Far quicker than comparing the two. */
function newLines(old: readonly string[], next: readonly string[]): Hunk[] {
  const counts = new Map<string, number>();
  for (const line of old) counts.set(line, (counts.get(line) ?? 0) + 1);
  const hunks: Hunk[] = [];
  for (const [i, line] of next.entries()) {
    const left = counts.get(line) ?? 0;
    if (left > 0) counts.set(line, left - 1);
    else hunks.push({ oldStart: 0, oldEnd: 0, newStart: i, newEnd: i + 1 });
  }
  return hunks;
}
