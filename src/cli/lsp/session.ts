import { readFileSync } from "node:fs";
import { join } from "node:path";
import * as v from "valibot";
import { type ChangeAnswer, changeAnswer } from "@/core/doors/endpoints/change-parts";
import type { CommandRequest } from "@/core/review/families/table";
import { newest } from "@/core/review/state";
import type { Unsent, unsentRequest } from "@/core/views/api";
import { gitHere } from "@/git/clone";
import { askServer, changePath, type Origin, originOf } from "../lens-server";
import { Stop } from "../stop";

/** A change set as it was told last. */
export type Told = Omit<ChangeAnswer, "change"> & { change: NonNullable<ChangeAnswer["change"]> };

const found = v.object({ lines: v.array(v.looseObject({ number: v.number(), source: v.string() })) });
const anything = v.unknown();

/** So often it is asked whether something new was said, in milliseconds. */
const EVERY = 1_500;
/** So long it is not asked again where the server did not answer, at most. */
const LONGEST_PAUSE = 30_000;

/**
 * The review of the branch that is checked out in a clone: finds its change set, keeps up with what others write and with what is not sent, and carries
 * commands out. `tell` is called when there is something else to show.
 */
export class Session {
  told: Told | null = null;
  private origin: Origin | null = null;
  private number: string | null = null;
  private branch = "";
  private gitFolder = "";
  private pause = EVERY;
  private timer: NodeJS.Timeout | null = null;
  private ended = false;
  private readonly texts = new Map<string, Promise<string | null>>();

  constructor(
    readonly folder: string,
    private readonly options: { remote: string; change: string | null },
    private readonly tell: () => void,
    private readonly log: (words: string) => void,
  ) {}

  async start(): Promise<void> {
    const { out, code } = await gitHere(this.folder, ["rev-parse", "--absolute-git-dir"]);
    if (code !== 0) return this.log(`${this.folder} is no clone of a repository: there is nothing to show.`);
    this.gitFolder = out.trim();
    await this.step();
  }

  stop(): void {
    this.ended = true;
    if (this.timer) clearTimeout(this.timer);
  }

  /** Where what is being written is kept: within the clone, and in nobody's way. */
  get writing(): string {
    return join(this.gitFolder, "lens");
  }

  get page(): string {
    return this.origin && this.number ? `${this.origin.address}/r/${this.origin.repository}/c/${this.number}` : "";
  }

  /** Looks for news now, and again after a while. */
  private async step(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    try {
      await this.look();
      this.pause = EVERY;
    } catch (error) {
      // What was told last stays in sight; a server that is away is asked less often.
      if (this.pause === EVERY) this.log((error as Error).message);
      this.pause = Math.min(this.pause * 2, LONGEST_PAUSE);
    }
    if (!this.ended) this.timer = setTimeout(() => void this.step(), this.pause);
  }

  private async look(): Promise<void> {
    const branch = this.branchNow();
    if (this.origin === null || branch !== this.branch) {
      this.branch = branch;
      this.origin ??= await originOf(this.folder, this.options.remote);
      this.number = this.options.change ?? (await this.numberOf(branch));
      this.told = null;
      this.tell();
      if (this.number === null) this.log(`No open change set offers ${branch || "what is checked out"}.`);
    }
    if (this.number === null) {
      this.number = this.options.change ?? (await this.numberOf(this.branch));
      if (this.number === null) return;
    }
    const have = this.told ? `?${new URLSearchParams({ have: this.told.change.last })}` : "";
    const answer = await askServer(this.origin, changePath(this.origin, this.number, have), changeAnswer);
    this.take(answer);
  }

  private take(answer: ChangeAnswer): void {
    const change = answer.change ?? this.told?.change;
    if (!change) return;
    const before = JSON.stringify([this.told?.change.last, this.told?.mine.unsent, this.told?.around.histories]);
    this.told = { ...answer, change };
    if (before !== JSON.stringify([change.last, answer.mine.unsent, answer.around.histories])) this.tell();
  }

  /** The name of the branch that is checked out; empty where none is. A file is read, since it is asked all the time. */
  private branchNow(): string {
    try {
      return /^ref: refs\/heads\/(.+)$/m.exec(readFileSync(join(this.gitFolder, "HEAD"), "utf8"))?.[1].trim() ?? "";
    } catch {
      return "";
    }
  }

  private async numberOf(branch: string): Promise<string | null> {
    if (branch === "" || !this.origin) return null;
    const query = `in:${this.origin.repository} from:"${branch.replaceAll('"', "")}" state:going`;
    const { lines } = await askServer(this.origin, `/api/changes?${new URLSearchParams({ query })}`, found);
    const line = lines.find(({ source }) => source === branch);
    return line ? String(line.number) : null;
  }

  /** A file as the newest revision has it; null where it has none, or where that is not in this clone and cannot be brought here. */
  pushed(path: string): Promise<string | null> {
    if (!this.told) return Promise.resolve(null);
    const { id, revisions } = this.told.change;
    const { head, number } = newest({ revisions });
    const key = `${head}\0${path}`;
    const kept = this.texts.get(key);
    if (kept !== undefined) return kept;
    const made = (async () => {
      const remote = this.options.remote;
      const here = await gitHere(this.folder, ["cat-file", "-e", `${head}^{commit}`]);
      if (here.code !== 0)
        await gitHere(this.folder, ["fetch", "--quiet", "--end-of-options", remote, `refs/lens/${id}/r${number}/head`]);
      const { code, out } = await gitHere(this.folder, ["cat-file", "blob", `${head}:${path}`]);
      return code === 0 ? out : null;
    })();
    this.texts.set(key, made);
    return made;
  }

  /** The id of the blob that the newest revision has at a path. */
  async blobAt(path: string): Promise<string> {
    const { head } = newest(this.need().change);
    const { code, out } = await gitHere(this.folder, [
      "rev-parse",
      "--verify",
      "--quiet",
      "--end-of-options",
      `${head}:${path}`,
    ]);
    if (code !== 0) throw new Stop(`${path} is not in the newest revision: push it first.`);
    return out.trim().split("\n").at(-1)!;
  }

  need(): Told {
    if (!this.told) throw new Stop("There is no change set of the branch that is checked out here.");
    return this.told;
  }

  async carryOut(command: CommandRequest): Promise<void> {
    const [origin, number] = this.place();
    const have = `?${new URLSearchParams({ have: this.need().change.last })}`;
    this.take(await askServer(origin, changePath(origin, number, have), changeAnswer, { json: command }));
  }

  /** Keeps what is not sent; an empty text drops it. */
  async keep(id: string, request: v.InferInput<typeof unsentRequest>): Promise<void> {
    const [origin, number] = this.place();
    const path = changePath(origin, number, `/unsent/${id}`);
    const empty = request.body.trim() === "" && !(request.kind === "remark" && (request.suggestions?.length ?? 0) > 0);
    const known = this.need().mine.unsent.some((note) => note.id === id);
    if (empty && known) await askServer(origin, path, anything, { json: undefined, method: "DELETE" });
    else if (!empty) await askServer(origin, path, anything, { json: request, method: "PUT" });
    await this.step();
  }

  unsentReply(thread: string): Extract<Unsent, { kind: "reply" }> | undefined {
    return this.need().mine.unsent.find((note) => note.kind === "reply" && note.thread === thread) as never;
  }

  private place(): [Origin, string] {
    this.need();
    return [this.origin!, this.number!];
  }
}
