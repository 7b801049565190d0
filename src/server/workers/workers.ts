import { once } from "node:events";
import { availableParallelism } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { MessageChannel, type ResourceLimits } from "node:worker_threads";
import type Piscina from "piscina";
import type { Report } from "@/core/checks/report";
import type { LineHistory } from "@/core/diff/history";
import type { FileChange, PairedChange } from "@/core/diff/tree";
import type { Outcome } from "@/core/plain/outcome";
import type { FoundPlace, SearchEnd } from "@/core/reading/finding/search";
import type { LeftAloneView } from "@/core/views/around-view";
import type { ConflictView } from "@/core/views/keeping-view";
import { outside } from "@/git/outside";
import { Narrow } from "../app/narrow";
import type { Followed, FollowTask } from "../following/follow-tracks";
import type { CarriedFile, CarryTask, ShareTask } from "./carrying";
import type { ConflictsTask } from "./conflicts";
import type { LeftAloneTask } from "./left-alone";
import type { ThreadKind } from "./low-priority";
import type { Mentions, MentionsTask } from "./mentions";
import type { SearchTask, TreeSearchTask } from "./searching";
import type {
  ColourTask,
  CompareResult,
  CompareTask,
  InFolder,
  ReadProgress,
  ReadTask,
  ReadyTask,
  ReportTask,
  TraceTask,
} from "./worker";

/** Threads for what would hold up the requests of others. What a person looks at now does not queue behind counting. */
export interface Workers {
  compare: (task: CompareTask) => Promise<CompareResult>;
  /** The colours of each line, as JSON; none for a language that is not known or a file too large to colour. */
  colour: (task: ColourTask) => Promise<string>;
  /** What touched the lines of a file on its way. */
  trace: (task: TraceTask) => Promise<LineHistory>;
  /** Where the lines of threads went from revision to revision. */
  follow: (task: FollowTask & { folder: string }) => Promise<Followed[]>;
  /** One change of a file carried onto another; null where that cannot be. */
  carry: (task: CarryTask & InFolder) => Promise<CarriedFile | null>;
  /** A file with only those changes that others have made alike; null where there are none. */
  share: (task: ShareTask & InFolder) => Promise<Uint8Array | null>;
  /** Where two changes of a file meet. */
  conflicts: (task: ConflictsTask & InFolder) => Promise<Pick<ConflictView, "places" | "why">>;
  /** Changed files with renamed ones as one each. */
  pair: (task: { files: readonly FileChange[] } & InFolder) => Promise<PairedChange[]>;
  /** What a report in one of the open formats says; refused with the reason when it is none. */
  report: (task: ReportTask, signal?: AbortSignal) => Promise<Outcome<Report>>;
  /** Looks through files until it is done or `signal` says that nobody waits any longer; `told` hears of places as they are found. */
  search: (task: SearchTask, told: (places: FoundPlace[]) => void, signal: AbortSignal) => Promise<SearchEnd>;
  /** The same in all files of a commit. */
  searchTree: (task: TreeSearchTask, told: (places: FoundPlace[]) => void, signal: AbortSignal) => Promise<SearchEnd>;
  /** What a blob defines, as the JSON of a list. */
  definitions: (task: ColourTask) => Promise<string>;
  /** Where a name is defined and mentioned in some files. */
  mentions: (task: MentionsTask, signal?: AbortSignal) => Promise<Mentions>;
  /** Uses of what a change makes another thing, in lines that it leaves alone. */
  leftAlone: (task: LeftAloneTask) => Promise<LeftAloneView>;
  /** A whole change, as the JSON of a `Reading`; `told` hears of every file as it is compared. */
  read: (
    task: Pick<ReadTask, "folder" | "from" | "to" | "settings">,
    told: (files: ReadProgress) => void,
  ) => Promise<string>;
  /** Starts the first threads, so that the first reader does not wait for them. */
  warm: () => Promise<void>;
  /** Somebody will ask for files of a repository soon: they do not wait for what is needed for the first of them. */
  expect: (folder: string) => Promise<void>;
  close: () => Promise<void>;
}

/** How long each kind of work may take, in milliseconds: more than the largest honest task needs. */
const WITHIN = {
  ...{
    compare: 60_000,
    colour: 30_000,
    trace: 60_000,
    follow: 180_000,
    report: 60_000,
    carry: 60_000,
    share: 60_000,
    conflicts: 30_000,
    pair: 120_000,
    search: 120_000,
    everywhere: 120_000,
  },
  ...{ definitions: 30_000, mentions: 30_000, alone: 120_000 },
  ...{ read: 900_000, help: 900_000, ready: 900_000 },
};

/** Work was ended because it took too long. */
export class TookTooLong extends Error {
  constructor(seconds: number) {
    super(`This took longer than ${seconds} seconds and was ended.`);
  }
}

/** Work was ended because its thread had no memory left. Another thread takes its place. */
export class TookTooMuch extends Error {
  constructor() {
    super("This took more memory than one piece of work is given here, and was ended.");
  }
}

/** So many things wait for threads of a kind: what comes behind them would come too late for whoever asked. */
const MOST_WAITING = 500;

/** Work was turned away, since so much waits before it. */
export class TooBusy extends Error {
  constructor() {
    super("The server has too much to do at the moment. Try again in a minute.");
  }
}

/** Threads of one kind. What waits for one of them to be free does not yet take long: its time counts from when a thread has it. */
class Threads {
  private readonly turn: Narrow;
  private pool: Promise<Piscina> | null = null;

