import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { git } from "@/git/run";

export interface Writer {
  fullName: string;
  email: string;
}

/** What becomes of a file in a commit: new text or bytes, an edit of what it was, or null to remove it. */
export type Edit = string | Uint8Array | null | ((text: string) => string);

/** Builds a real repository commit by commit, with the same ids every time: names and dates are given, never taken. */
export class GitHistory {
  private constructor(readonly folder: string) {}

  static async begin(folder: string): Promise<GitHistory> {
    mkdirSync(folder, { recursive: true });
    await git(null, ["init", "--quiet", "--initial-branch=main", "--end-of-options", folder]);
    return new GitHistory(folder);
  }

  async commit(by: Writer, at: string, message: string, edits: Record<string, Edit>): Promise<string> {
    for (const [path, edit] of Object.entries(edits)) {
      const place = join(this.folder, path);
      if (edit === null) rmSync(place);
      else {
        mkdirSync(dirname(place), { recursive: true });
        writeFileSync(place, typeof edit === "function" ? edit(readFileSync(place, "utf8")) : edit);
      }
    }
    await this.run("add", "--all");
    const seconds = Math.floor(Date.parse(`${at}Z`) / 1000);
    const who = (role: string) => ({
      [`GIT_${role}_NAME`]: by.fullName,
      [`GIT_${role}_EMAIL`]: by.email,
      [`GIT_${role}_DATE`]: `${seconds} +0000`,
    });
    await git(join(this.folder, ".git"), ["--work-tree", this.folder, "commit", "--quiet", "-F", "-"], {
      input: message,
      env: { ...who("AUTHOR"), ...who("COMMITTER") },
    });
    return (await this.run("rev-parse", "HEAD")).trim();
  }

  /** Makes a branch at a commit (the newest of main unless said) and goes on there. */
  branch(name: string, from = "main"): Promise<string> {
    return this.run("checkout", "--quiet", "-B", name, from);
  }

  checkout(name: string): Promise<string> {
    return this.run("checkout", "--quiet", name);
  }

  private async run(...args: string[]): Promise<string> {
    return (await git(join(this.folder, ".git"), ["--work-tree", this.folder, ...args])).stdout.toString();
  }
}

/** An edit that replaces one passage, and fails when the passage is not there: a demo that silently changes nothing helps nobody. */
export function change(from: string, to: string): (text: string) => string {
  return (text) => {
    if (!text.includes(from)) throw new Error(`The demo's history has no passage “${from}”.`);
    return text.replace(from, () => to);
  };
}

/** Several edits, one after the other. */
export function changes(...edits: ((text: string) => string)[]): (text: string) => string {
  return (text) => edits.reduce((now, edit) => edit(now), text);
}
