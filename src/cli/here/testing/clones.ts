import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { vi } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { entryPath, signedText } from "@/core/doors/ledger/ledger";
import { appendLedger } from "@/git/ledger";
import { gitText } from "@/git/run";
import { findPerson } from "@/server/access/people";
import type { Person } from "@/server/access/person";
import { findRepository } from "@/server/access/repositories";
import type { AppContext } from "@/server/app/context";
import { readSettings } from "@/server/app/settings";
import { adoptClone } from "@/server/keeping/adopt";
import { ledgerKey } from "@/server/ledger/keys";
import { value } from "@/server/testing/bench";
import { opened } from "@/server/testing/opened";
import { forgetStates } from "@/store/log";
import { main } from "../../main";

export type Name = "ann" | "ben" | "cy";

interface Here {
  app: AppContext;
  person: Person;
  repository: { id: string; name: string; defaultBranch: string };
}

/** Clones of one bare repository, without any server: each has its own person and its own key. */
export class Clones {
  readonly folder = mkdtempSync(join(tmpdir(), "lens-sync-"));
  readonly bare = join(this.folder, "bare.git");

  /** Each with the same first commit on main. */
  async make(): Promise<void> {
    vi.stubEnv("LENS_LOG", "silent");
    await gitText(null, ["init", "--quiet", "--bare", "--initial-branch=main", this.bare]);
    for (const name of ["ann", "ben", "cy"] as const) {
      await gitText(null, ["clone", "--quiet", this.bare, this.at(name)]);
      await this.git(name, "config", "user.name", `${name} Example`);
      await this.git(name, "config", "user.email", `${name}@x.example`);
      await this.git(name, "checkout", "--quiet", "-B", "main");
      if (name !== "ann") await this.git(name, "pull", "--quiet", "origin", "main");
      else {
        await this.commit(name, "a.txt", "one\ntwo\n", "first");
        await this.git(name, "push", "--quiet", "origin", "main");
      }
    }
  }

  clear(): void {
    vi.unstubAllEnvs();
    rmSync(this.folder, { recursive: true, force: true });
  }

  readonly at = (name: Name): string => join(this.folder, name, "quay");
  readonly git = (name: Name, ...args: string[]): Promise<string> => gitText(null, ["-C", this.at(name), ...args]);
  readonly sync = (name: Name, ...args: string[]): Promise<string> => this.lens(name, "sync", "origin", ...args);

  /** Runs a command in a clone, and gives all that it says. */
  readonly lens = async (name: Name, ...args: string[]): Promise<string> => {
    vi.stubEnv("INIT_CWD", this.at(name));
    forgetStates();
    let said = "";
    const hear = (words: string | Uint8Array, done?: unknown) => {
      said += Buffer.from(words as Uint8Array).toString();
      if (typeof done === "function") done();
      return true;
    };
    vi.spyOn(process.stdout, "write").mockImplementation(hear as typeof process.stdout.write);
    vi.spyOn(process.stderr, "write").mockImplementation(hear as typeof process.stderr.write);
    try {
      const code = await main(args);
      if (code !== 0) said += `\nended with ${code}`;
      return said;
    } finally {
      vi.restoreAllMocks();
    }
  };

  /** Does something in a clone, as its workspace would. */
  readonly within = async <T>(name: Name, action: (here: Here) => Promise<T>): Promise<T> => {
    const data = join(this.at(name), ".git", "lens", "here");
    const settings = { ...value(readSettings({ LENS_DATA: data, LENS_ROOT: process.cwd() })), alone: true };
    // One process for all of them: what it remembers of a change set is that of another clone.
    forgetStates();
    const app = await opened(settings);
    try {
      const owner = { name, fullName: `${name} Example`, email: `${name}@x.example` };
      const clone = { folder: join(this.at(name), ".git"), name: "quay", defaultBranch: "main" };
      value(await adoptClone(app, clone, owner));
      const [person, repository] = [await findPerson(app.db, name), await findRepository(app.db, "quay")];
      return await action({ app, person: person!, repository: repository! });
    } finally {
      await app.close();
    }
  };

  readonly keyOf = (name: Name) => this.within(name, async ({ app }) => (await ledgerKey(app)).id);
  readonly idOf = (name: Name) => this.within(name, async ({ person }) => person.id);

  /** An entry that a clone signs without having decided anything, in its own ledger; gives its id. */
  readonly forge = (
    name: Name,
    said: { kind: string; stream: string; id?: string; by?: string; data: Record<string, unknown> },
  ): Promise<string> =>
    this.within(name, async ({ app, person, repository }) => {
      const key = await ledgerKey(app);
      const event = { id: app.newId(), version: 1, by: person.id, at: Date.now(), ...said };
      const entry = { event, signature: { key: key.id, value: key.sign(signedText(event)) } };
      const { id, fullName } = person;
      const files: [string, string][] = [
        ["format", "1\n"],
        [`keys/${key.id}.json`, `${canonical({ kind: "ed25519", public: key.public })}\n`],
        [`people/${id}.json`, `${canonical({ id, name, fullName })}\n`],
        [entryPath(event.id), `${canonical(entry)}\n`],
      ];
      const place = join(app.settings.data, "repositories", `${repository.id}.git`);
      await appendLedger(place, said.stream, [{ files, author: name, at: Date.now(), message: "forged\n" }]);
      return event.id;
    });

  readonly commit = async (name: Name, file: string, text: string, message: string): Promise<void> => {
    writeFileSync(join(this.at(name), file), text);
    await this.git(name, "add", "--all");
    await this.git(name, "commit", "--quiet", "-m", message);
  };
}
