import { type ChildProcess, spawn } from "node:child_process";
import type { Socket } from "node:net";
import { join } from "node:path";
import { gitHere } from "@/git/clone";
import { NoServer, type Origin, originOf } from "../lens-server";
import { Stop } from "../stop";
import { type Door, readDoor } from "./door";
import type { Inside } from "./inside";

/** So long it may take to begin, in milliseconds, and so often it is looked whether it has. */
const LONGEST_START = 60_000;
const LOOKED_EVERY = 200;
/** So long another command is waited for before it is taken for somebody who serves the clone. */
const LONGEST_TURN = 3_000;

/**
 * The clone by itself, for when its server is away or has none: served on this machine, as `lens here` does, by that where it runs already. What is written there
 * is in the clone's ledger, and `lens sync` hands it over.
 */
export class CloneHouse {
  private child: ChildProcess | null = null;

  /** `gitFolder` is the `.git` of the clone in `folder`. */
  constructor(
    private readonly folder: string,
    private readonly gitFolder: string,
    private readonly remote: string,
    /** Where there is a server no change set is begun here: there it has one already, or will. */
    private readonly asIs: boolean,
  ) {}

  /** How to ask it; begins it where nobody has. One that is just ending, or just beginning, is waited for. */
  async open(): Promise<Origin> {
    const until = Date.now() + LONGEST_START;
    let door: Door | null = null;
    while (!door) {
      const found = this.door();
      if (found && (await answers(found))) door = found;
      else if (found) await pause();
      else
        door = await this.begin().catch(async (error: Error) => {
          if (!/being served already/.test(error.message) || Date.now() > until) throw error;
          await pause();
          return null;
        });
      if (!door && Date.now() > until) throw new Stop("This clone cannot be served by itself: it took too long.");
    }
    const { address, repository, session } = door;
    return { address, repository, remote: this.remote, alone: true, headers: { cookie: `lens_session=${session}` } };
  }

  /** Whether somebody seems to serve it. */
  isOpen(): boolean {
    return this.door() !== null;
  }

  private door(): Door | null {
    return readDoor(join(this.gitFolder, "lens", "here"));
  }

  private async begin(): Promise<Door> {
    let said = "";
    const env = { ...process.env, INIT_CWD: this.folder, LENS_DATA: undefined, PORT: undefined };
    // As this program was started itself, so that it is of the same version.
    const args = [...process.execArgv, process.argv[1], "here", "--tied", ...(this.asIs ? ["--as-is"] : [])];
    const child = spawn(process.execPath, args, { cwd: this.folder, env, stdio: ["pipe", "ignore", "pipe"] });
    this.child = child;
    // It ends with its standard input: when this program ends, however it does. Until then it keeps nobody waiting.
    child.stdin.on("error", () => undefined);
    for (const one of [child, child.stdin, child.stderr]) (one as Partial<Socket>).unref?.();
    child.stderr.setEncoding("utf8").on("data", (words: string) => {
      said = (said + words).slice(-2_000);
    });
    let ended = false;
    child.once("close", () => {
      ended = true;
    });
    const until = Date.now() + LONGEST_START;
    while (Date.now() < until && !ended) {
      const door = this.door();
      if (door && door.process === child.pid) return door;
      await pause();
    }
    this.close();
    throw new Stop(`This clone cannot be served by itself: ${said.trim().split("\n").at(-1) || "it took too long."}`);
  }

  /** Ends it, where it was begun here. */
  close(): void {
    this.child?.kill("SIGTERM");
    this.child = null;
  }
}

const pause = () => new Promise((resolve) => setTimeout(resolve, LOOKED_EVERY));

/** Whether a clone is served there now, and not about to end. */
async function answers({ address }: Door): Promise<boolean> {
  const response = await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(5_000) }).catch(() => null);
  await response?.body?.cancel();
  return response?.ok === true;
}

/**
 * Where the reviews of a clone are: on the server behind a remote; where there is none, in the clone by itself. By whom that is served already; else it is asked
 * in this process.
 */
export async function reviewsOf(folder: string, remote: string): Promise<Origin> {
  const asked = gitHere(folder, ["rev-parse", "--show-toplevel", "--absolute-git-dir"]);
  // It is asked ahead, and heard only where there is no server.
  asked.catch(() => undefined);
  try {
    return await originOf(folder, remote);
  } catch (error) {
    if (!(error instanceof NoServer)) throw error;
    const { out, code } = await asked;
    const [top, gitFolder] = out.split("\n");
    if (code !== 0) throw error;
    const house = new CloneHouse(top, gitFolder, remote, true);
    return house.isOpen() ? house.open() : askInside(house, top, gitFolder, remote);
  }
}

let inside: Promise<Inside> | null = null;

async function askInside(house: CloneHouse, top: string, gitFolder: string, remote: string): Promise<Origin> {
  const { openInside } = await import("./inside");
  inside ??= openInside(top, gitFolder);
  const { repository, ask, mayWrite } = await inside;
  const origin: Origin = { address: "This clone", repository, remote, alone: true, headers: {} };
  /** Another command has it for a moment only; whoever serves it says so at its door. */
  const hasTurn = async () => {
    for (const until = Date.now() + LONGEST_TURN; !(await mayWrite()); await pause())
      if (house.isOpen() || Date.now() > until) return false;
    return true;
  };
  let served = false;
  origin.ask = async (path, init) => {
    if (!served && (init.method === undefined || (await hasTurn()))) return ask(path, init);
    // From here on all is asked of who serves it: they let nobody else in.
    if (!served) Object.assign(origin, await house.open());
    served = true;
    return fetch(`${origin.address}${path}`, { ...init, headers: { ...init.headers, ...origin.headers } });
  };
  return origin;
}

/** Lets go of a clone that was asked in this process. */
export async function closeInside(): Promise<void> {
  await (await inside?.catch(() => null))?.close();
}
