import { readFileSync } from "node:fs";
import { join, relative, resolve, sep } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import type { TextDocuments } from "vscode-languageserver/node";
import type { TextDocument } from "vscode-languageserver-textdocument";
import { LineMap } from "@/core/doors/editor/placed";
import type { Session } from "./session";

/** The files of a clone as they are worked on: those that are open as the editor has them, others as they lie on the disk. */
export class WorkingFiles {
  private readonly maps = new Map<string, { pushed: string; working: string; map: LineMap }>();

  constructor(
    private readonly session: Session,
    private readonly documents: TextDocuments<TextDocument>,
  ) {}

  /** The path of a document within the clone, with slashes; null for what lies elsewhere. */
  pathOf(uri: string): string | null {
    if (!uri.startsWith("file:")) return null;
    const path = relative(this.session.folder, fileURLToPath(uri));
    return path === "" || path.startsWith("..") || resolve(path) === path || path.startsWith(`.git${sep}`)
      ? null
      : path.split(sep).join("/");
  }

  uriOf(path: string): string {
    return pathToFileURL(join(this.session.folder, path)).href;
  }

  /** The text of a document; empty where there is none. */
  textOf(uri: string): string {
    const open = this.documents.get(uri);
    if (open) return open.getText();
    try {
      return readFileSync(fileURLToPath(uri), "utf8");
    } catch {
      return "";
    }
  }

  /** How the pushed text of a file and the one that is worked on belong together. */
  async mapOf(path: string): Promise<LineMap> {
    const pushed = (await this.session.pushed(path)) ?? "";
    const working = this.textOf(this.uriOf(path));
    const kept = this.maps.get(path);
    if (kept && kept.pushed === pushed && kept.working === working) return kept.map;
    const map = new LineMap(pushed, working);
    this.maps.set(path, { pushed, working, map });
    return map;
  }
}
