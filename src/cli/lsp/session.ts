import { readFileSync } from "node:fs";
import { join } from "node:path";
import * as v from "valibot";
import { type ChangeAnswer, changeAnswer } from "@/core/doors/endpoints/change-parts";
import { findings as findingsAnswer } from "@/core/doors/endpoints/shapes";
import { counted } from "@/core/plain/words";
import type { CommandRequest } from "@/core/review/families/table";
import { newest } from "@/core/review/state";
import { checksOf } from "@/core/rules/checks";
import type { Unsent, unsentRequest } from "@/core/views/api";
import type { FindingsView } from "@/core/views/keeping-view";
import { gitHere } from "@/git/clone";
import { CloneHouse } from "../here/clone-house";
import { Away, askServer, changePath, NoServer, type Origin, originOf } from "../lens-server";
import { Stop } from "../stop";

/** A change set as it was told last. */
export type Told = Omit<ChangeAnswer, "change"> & { change: NonNullable<ChangeAnswer["change"]> };

const found = v.object({ lines: v.array(v.looseObject({ number: v.number(), source: v.string() })) });
const anything = v.unknown();

/** So often it is asked whether something new was said, in milliseconds. */
const EVERY = 1_500;
/** So long it is not asked again where the server did not answer, at most. */
const LONGEST_PAUSE = 30_000;

/** While it is away the server is asked so often whether it is back, in milliseconds. */
const ASKED_EVERY = 15_000;
/** So long it is waited for before the clone goes on by itself: a server that begins anew is none that is away. */
const PATIENCE = 8_000;
/** No branch is called so. */
const NOT_LOOKED = "..";

/**
 * The review of the branch that is checked out in a clone: finds its change set, keeps up with what others write and with what is not sent, and carries
 * commands out. `tell` is called when there is something else to show.
 */
export class Session {
  told: Told | null = null;
  /** What the checks of the newest revision found. */
  findings: FindingsView[] = [];
  private reports = "";
  private origin: Origin | null = null;
  private number: string | null = null;
  private branch = NOT_LOOKED;
  /** Where the clone is served by itself, while the server is away. */
  private house: CloneHouse | null = null;
  private asksServerAt = 0;
  private awaySince: number | null = null;
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
    this.house?.close();
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

  /** Looks at the server; while that is away, at the clone by itself. */
  private async look(): Promise<void> {
    const isBack = this.house !== null && Date.now() >= this.asksServerAt && (await this.isServerBack());
    if (isBack) this.log("The server is back: this is what it has. lens sync hands over what you wrote meanwhile.");
    try {
      await this.lookThere();
    } catch (error) {
      if (this.house !== null) {
        // Whoever had begun to serve the clone has ended it: the next look begins from the beginning.
        if (error instanceof Away) Object.assign(this, { house: null, origin: null });
        throw error;
      }
      if (!(error instanceof NoServer || (error instanceof Away && (await this.isAwayForLong())))) throw error;
      await this.goOn(error.message, error instanceof Away);
      await this.lookThere();
    }
    this.awaySince = null;
  }

  /** Whether the server has been away for a while, and there is something to go on with meanwhile. */
  private async isAwayForLong(): Promise<boolean> {
    this.awaySince ??= Date.now();
    if (Date.now() - this.awaySince < PATIENCE) return false;
    const { out } = await gitHere(this.folder, ["for-each-ref", "--count=1", "refs/lens/ledger"]);
    return out !== "";
  }

  /** Goes on with the clone by itself. */
  private async goOn(why: string, asIs: boolean): Promise<void> {
    const house = new CloneHouse(this.folder, this.gitFolder, this.options.remote, asIs);
    this.origin = await house.open();
    this.house = house;
    // One that there is none of does not come back.
    this.asksServerAt = asIs ? Date.now() + ASKED_EVERY : Number.POSITIVE_INFINITY;
    this.told = null;
    this.branch = NOT_LOOKED;
    this.log(
      `${why} Going on with this clone by itself: what you write is kept in its ledger, and lens sync hands it over.`,
    );
  }

