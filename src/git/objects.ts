import { type ChildProcessWithoutNullStreams, spawn } from "node:child_process";
import { LRUCache } from "lru-cache";
import { isObjectId } from "@/core/diff/tree";
import { looseRef } from "./loose-ref";
import { outside } from "./outside";
import { gitEnvironment } from "./run";

/** Blobs larger than this are not read into memory. */
export const LARGEST_BLOB = 64 * 1024 * 1024;

/** So many commits are known to be there without asking: more than there are branches that people look at. */
const MOST_FOUND = 1_000;

/** The full name of a ref, in which nothing asks for more than that. */
const REF = /^refs\/[^\s^~:?*[\\]+$/;

/** What is asked of git: the bytes of an object, its size, or what a name leads to. */
type Question = "contents" | "size" | "name";

interface Waiting {
  what: Question;
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
  /** What is going to be asked: all questions of one turn go in one piece. */
  asking: string;
}

/**
 * Reads objects of one repository through one long-lived `git cat-file --batch-command`. Answers come in the order of the questions.
 * The process ends by itself after a while without questions and is started again by the next one.
 */
export class ObjectReader {
  private conversation: Conversation | null = null;
  private idle: NodeJS.Timeout | null = null;
  /** Commits that git found here. */
  private readonly found = new LRUCache<string, true>({ max: MOST_FOUND });

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
    const answer = await this.ask("size", id);
    return answer === null ? null : Number(answer.toString());
  }

  /** The commit that a ref leads to now, by its full name, or that an id is of; null where there is none. git looks at a ref anew each time. */
  async commitOf(name: string): Promise<string | null> {
    return (await this.commitsOf([name]))[0];
  }

  /**
   * The same of a ref that has a file of its own, which is read as git would: a question to git takes ten times as long. Where it names what git has not
   * found before, git is asked: after a crash there may be the name of a commit that is not there.
   */
  async tipOf(ref: string): Promise<string | null> {
    const named = REF.test(ref) ? looseRef(this.folder, ref) : null;
    if (named !== null && this.found.has(named)) return named;
    const commit = await this.commitOf(ref);
    if (commit !== null) this.found.set(commit, true);
    return commit;
  }

  /** The same of several, in their order: asked together, and answered at once. */
  commitsOf(names: readonly string[]): Promise<(string | null)[]> {
    const found: (string | null)[] = names.map(() => null);
    const asked = names.flatMap((name, at) => (isObjectId(name) || REF.test(name) ? [at] : []));
    if (asked.length === 0) return Promise.resolve(found);
    return new Promise((resolve, reject) => {
      let open = asked.length;
      for (const at of asked)
        this.put("name", `${names[at]}^{commit}`, {
          reject,
          resolve: (answer) => {
            found[at] = answer === null ? null : answer.toString();
            if (--open === 0) resolve(found);
          },
        });
    });
  }

  /** The tree of a commit, by its id, or of a tree itself; null where there is none. However long a commit is, it is not read for that. */
  async treeOf(id: string): Promise<string | null> {
    if (!isObjectId(id)) throw new Error("That is not an object id.");
    const answer = await this.ask("name", `${id}^{tree}`);
    return answer === null ? null : answer.toString();
  }

  /** The first parent of a commit, by its id; null where it has none, or there is none of that id. */
  async parentOf(id: string): Promise<string | null> {
    if (!isObjectId(id)) throw new Error("That is not an object id.");
    const answer = await this.ask("name", `${id}^1`);
    return answer === null ? null : answer.toString();
  }

  /** Lets git end once it has answered what was asked. A later question starts it anew. */
  close(): void {
    if (this.idle) clearTimeout(this.idle);
    if (this.conversation) {
      flush(this.conversation);
      this.conversation.child.stdin.end();
    }
    this.conversation = null;
  }

  private ask(what: Question, name: string): Promise<Buffer | null> {
    if (what !== "name" && !isObjectId(name)) return Promise.reject(new Error("That is not an object id."));
    return new Promise((resolve, reject) => this.put(what, name, { resolve, reject }));
  }

  private put(what: Question, name: string, waiting: Omit<Waiting, "what">): void {
    this.conversation ??= this.start();
    const { conversation } = this;
    if (conversation.queue.length === 0) {
      if (this.idle) clearTimeout(this.idle);
      hold(conversation.child, true);
    }
    conversation.queue.push({ what, resolve: waiting.resolve, reject: waiting.reject });
    if (conversation.asking === "") process.nextTick(flush, conversation);
    conversation.asking += `${what === "contents" ? "contents" : "info"} ${name}\n`;
  }

  private start(): Conversation {
    const format = "--batch-command=%(objectname) %(objecttype) %(objectsize)";
    // With a buffer of its own, git writes the answers to all that is asked together in one piece, and not each by itself.
    const args = ["--git-dir", this.folder, "cat-file", "--buffer", format];
    const child = outside(() => spawn("git", args, { env: gitEnvironment() }));
    const conversation: Conversation = { child, queue: [], chunks: [], held: 0, wanted: -1, asking: "" };
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

  /** Both kinds of answers share their first line; only that with the contents is followed by the bytes. */
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
      const [id, type, size] = all.subarray(0, end).toString().split(" ");
      keep(conversation, all.subarray(end + 1));
      if (type === "missing" || type === "ambiguous") this.answer(conversation, null);
      else if (queue[0].what !== "contents")
        this.answer(conversation, Buffer.from(queue[0].what === "size" ? size : id));
      else conversation.wanted = Number(size) + 1;
    }
  }

  private answer(conversation: Conversation, blob: Buffer | null): void {
    conversation.queue.shift()?.resolve(blob);
    if (conversation.queue.length > 0 || this.conversation !== conversation) return;
    hold(conversation.child, false);
    if (this.idle) clearTimeout(this.idle);
    this.idle = setTimeout(() => this.close(), this.idleAfter);
    this.idle.unref();
  }
}

function flush(conversation: Conversation): void {
  if (conversation.asking !== "") conversation.child.stdin.write(`${conversation.asking}flush\n`);
  conversation.asking = "";
}

/** Whether this process goes on as long as git runs: it does while something was asked, and need not wait for one that rests. */
function hold(child: ChildProcessWithoutNullStreams, on: boolean): void {
  const all = [child, child.stdin, child.stdout, child.stderr] as unknown as { ref?(): void; unref?(): void }[];
  for (const one of all) (on ? one.ref : one.unref)?.call(one);
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
