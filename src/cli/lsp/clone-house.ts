import { type ChildProcess, spawn } from "node:child_process";
import { join } from "node:path";
import { type Door, readDoor } from "../here/door";
import type { Origin } from "../lens-server";
import { Stop } from "../stop";

/** So long it may take to begin, in milliseconds, and so often it is looked whether it has. */
const LONGEST_START = 60_000;
const LOOKED_EVERY = 200;

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

  /** How to ask it; begins it where nobody has. */
  async open(): Promise<Origin> {
    const door = this.door() ?? (await this.begin());
    const { address, repository, session } = door;
    return { address, repository, remote: this.remote, headers: { cookie: `lens_session=${session}` } };
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
    // It ends with its standard input, should this program be killed.
    child.stdin.on("error", () => undefined);
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
      await new Promise((resolve) => setTimeout(resolve, LOOKED_EVERY));
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
