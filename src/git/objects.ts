import { type ChildProcessWithoutNullStreams, spawn } from "node:child_process";
import { isObjectId } from "@/core/diff/tree";
import { gitEnvironment } from "./run";

/** Blobs larger than this are not read into memory. */
export const LARGEST_BLOB = 64 * 1024 * 1024;

interface Waiting {
  what: "contents" | "info";
  resolve: (blob: Buffer | null) => void;
  reject: (error: Error) => void;
}

/** One running git, and the questions it has not answered yet. */
interface Conversation {
  child: ChildProcessWithoutNullStreams;
  queue: Waiting[];
  /** What came and has not been taken, in pieces; `held` is their length. */
  chunks: Buffer[];
  held: number;
  /** How many bytes the present answer still needs, its newline included; -1 before its first line. */
  wanted: number;
}

/**
 * Reads objects of one repository through one long-lived `git cat-file --batch-command`. Answers come in the order of the questions.
 * The process ends by itself after a while without questions and is started again by the next one.
 */
export class ObjectReader {
  private conversation: Conversation | null = null;
  private idle: NodeJS.Timeout | null = null;

  constructor(
    private readonly folder: string,
    private readonly idleAfter = 60_000,
  ) {}

  /** The bytes of an object; null when there is none of that id. */
  read(id: string): Promise<Buffer | null> {
    return this.ask("contents", id);
  }

  /** The size of an object in bytes; null when there is none of that id. */
  async size(id: string): Promise<number | null> {
    const answer = await this.ask("info", id);
    return answer === null ? null : Number(answer.toString());
  }

  /** Lets git end once it has answered what was asked. A later question starts it anew. */
  close(): void {
    if (this.idle) clearTimeout(this.idle);
    this.conversation?.child.stdin.end();
    this.conversation = null;
  }

  private ask(what: "contents" | "info", id: string): Promise<Buffer | null> {
    if (!isObjectId(id)) return Promise.reject(new Error("That is not an object id."));
    return new Promise((resolve, reject) => {
      this.conversation ??= this.start();
      if (this.idle) clearTimeout(this.idle);
      this.conversation.queue.push({ what, resolve, reject });
      this.conversation.child.stdin.write(`${what} ${id}\n`);
    });
  }

  private start(): Conversation {
    const format = "--batch-command=%(objectname) %(objecttype) %(objectsize)";
    const child = spawn("git", ["--git-dir", this.folder, "cat-file", format], { env: gitEnvironment() });
    const conversation: Conversation = { child, queue: [], chunks: [], held: 0, wanted: -1 };
    let complaint = "";
    child.stderr.on("data", (chunk) => {
      complaint += chunk;
    });
    child.stdin.on("error", () => undefined);
    child.stdout.on("data", (chunk: Buffer) => this.take(conversation, chunk));
    child.on("error", (error) => this.end(conversation, error));
    child.on("close", () => this.end(conversation, new Error(`Reading objects ended early. ${complaint}`.trim())));
    return conversation;
  }

  /** What git has not answered when it ends, it never will. */
  private end(conversation: Conversation, error: Error): void {
    if (this.conversation === conversation) this.conversation = null;
    for (const { reject } of conversation.queue.splice(0)) reject(error);
  }

  /** `info` and `contents` share their first line; only `contents` is followed by the bytes. */
  private take(conversation: Conversation, chunk: Buffer): void {
    const { queue } = conversation;
    conversation.chunks.push(chunk);
    conversation.held += chunk.length;
    while (queue.length > 0) {
      if (conversation.wanted >= 0) {
        if (conversation.held < conversation.wanted) return;
        const all = join(conversation);
        this.answer(conversation, all.subarray(0, conversation.wanted - 1));
        keep(conversation, all.subarray(conversation.wanted));
        conversation.wanted = -1;
        continue;
      }
      const all = join(conversation);
      const end = all.indexOf(10);
      if (end < 0) return;
      const [, type, size] = all.subarray(0, end).toString().split(" ");
      keep(conversation, all.subarray(end + 1));
      if (type === "missing" || type === "ambiguous") this.answer(conversation, null);
      else if (queue[0].what === "info") this.answer(conversation, Buffer.from(size));
      else conversation.wanted = Number(size) + 1;
    }
  }

  private answer(conversation: Conversation, blob: Buffer | null): void {
    conversation.queue.shift()?.resolve(blob);
    if (conversation.queue.length > 0 || this.conversation !== conversation) return;
    if (this.idle) clearTimeout(this.idle);
    this.idle = setTimeout(() => this.close(), this.idleAfter);
    this.idle.unref();
  }
}

function join(conversation: Conversation): Buffer {
  const { chunks } = conversation;
  const all = chunks.length === 1 ? chunks[0] : Buffer.concat(chunks);
  keep(conversation, all);
  return all;
}

function keep(conversation: Conversation, rest: Buffer): void {
  conversation.chunks = [rest];
  conversation.held = rest.length;
}