  private async isServerBack(): Promise<boolean> {
    this.asksServerAt = Date.now() + ASKED_EVERY;
    try {
      const server = await originOf(this.folder, this.options.remote);
      await askServer(server, "/api/health", anything);
      this.house?.close();
      Object.assign(this, { house: null, origin: server, told: null, branch: NOT_LOOKED });
      return true;
    } catch (error) {
      if (error instanceof Stop) return false;
      throw error;
    }
  }

  private async lookThere(): Promise<void> {
    const branch = this.branchNow();
    if (this.origin === null || branch !== this.branch) {
      this.origin ??= await originOf(this.folder, this.options.remote);
      this.branch = branch;
      this.number = this.options.change ?? (await this.numberOf(branch));
      this.told = null;
      this.findings = [];
      this.reports = "";
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
    await this.lookAtFindings(this.origin, this.number);
  }

  /** Findings are asked for when a check of the newest revision has reported. */
  private async lookAtFindings(origin: Origin, number: string): Promise<void> {
    const reports = this.told ? checksOf(this.told.change).flatMap(({ report }) => report ?? []) : [];
    if (reports.join() === this.reports) return;
    const path = changePath(origin, number, "/findings");
    this.findings = reports.length === 0 ? [] : await askServer(origin, path, v.array(findingsAnswer));
    this.reports = reports.join();
    this.tell();
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
    const { head } = newest(this.told.change);
    const key = `${head}\0${path}`;
    const kept = this.texts.get(key);
    if (kept !== undefined) return kept;
    const made = (async () => {
      await this.bring(head);
      const { code, out } = await gitHere(this.folder, ["cat-file", "blob", `${head}:${path}`]);
      return code === 0 ? out : null;
    })();
    this.texts.set(key, made);
    return made;
  }

  /** Brings the newest revision into the clone, where it is not there yet. What a fetch of one's own has noted stays. */
  private async bring(head: string): Promise<void> {
    const { id, revisions } = this.need().change;
    const here = await gitHere(this.folder, ["cat-file", "-e", `${head}^{commit}`]);
    if (here.code === 0) return;
    const ref = `refs/lens/${id}/r${newest({ revisions }).number}/head`;
    const options = ["--quiet", "--no-write-fetch-head", "--end-of-options"];
    await gitHere(this.folder, ["fetch", ...options, this.options.remote, ref]);
  }

  /** How the newest revision changes a file, as a patch. */
  async changesOf(path: string): Promise<string> {
    const { head, base } = newest(this.need().change);
    await this.pushed(path);
    const options = ["--no-color", "--no-ext-diff", "--no-textconv", "--histogram", "-M"];
    const { code, out } = await gitHere(this.folder, ["diff", ...options, "--end-of-options", base, head, "--", path]);
    if (code !== 0) throw new Stop("The newest revision is not in this clone, and cannot be brought here.");
    return out;
  }

  /** Takes a suggestion as the next revision of the change set, and brings that here where nothing of one's own is in its way. */
  async takeForReal(thread: string, suggestion: string): Promise<string> {
    const [origin, number] = this.place();
    const { mine, change } = this.need();
    const others = mine.picked.filter((id) => id !== suggestion).length;
    if (others > 0)
      throw new Stop(`${counted(others, "other suggestion")} would be taken along, which you have picked on the page.`);
    const json = { thread, suggestion, picked: true };
    await askServer(origin, changePath(origin, number, "/picks"), anything, { json, method: "PUT" });
    await this.carryOut({ kind: "take", message: mine.pickMessage || "Take a suggestion" });
    const made = `r${newest(this.need().change).number} takes it.`;
    const { head } = newest(this.need().change);
    await this.bring(head);
    const isHere = this.branchNow() === change.source;
    const { code } = isHere ? await gitHere(this.folder, ["merge", "--quiet", "--ff-only", head]) : { code: 1 };
    return code === 0
      ? `${made} It is here, too.`
      : `${made} git pull brings it here, once nothing of yours is in its way.`;
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

  /** The newest revision that is part of what is checked out here: what somebody has before their eyes. Null for none. */
  async checkedOut(): Promise<number | null> {
    for (const { number, head } of this.need().change.revisions.toReversed()) {
      const { code } = await gitHere(this.folder, ["merge-base", "--is-ancestor", head, "HEAD"], {
        // One that was never brought here is not checked out.
        heard: () => undefined,
      });
      if (code === 0) return number;
    }
    return null;
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
