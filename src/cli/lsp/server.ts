import { resolve } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import * as v from "valibot";
import {
  type CodeAction,
  CodeActionKind,
  type CodeLens,
  type Connection,
  type Diagnostic,
  DiagnosticSeverity,
  type Hover,
  type InitializeParams,
  type InitializeResult,
  type InlayHint,
  MessageType,
  TextDocumentSyncKind,
  TextDocuments,
} from "vscode-languageserver/node";
import { TextDocument } from "vscode-languageserver-textdocument";
import { inWorking, type Placed, pathsWithWords, threadsIn, unsentIn } from "@/core/doors/editor/placed";
import { beginning, besides, foundBesides, threadMarkdown } from "@/core/doors/editor/shown";
import { counted } from "@/core/plain/words";
import type { Thread } from "@/core/review/state";
import { Stop } from "../stop";
import { COMMANDS, type CommandName, type Desk } from "./commands";
import { Session } from "./session";
import { takingsOf } from "./takings";
import { WorkingFiles } from "./working-files";
import { Writing } from "./writing";

const SEVERITY = {
  error: DiagnosticSeverity.Error,
  warning: DiagnosticSeverity.Warning,
  information: DiagnosticSeverity.Information,
  hint: DiagnosticSeverity.Hint,
};
/** So long after the last key the places are looked up again, in milliseconds. */
const TYPED = 150;

const given = v.object({ change: v.optional(v.union([v.string(), v.number()])), remote: v.optional(v.string()) });

/**
 * Speaks the Language Server Protocol on a connection: shows the threads of the change set of a clone's branch in its files, and takes what is done
 * with them. A file that is open is as the editor has it; any other is as it is on the disk.
 */
export class LanguageServer {
  private session: Session | null = null;
  private writing: Writing | null = null;
  private files: WorkingFiles | null = null;
  private readonly documents = new TextDocuments(TextDocument);
  private readonly told = new Set<string>();
  private hidden = false;
  private showsDocuments = false;
  private refreshesLenses = false;
  private refreshesHints = false;
  private readonly waiting = new Map<string, NodeJS.Timeout>();

  constructor(private readonly connection: Connection) {
    connection.onInitialize((params) => this.initialize(params));
    connection.onInitialized(() => void this.session?.start().catch((error) => this.log((error as Error).message)));
    connection.onShutdown(() => this.session?.stop());
    connection.onHover(({ textDocument, position }) => this.hover(textDocument.uri, position.line + 1));
    connection.languages.inlayHint.on(({ textDocument, range }) =>
      this.hints(textDocument.uri, range.start.line + 1, range.end.line + 1),
    );
    connection.onCodeLens(({ textDocument }) => this.lenses(textDocument.uri));
    connection.onCodeAction(({ textDocument, range }) =>
      this.actions(textDocument.uri, range.start.line + 1, lastLine(range)),
    );
    connection.onExecuteCommand(({ command, arguments: args }) => this.execute(command, args?.[0]));
    this.documents.onDidOpen(({ document }) => void this.show(document.uri));
    this.documents.onDidChangeContent(({ document: { uri } }) => {
      clearTimeout(this.waiting.get(uri));
      this.waiting.set(
        uri,
        setTimeout(() => void this.show(uri), TYPED),
      );
    });
    this.documents.onDidSave(({ document: { uri } }) => void this.saved(fileURLToPath(uri)));
    this.documents.onDidClose(({ document: { uri } }) => void this.show(uri));
    this.documents.listen(connection);
  }

