import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import type { Outcome } from "@/core/plain/outcome";
import type { CommandRequest } from "@/core/review/families/table";
import type { Role } from "@/core/review/roles";
import type { ChangeSet } from "@/core/review/state";
import { git } from "@/git/run";
import { addPerson, findPerson, setRole } from "../access/people";
import type { Person } from "../access/person";
import { addRepository, folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { bareSettings } from "../app/settings";
import { findChange } from "../changes/changes";
import { carryOut } from "../changes/requests";
import { openChange } from "../changes/revisions/opening";
import { afterPush } from "../git-access/pushing/after";
import { beforePush } from "../git-access/pushing/before";
import { settleIntents } from "../refs/both";
import { opened } from "./opened";

/** For tests: a real installation in a temporary folder, real git, real people. Time goes on by a second at each look at the clock. */
export class Bench {
  app!: AppContext;
  private time = Date.UTC(2026, 0, 5, 8);
  readonly people = new Map<string, Person>();
  private constructor(readonly folder: string) {}

  static async set(): Promise<Bench> {
    const bench = new Bench(mkdtempSync(join(tmpdir(), "lens-bench-")));
    await bench.start();
    return bench;
  }

  async start(): Promise<void> {
    const root = process.env.LENS_ROOT ?? process.cwd();
    process.env.LENS_LOG = "silent";
    this.app = await opened(bareSettings(join(this.folder, "data"), root), { now: () => (this.time += 1000) });
    await settleIntents(this.app);
  }

  /** Lets time go by, in milliseconds. */
  pass(milliseconds: number): void {
    this.time += milliseconds;
  }

  async clear(): Promise<void> {
    await this.app.close();
    rmSync(this.folder, { recursive: true, force: true });
  }

  async person(
    name: string,
    roles: Record<string, Role> = {},
    more: { machine?: boolean; owner?: string } = {},
  ): Promise<Person> {
    value(
      await addPerson(this.app, {
        name,
        fullName: `${name} Example`,
        email: `${name}@x.example`,
        password: "long enough",
        ...more,
      }),
    );
    for (const [repository, role] of Object.entries(roles)) value(await setRole(this.app, name, repository, role));
    const person = (await findPerson(this.app.db, name))!;
    this.people.set(name, person);
    return person;
  }

  /** A work tree with branches; each is a list of commits, each commit a set of files (null removes one), made on top of `main`. */
  async repository(
    name: string,
    branches: Record<string, Record<string, string | Uint8Array | null>[]>,
  ): Promise<string> {
    const folder = join(this.folder, "work", name);
    mkdirSync(folder, { recursive: true });
    await this.git(folder, "init", "--quiet", "--initial-branch=main");
    for (const [branch, commits] of Object.entries(branches)) {
      if (branch !== "main") await this.git(folder, "checkout", "--quiet", "-B", branch, "main");
      for (const [i, files] of commits.entries()) await this.commit(folder, `${branch} ${i + 1}`, files);
    }
    if (Object.keys(branches).length > 0) await this.git(folder, "checkout", "--quiet", "main");
    return folder;
  }

  async commit(folder: string, message: string, files: Record<string, string | Uint8Array | null>): Promise<void> {
    for (const [path, text] of Object.entries(files)) {
      const place = join(folder, path);
      mkdirSync(dirname(place), { recursive: true });
      if (text === null) rmSync(place);
      else writeFileSync(place, text);
    }
    await this.git(folder, "add", "--all");
    await this.git(folder, "commit", "--quiet", "--allow-empty", "-m", message);
  }

  async takeIn(name: string, folder: string): Promise<void> {
    value(await addRepository(this.app, name, { kind: "folder", path: folder }));
  }

  async git(folder: string, ...args: string[]): Promise<string> {
    const who = { GIT_AUTHOR_NAME: "T", GIT_AUTHOR_EMAIL: "t@x", GIT_COMMITTER_NAME: "T", GIT_COMMITTER_EMAIL: "t@x" };
    return (await git(null, ["-C", folder, ...args], { env: who })).stdout.toString().trim();
  }

  /**
   * Pushes a branch of the work tree as a person, as the hooks of a push tell of it, and gives what the terminal says. `to` is the full ref
   * there; `from` what is pushed, nothing for a deletion.
   */
  async push(by: string, repository: string, from: string | null, to: string, options: string[] = []): Promise<string> {
    const work = join(this.folder, "work", repository);
    const { id } = await this.app.db
      .selectFrom("repositories")
      .select("id")
      .where("name", "=", repository)
      .executeTakeFirstOrThrow();
    const folder = folderOf(this.app, { id });
    const at = async (place: string, ref: string) =>
      (await git(null, ["-C", place, "rev-parse", "--verify", "--quiet", ref], { answers: [1, 128] })).stdout
        .toString()
        .trim() || "0".repeat(40);
    const update = { ref: to, old: await at(folder, to), next: from === null ? "0".repeat(40) : await at(work, from) };
    const push = { person: by, from: "10.0.0.1", repository, updates: [update], options };
    const refusal = await beforePush(this.app, push);
    if (refusal) return refusal;
    if (from === null) await git(folder, ["update-ref", "-d", to]);
    else await git(folder, ["fetch", "--quiet", "--no-tags", work, `+${update.next}:${to}`]);
    return (await afterPush(this.app, push)).join("\n");
  }

  open(by: string, repository: string, source: string, target = "main"): Promise<Outcome<ChangeSet>> {
    return openChange(this.app, this.people.get(by)!, repository, {
      source,
      target,
      title: `Take ${source}`,
      description: "Because.",
    });
  }

  do(by: string, repository: string, number: number, request: CommandRequest): Promise<Outcome<ChangeSet>> {
    return carryOut(this.app, this.people.get(by)!, repository, number, request);
  }

  async change(repository: string, number: number, by = "ada"): Promise<{ change: ChangeSet; folder: string }> {
    return value(await findChange(this.app, this.people.get(by)!, repository, number));
  }
}

export function value<T>(outcome: Outcome<T>): T {
  if (!outcome.ok) throw new Error(outcome.refusal.reason);
  return outcome.value;
}

/** The reason of a refusal; fails when there was none. */
export function reason(outcome: Outcome<unknown>): string {
  if (outcome.ok) throw new Error("This was expected to be refused, and was not.");
  return outcome.refusal.reason;
}
