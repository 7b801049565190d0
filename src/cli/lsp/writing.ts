import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { basename, join } from "node:path";
import { visible } from "@/core/cautions/visible";
import { Stop } from "../stop";
import type { Session } from "./session";

/** What a text that is written in the editor becomes once it is saved. */
export type Written =
  | { kind: "reply"; thread: string; resolves: boolean }
  | { kind: "remark"; path: string; blob: string; revision: number; start: number; end: number };

const HELP = "Write below, and save: it is kept as not sent, as on the page. Save it empty to drop it.";

/** Small files in which people write; each is named by the note that it becomes. */
export class Writing {
  constructor(private readonly session: Session) {}

  /** Makes the file of a note, with what is said about it in lines behind `>`, and what was written so far. Gives its path. */
  begin(id: string, written: Written, about: readonly string[], body: string): string {
    // It is a part of the name of a file, and servers may say anything.
    if (!/^[0-9A-Za-z-]{10,40}$/.test(id)) throw new Stop("The server names this note in a way that cannot be a file.");
    mkdirSync(this.session.writing, { recursive: true });
    const file = join(this.session.writing, `${id}.md`);
    writeFileSync(join(this.session.writing, `${id}.json`), JSON.stringify(written), { mode: 0o600 });
    const head = [HELP, "", ...about].map((line) => `> ${line}`.trimEnd());
    writeFileSync(file, `${head.join("\n")}\n\n${body}\n`, { mode: 0o600 });
    return file;
  }

  /** Puts the changes of a file where they can be read, with what does not show written out. Gives the path. */
  shown(path: string, patch: string): string {
    mkdirSync(this.session.writing, { recursive: true });
    const file = join(this.session.writing, `changes of ${path.replace(/[^\w.-]+/g, "-").slice(-80)}.diff`);
    writeFileSync(file, patch.split("\n").map(visible).join("\n"), { mode: 0o600 });
    return file;
  }

  /** Whether a file is one of these. */
  isOurs(file: string): boolean {
    return file.startsWith(`${this.session.writing}/`) && file.endsWith(".md");
  }

  /** Takes what was saved. */
  async saved(file: string): Promise<string> {
    const id = basename(file, ".md");
    const written = JSON.parse(readFileSync(join(this.session.writing, `${id}.json`), "utf8")) as Written;
    const body = readFileSync(file, "utf8")
      .split(/\r?\n/)
      .filter((line) => !line.startsWith(">"))
      .join("\n")
      .trim();
    if (written.kind === "reply")
      await this.session.keep(id, { kind: "reply", thread: written.thread, body, resolves: written.resolves });
    else {
      const { path, blob, revision, start, end } = written;
      const anchor = { kind: "lines" as const, side: "new" as const, path, blob, revision, start, end };
      await this.session.keep(id, { kind: "remark", anchor, body });
    }
    if (body === "")
      for (const end of ["md", "json"]) rmSync(join(this.session.writing, `${id}.${end}`), { force: true });
    return body === "" ? "Dropped." : "Kept, and not sent yet.";
  }
}