  constructor(
    private readonly most: number,
    private readonly options: ConstructorParameters<typeof Piscina>[0],
  ) {
    this.turn = new Narrow(most, MOST_WAITING);
  }

  /** Runs a task when a thread is free, until it is done, took too long, or nobody waits for it any more: its thread is ended with it. */
  async run<T>(
    task: unknown,
    name: keyof typeof WITHIN,
    signal?: AbortSignal,
    transferList?: TransferList,
  ): Promise<T> {
    if (this.turn.full) throw new TooBusy();
    return this.turn.through(async () => {
      const pool = await this.started();
      const late = AbortSignal.timeout(WITHIN[name]);
      try {
        const how = { name, transferList, signal: signal ? AbortSignal.any([signal, late]) : late };
        return await outside(() => pool.run(task, how));
      } catch (error) {
        if (late.aborted && !signal?.aborted) throw new TookTooLong(WITHIN[name] / 1_000);
        if ((error as NodeJS.ErrnoException).code === "ERR_WORKER_OUT_OF_MEMORY") throw new TookTooMuch();
        throw error;
      }
    }, signal);
  }

  async close(): Promise<void> {
    await (await this.pool)?.destroy();
  }

  /** What runs threads is loaded with the first of them: a command that needs none starts sooner. */
  private started(): Promise<Piscina> {
    this.pool ??= outside(async () => {
      const { Piscina } = await import("piscina");
      return new Piscina({ ...this.options, maxThreads: this.most });
    });
    return this.pool;
  }
}

/** The same for what tells of things on its way: all of them are told before it is done. */
async function telling<T, R>(
  threads: Threads,
  task: object,
  name: keyof typeof WITHIN,
  told: (things: T[]) => void,
  signal: AbortSignal,
): Promise<R> {
  const { port1, port2 } = new MessageChannel();
  const closed = once(port1, "close");
  port1.on("message", told);
  try {
    const result = await threads.run<R>({ ...task, told: port2 }, name, signal, [port2]);
    await closed;
    return result;
  } finally {
    port1.close();
  }
}

type TransferList = NonNullable<Parameters<Piscina["run"]>[1]>["transferList"];

/**
 * Room for what lives shortly, twice as much as usual, where whole change sets are read: most of what a reading makes is either gone at once or
 * stays until its end, and each round of collecting copies what stays.
 */
export const ROOM = { maxYoungGenerationSizeMb: 96 };

/** So many threads wait for readers: one who opens a file asks for its colours, too, and for the file after it. */
const AT_HAND = 2;

/** `limits` are those of each thread, beside what it is given to live shortly. */
export function startWorkers(root: string, limits: ResourceLimits = {}): Workers {
  const filename = pathToFileURL(join(root, "dist/worker.mjs")).href;
  const most = Math.max(2, Math.min(8, availableParallelism()));
  const options = { filename, minThreads: 0, idleTimeout: 600_000, atomics: "disabled" as const };
  const atOnce = new Threads(most, { ...options, resourceLimits: limits });
  const ofLong: ThreadKind = { givesWay: true };
  const inTime = new Threads(most, { ...options, workerData: ofLong, resourceLimits: { ...ROOM, ...limits } });
  const atHand = async (task: Pick<ReadyTask, "folder">) => {
    await Promise.all(Array.from({ length: AT_HAND }, () => atOnce.run({ ...task, colours: true }, "ready")));
  };
  return {
    compare: (task) => atOnce.run(task, "compare"),
    colour: (task) => atOnce.run(task, "colour"),
    trace: (task) => atOnce.run(task, "trace"),
    follow: (task) => atOnce.run(task, "follow"),
    carry: (task) => atOnce.run(task, "carry"),
    share: (task) => atOnce.run(task, "share"),
    conflicts: (task) => atOnce.run(task, "conflicts"),
    pair: (task) => atOnce.run(task, "pair"),
    report: (task, signal) => inTime.run(task, "report", signal),
    definitions: (task) => atOnce.run(task, "definitions"),
    mentions: (task, signal) => atOnce.run(task, "mentions", signal),
    leftAlone: (task) => inTime.run(task, "alone"),
    search: (task, told, signal) => telling(inTime, task, "search", told, signal),
    searchTree: (task, told, signal) => telling(inTime, task, "everywhere", told, signal),
    read: async (task, told) => {
      const progress = new MessageChannel();
      const help = new MessageChannel();
      const closed = once(progress.port1, "close");
      progress.port1.on("message", told);
      const ports = { progress: progress.port2, helper: help.port1 };
      const reading = inTime.run<string>({ ...task, ...ports }, "read", undefined, [progress.port2, help.port1]);
      // Whether anyone comes to help is not waited for: a thread may be free, or be busy for longer than the whole takes. It is asked
      // for after the reading, so that none ever waits for a reading that has no thread.
      inTime.run({ port: help.port2 }, "help", undefined, [help.port2]).catch(() => undefined);
      try {
        const result = await reading;
        // The last files may be told of behind the whole.
        await closed;
        return result;
      } finally {
        progress.port1.close();
      }
    },
    warm: async () => {
      await Promise.all([atHand({}), inTime.run({}, "ready")]);
    },
    expect: (folder) => atHand({ folder }),
    close: async () => {
      await Promise.all([atOnce, inTime].map((threads) => threads.close()));
    },
  };
}
