import type { LineAnchor } from "@/core/anchor/anchor";
import type { Outcome } from "@/core/plain/outcome";
import type { CommandRequest } from "@/core/review/families/table";
import type { Weight } from "@/core/review/shapes";
import { git } from "@/git/run";
import type { Person } from "@/server/access/person";
import { enter, folderOf } from "@/server/access/repositories";
import type { AppContext } from "@/server/app/context";
import { findChange } from "@/server/changes/changes";
import { carryOut } from "@/server/changes/requests";
import { openChange } from "@/server/changes/revisions/opening";
import { messageOfPicked, pick, pickedOf } from "@/server/changes/revisions/taking";
import { keepUnsent } from "@/server/changes/unsent";
import type { PersonName as Colleague } from "./people";

export type PersonName = Colleague | "gauge";

/** Tells what happened at the harbour office: each deed is that of a person, at a time that is said. */
export class Story {
  protected readonly people = new Map<PersonName, Person>();
  constructor(
    readonly app: AppContext,
    protected readonly clock: { now: number },
    protected readonly workshop: string,
  ) {}

  at(time: string): void {
    this.clock.now = Date.parse(`${time}:00Z`);
  }

  who(name: PersonName): Person {
    return this.people.get(name)!;
  }

  async open(
    by: PersonName,
    repository: string,
    source: string,
    title: string,
    description: string,
    draft = false,
    target = "main",
  ): Promise<number> {
    const request = { source, target, title, description, draft };
    return need(await openChange(this.app, this.who(by), repository, request)).number;
  }

  async do(by: PersonName, repository: string, number: number, request: CommandRequest): Promise<void> {
    need(await carryOut(this.app, this.who(by), repository, number, request));
  }

  /** Leaves an unsent remark on the first line that reads like this. */
  async remark(
    by: PersonName,
    repository: string,
    number: number,
    side: LineAnchor["side"],
    path: string,
    line: string,
    body: string,
    { weight = "settle", suggest }: { weight?: Weight; suggest?: string[] } = {},
  ): Promise<void> {
    const { change, folder } = need(await findChange(this.app, this.who(by), repository, number));
    const revision = change.revisions[change.revisions.length - 1];
    const place = `${side === "new" ? revision.head : revision.base}:${path}`;
    const blob = (await git(folder, ["rev-parse", "--verify", "--end-of-options", place])).stdout.toString().trim();
    const text = (await git(folder, ["cat-file", "blob", blob])).stdout.toString();
    const start = text.split("\n").indexOf(line) + 1;
    const anchor = { kind: "lines" as const, revision: revision.number, blob, side, path, start, end: start };
    const suggestions = suggest ? [{ id: this.app.newId(), start, end: start, lines: suggest }] : [];
    const note = { kind: "remark" as const, anchor, body, weight, suggestions };
    need(await keepUnsent(this.app, this.who(by), change, folder, this.app.newId(), note));
  }

  /** Picks every suggestion there is, and takes them in one commit. */
  async takeAll(by: PersonName, repository: string, number: number): Promise<void> {
    const { change } = need(await findChange(this.app, this.who(by), repository, number));
    for (const { id: thread, suggestions } of change.threads) {
      for (const { id: suggestion } of suggestions)
        need(await pick(this.app, this.who(by), change, { thread, suggestion, picked: true }));
    }
    const message = messageOfPicked(await pickedOf(this.app.db, this.who(by), change));
    await this.do(by, repository, number, { kind: "take", message });
  }

  async review(
    by: PersonName,
    repository: string,
    number: number,
    verdict: "approve" | "request-changes" | "none",
    remark: string,
  ): Promise<void> {
    const { change } = need(await findChange(this.app, this.who(by), repository, number));
    await this.do(by, repository, number, { kind: "send-review", revision: change.revisions.length, verdict, remark });
  }

  async reply(by: PersonName, repository: string, number: number, thread: number, body: string): Promise<void> {
    const { change } = need(await findChange(this.app, this.who(by), repository, number));
    await this.do(by, repository, number, { kind: "reply", thread: change.threads[thread].id, body });
  }

  async task(by: PersonName, repository: string, number: number, body: string, to: PersonName): Promise<void> {
    const { change, folder } = need(await findChange(this.app, this.who(by), repository, number));
    const note = { kind: "task" as const, body, assignee: this.who(to).id };
    need(await keepUnsent(this.app, this.who(by), change, folder, this.app.newId(), note));
  }

  /** Brings a branch from where its author works into the repository that is served. */
  async bring(repository: string, from: string, branch: string): Promise<void> {
    const entered = need(await enter(this.app, this.who("mirela"), repository));
    await git(folderOf(this.app, entered.repository), [
      "fetch",
      "--quiet",
      "--end-of-options",
      from,
      `+refs/heads/${branch}:refs/heads/${branch}`,
    ]);
  }
}

export function need<T>(outcome: Outcome<T>): T {
  if (!outcome.ok) throw new Error(`The demo could not be made: ${outcome.refusal.reason}`);
  return outcome.value;
}