  private initialize({
    workspaceFolders,
    rootUri,
    capabilities,
    initializationOptions,
  }: InitializeParams): InitializeResult {
    const root = workspaceFolders?.[0]?.uri ?? rootUri;
    this.showsDocuments = capabilities.window?.showDocument?.support === true;
    this.refreshesLenses = capabilities.workspace?.codeLens?.refreshSupport === true;
    this.refreshesHints = capabilities.workspace?.inlayHint?.refreshSupport === true;
    const options = v.safeParse(given, initializationOptions ?? {});
    const { change, remote = "origin" } = options.success ? options.output : {};
    if (root?.startsWith("file:")) {
      const folder = fileURLToPath(root);
      const wanted = change === undefined ? null : String(change);
      this.session = new Session(
        folder,
        { remote, change: wanted },
        () => void this.showAll(),
        (words) => this.log(words),
      );
      this.writing = new Writing(this.session);
      this.files = new WorkingFiles(this.session, this.documents);
    }
    return {
      serverInfo: { name: "Earnest Lens" },
      capabilities: {
        textDocumentSync: { openClose: true, change: TextDocumentSyncKind.Incremental, save: true },
        hoverProvider: true,
        codeLensProvider: {},
        inlayHintProvider: true,
        codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix, CodeActionKind.Empty] },
        executeCommandProvider: { commands: Object.keys(COMMANDS) },
      },
    };
  }

  private log(words: string): void {
    this.connection.console.log(words);
  }

  private get said() {
    const told = this.session?.told;
    return told ? { change: told.change, histories: told.around.histories, unsent: told.mine.unsent } : null;
  }

  /** The threads of a file, where they stand now. */
  private async threadsAt(uri: string): Promise<Placed<Thread>[]> {
    const path = this.files?.pathOf(uri);
    if (!path || !this.said || this.hidden) return [];
    return inWorking(threadsIn(this.said, path), await this.files!.mapOf(path));
  }

  private async showAll(): Promise<void> {
    const found = (this.session?.findings ?? []).flatMap(({ findings }) => findings.flatMap(({ path }) => path ?? []));
    const paths =
      this.said && !this.hidden ? [...pathsWithWords(this.said), ...found].map((path) => this.files!.uriOf(path)) : [];
    for (const uri of new Set([...paths, ...this.told, ...this.documents.keys()])) await this.show(uri);
    if (this.refreshesLenses) await this.connection.sendRequest("workspace/codeLens/refresh");
    if (this.refreshesHints) await this.connection.languages.inlayHint.refresh();
  }

  private async show(uri: string): Promise<void> {
    try {
      const diagnostics = await this.diagnosticsOf(uri);
      if (diagnostics.length === 0 && !this.told.has(uri)) return;
      if (diagnostics.length > 0) this.told.add(uri);
      else this.told.delete(uri);
      await this.connection.sendDiagnostics({ uri, diagnostics });
    } catch (error) {
      this.log((error as Error).message);
    }
  }

  private async diagnosticsOf(uri: string): Promise<Diagnostic[]> {
    const path = this.files?.pathOf(uri);
    const told = this.session?.told;
    if (!path || !this.said || !told || this.hidden) return [];
    const map = await this.files!.mapOf(path);
    const shown = [
      ...besides(
        inWorking(threadsIn(this.said, path), map),
        inWorking(unsentIn(this.said, path), map),
        told.around.people,
      ),
      ...foundBesides(this.session!.findings, path, map),
    ];
    const { page } = this.session!;
    return shown.map(({ id, start, end, severity, source, message }) => ({
      range: {
        start: { line: start - 1, character: 0 },
        // Positions are in units of UTF-16, as the text is.
        end: { line: end - 1, character: map.working[end - 1]?.length ?? 0 },
      },
      severity: SEVERITY[severity],
      source,
      message,
      code: id,
      codeDescription: { href: `${page}?thread=${id}` },
    }));
  }

  private async hover(uri: string, line: number): Promise<Hover | null> {
    const people = this.session?.told?.around.people ?? {};
    const here = (await this.threadsAt(uri)).filter(({ start, end }) => start <= line && line <= end);
    if (here.length === 0) return null;
    const value = here.map(({ what }) => threadMarkdown(what, people)).join("\n\n***\n\n");
    return { contents: { kind: "markdown", value } };
  }

  /** Behind the last line of each open thread, who began it and when. */
  private async hints(uri: string, from: number, to: number): Promise<InlayHint[]> {
    const people = this.session?.told?.around.people ?? {};
    const threads = (await this.threadsAt(uri)).filter(
      ({ what, end }) => what.resolved === null && from <= end && end <= to,
    );
    if (threads.length === 0) return [];
    const { working } = await this.files!.mapOf(this.files!.pathOf(uri)!);
    return threads.map(({ what, end }) => ({
      position: { line: end - 1, character: working[end - 1]?.length ?? 0 },
      label: beginning(what, people),
      paddingLeft: true,
    }));
  }

  private async lenses(uri: string): Promise<CodeLens[]> {
    const threads = await this.threadsAt(uri);
    const open = threads.filter(({ what }) => what.resolved === null);
    if (threads.length === 0) return [];
    const path = this.files!.pathOf(uri)!;
    const { number } = this.session!.need().change;
    const title = `change set ${number}: ${open.length === 0 ? "no thread open" : `${counted(open.length, "thread")} open`}, ${threads.length - open.length} resolved`;
    const command = { title, command: "lens.next", arguments: [{ path, line: 1 }] };
    return [{ range: { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } }, command }];
  }

  private async actions(uri: string, start: number, end: number): Promise<CodeAction[]> {
    const path = this.files?.pathOf(uri);
    const told = this.session?.told;
    if (!path || !told) return [];
    const actions: CodeAction[] = [];
    const does = (title: string, command: CommandName, argument: object) =>
      actions.push({ title, kind: CodeActionKind.QuickFix, command: { title, command, arguments: [argument] } });
    for (const { what: thread, start: from, end: to, edited } of await this.threadsAt(uri)) {
      if (to < start || end < from) continue;
      if (!edited && thread.resolved === null)
        actions.push(...takingsOf(thread, uri, await this.files!.mapOf(path), this.files!.textOf(uri)));
      const [left, ...more] = thread.suggestions.filter(({ taken }) => taken === null);
      if (left && more.length === 0 && told.mine.me.take.may)
        does("Take this suggestion as the next revision", "lens.take", { thread: thread.id, suggestion: left.id });
      does("Answer this thread", "lens.reply", { thread: thread.id });
      if (thread.resolved) does("Open this thread again", "lens.reopen", { thread: thread.id });
      else does("Resolve this thread", "lens.resolve", { thread: thread.id });
    }
    does("Remark on these lines", "lens.remark", { path, start, end });
    does("Suggest what I typed here", "lens.suggest", { path, start, end });
    for (const { id, body, done, person } of told.change.tasks)
      if (done === null && (person === null || person === told.mine.me.id))
        does(`Task done: ${body.slice(0, 60)}`, "lens.tick", { task: id });
    does("Read this file’s changes", "lens.changes", { path });
    does("Next thread", "lens.next", { path, line: start });
    does("Previous thread", "lens.previous", { path, line: start });
    does("Send my review, without a verdict", "lens.send", {});
    if (told.mine.me.verdict.may) {
      does("Send my review, and approve", "lens.send", { verdict: "approve" });
      does("Send my review, and ask for changes", "lens.send", { verdict: "request-changes" });
    }
    does(this.hidden ? "Show the review" : "Hide everything of the review", "lens.hide", {});
    return actions;
  }

  private async execute(name: string, argument: unknown): Promise<string | null> {
    if (!Object.hasOwn(COMMANDS, name) || !this.session || !this.writing) return null;
    const { takes, run } = COMMANDS[name as CommandName];
    const asked = v.safeParse(takes, argument ?? {});
    if (!asked.success) return this.warn(`${name}: ${asked.issues[0].message}`);
    try {
      const says = await (run as (desk: Desk, given: unknown) => Promise<string>)(this.desk(), asked.output);
      this.tell(MessageType.Info, says);
      await this.showAll();
      return says;
    } catch (error) {
      if (error instanceof Stop) return this.warn(error.message);
      throw error;
    }
  }

  private warn(words: string): null {
    this.tell(MessageType.Warning, words);
    return null;
  }

  /** As a notification: nothing waits until somebody has put it away. */
  private tell(type: MessageType, message: string): void {
    void this.connection.sendNotification("window/showMessage", { type, message });
  }

  private desk(): Desk {
    return {
      session: this.session!,
      writing: this.writing!,
      mapOf: (path) => this.files!.mapOf(path),
      open: (file, line) => this.open(file, line),
      hide: () => {
        this.hidden = !this.hidden;
        return this.hidden;
      },
    };
  }

  private async open(file: string, line: number): Promise<void> {
    if (!this.showsDocuments) return;
    const at = { line: line - 1, character: 0 };
    const uri = pathToFileURL(resolve(this.session!.folder, file)).href;
    await this.connection.window.showDocument({ uri, takeFocus: true, selection: { start: at, end: at } });
  }

  private async saved(file: string): Promise<void> {
    if (!this.writing?.isOurs(file)) return;
    try {
      this.tell(MessageType.Info, await this.writing.saved(file));
    } catch (error) {
      this.warn(`It is kept in ${file}, and not by the server: ${(error as Error).message}`);
    }
  }
}

/** The last line that a selection touches, 1-based: one that ends at the beginning of a line does not touch that. */
function lastLine({ start, end }: { start: { line: number }; end: { line: number; character: number } }): number {
  return end.character === 0 && end.line > start.line ? end.line : end.line + 1;
}
