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

/**
 * Reads objects of one repository through one long-lived `git cat-file --batch-command`. Answers come in the order of the questions.
 * The process ends by itself after a while without questions and is started again by the next one.
 */
export class ObjectReader {
  private child: ChildProcessWithoutNullStreams | null = null;
  private queue: Waiting[] = [];
  private chunks: Buffer[] = [];
  private held = 0;
  private wanted = -1;
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

  close(): void {
    if (this.idle) clearTimeout(this.idle);
    this.child?.stdin.end();
    this.child = null;
  }

  private ask(what: "contents" | "info", id: string): Promise<Buffer | null> {
    if (!isObjectId(id)) return Promise.reject(new Error("That is not an object id."));
    return new Promise((resolve, reject) => {
      const child = this.start();
      this.queue.push({ what, resolve, reject });
      child.stdin.write(`${what} ${id}\n`);
    });
  }

  private start(): ChildProcessWithoutNullStreams {
    if (this.idle) clearTimeout(this.idle);
    this.idle = null;
    if (this.child) return this.child;
    const format = "--batch-command=%(objectname) %(objecttype) %(objectsize)";
    const child = spawn("git", ["--git-dir", this.folder, "cat-file", format], { env: gitEnvironment() });
    this.child = child;
    this.chunks = [];
    this.held = 0;
    this.wanted = -1;
    let complaint = "";
    child.stderr.on("data", (chunk) => {
      complaint += chunk;
    });
    child.stdin.on("error", () => undefined);
    child.stdout.on("data", (chunk: Buffer) => this.take(chunk));
    child.on("error", (error) => this.fail(child, error));
    child.on("close", () => this.fail(child, new Error(`Reading objects ended early. ${complaint}`.trim())));
    return child;
  }

  private fail(child: ChildProcessWithoutNullStreams, error: Error): void {
    if (this.child === child) this.child = null;
    const left = this.queue;
    this.queue = [];
    for (const { reject } of left) reject(error);
  }

  /** `info` and `contents` share their first line; only `contents` is followed by the bytes, which `wanted` counts with their newline. */
  private take(chunk: Buffer): void {
    this.chunks.push(chunk);
    this.held += chunk.length;
    while (this.queue.length > 0) {
      if (this.wanted >= 0) {
        if (this.held < this.wanted) return;
        const all = this.join();
        this.answer(all.subarray(0, this.wanted - 1));
        this.keep(all.subarray(this.wanted));
        this.wanted = -1;
        continue;
      }
      const all = this.join();
      const end = all.indexOf(10);
      if (end < 0) return;
      const [, type, size] = all.subarray(0, end).toString().split(" ");
      this.keep(all.subarray(end + 1));
      if (type === "missing" || type === "ambiguous") this.answer(null);
      else if (this.queue[0].what === "info") this.answer(Buffer.from(size));
      else this.wanted = Number(size) + 1;
    }
  }

  private join(): Buffer {
    const all = this.chunks.length === 1 ? this.chunks[0] : Buffer.concat(this.chunks);
    this.keep(all);
    return all;
  }

  private keep(rest: Buffer): void {
    this.chunks = [rest];
    this.held = rest.length;
  }

  private answer(blob: Buffer | null): void {
    const waiting = this.queue.shift();
    waiting?.resolve(blob);
    if (this.queue.length === 0) {
      this.idle = setTimeout(() => this.close(), this.idleAfter);
      this.idle.unref();
    }
  }
}
