import { type ChildProcess, spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import {
  type Diagnostic as AnyDiagnostic,
  type CodeAction,
  createMessageConnection,
  type Hover,
  type InlayHint,
  type MessageConnection,
  StreamMessageReader,
  StreamMessageWriter,
} from "vscode-languageserver-protocol/node";
import { PATIENCE } from "./house";

const root = process.env.LENS_ROOT ?? process.cwd();

/** What this server tells is plain text. */
export type Diagnostic = AnyDiagnostic & { message: string };

/** An editor as far as the protocol tells: it has files open, and knows what is shown beside their lines. */
export class Editor {
  readonly shown = new Map<string, Diagnostic[]>();
  readonly messages: string[] = [];
  readonly opened: { path: string; line: number }[] = [];
  private version = 0;
  private constructor(
    readonly child: ChildProcess,
    readonly connection: MessageConnection,
    readonly folder: string,
  ) {}

  static async start(folder: string, env: Record<string, string>, showDocument = true): Promise<Editor> {
    const child = spawn(process.execPath, [join(root, "dist/lens.mjs"), "lsp", "--stdio"], {
      cwd: folder,
      env: { ...process.env, INIT_CWD: folder, ...env },
      stdio: ["pipe", "pipe", "ignore"],
    });
    const connection = createMessageConnection(
      new StreamMessageReader(child.stdout!),
      new StreamMessageWriter(child.stdin!),
    );
    const made = new Editor(child, connection, folder);
    connection.onNotification("textDocument/publishDiagnostics", ({ uri, diagnostics }) => {
      made.shown.set(uri, diagnostics);
    });
    for (const name of ["window/showMessage", "window/logMessage"])
      connection.onNotification(name, ({ message }) => {
        made.messages.push(message);
      });
    connection.onRequest("window/showDocument", ({ uri, selection }) => {
      made.opened.push({ path: uri, line: selection.start.line + 1 });
      return { success: true };
    });
    connection.onRequest(() => null);
    connection.listen();
    const capabilities = { window: { showDocument: { support: showDocument } } };
    await connection.sendRequest("initialize", {
      processId: process.pid,
      rootUri: pathToFileURL(folder).href,
      capabilities,
    });
    await connection.sendNotification("initialized", {});
    return made;
  }

  uri(path: string): string {
    return pathToFileURL(join(this.folder, path)).href;
  }

  open(path: string, text = readFileSync(join(this.folder, path), "utf8")): Promise<void> {
    const textDocument = { uri: this.uri(path), languageId: "x", version: ++this.version, text };
    return this.connection.sendNotification("textDocument/didOpen", { textDocument });
  }

  type(path: string, text: string): Promise<void> {
    const textDocument = { uri: this.uri(path), version: ++this.version };
    return this.connection.sendNotification("textDocument/didChange", { textDocument, contentChanges: [{ text }] });
  }

  save(path: string): Promise<void> {
    return this.connection.sendNotification("textDocument/didSave", { textDocument: { uri: this.uri(path) } });
  }

  actions(path: string, line: number): Promise<CodeAction[]> {
    const at = { line: line - 1, character: 0 };
    const asked = {
      textDocument: { uri: this.uri(path) },
      range: { start: at, end: at },
      context: { diagnostics: [] },
    };
    return this.connection.sendRequest("textDocument/codeAction", asked);
  }

  hover(path: string, line: number): Promise<Hover | null> {
    return this.connection.sendRequest("textDocument/hover", {
      textDocument: { uri: this.uri(path) },
      position: { line: line - 1, character: 0 },
    });
  }

  hints(path: string): Promise<InlayHint[]> {
    const range = { start: { line: 0, character: 0 }, end: { line: 10_000, character: 0 } };
    return this.connection.sendRequest("textDocument/inlayHint", { textDocument: { uri: this.uri(path) }, range });
  }

  run(command: string, argument: object): Promise<string | null> {
    return this.connection.sendRequest("workspace/executeCommand", { command, arguments: [argument] });
  }

  /** What is shown in a file, once it is what is waited for: a clone by itself is first served, which takes its time beside other tests. */
  async until(path: string, holds: (shown: Diagnostic[]) => boolean): Promise<Diagnostic[]> {
    for (const end = Date.now() + PATIENCE; Date.now() < end; ) {
      const shown = this.shown.get(this.uri(path)) ?? [];
      if (holds(shown)) return shown;
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
    throw new Error(
      `It never came to that. Shown in ${path}: ${JSON.stringify(this.shown.get(this.uri(path)))}; said: ${this.messages.join(" / ")}`,
    );
  }

  async close(): Promise<void> {
    await this.connection.sendRequest("shutdown");
    await this.connection.sendNotification("exit");
    this.connection.dispose();
    this.child.kill();
  }
}
