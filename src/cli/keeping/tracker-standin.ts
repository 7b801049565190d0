import { randomBytes } from "node:crypto";
import type { Command } from "commander";
import { Stop, say } from "../stop";

/** A tracker of work items to try things out with, as docs/tracker.md has it. */
export function addTrackerStandIn(program: Command): void {
  program
    .command("tracker-standin")
    .description(
      "a tracker of work items to try things out with, on this machine alone, until Ctrl C (docs/tracker.md)",
    )
    .option("--port <number>", "where it is asked; any that is free unless said")
    .action(async ({ port }: { port?: string }) => {
      if (port !== undefined && !/^\d{1,5}$/.test(port)) throw new Stop(`“${port}” is no port.`);
      const { startTrackerStandIn } = await import("@/server/work/tracker-standin");
      const token = randomBytes(12).toString("base64url");
      const { address, close } = await startTrackerStandIn({ token, port: Number(port ?? 0) });
      say(`LENS_TRACKER=${address} LENS_TRACKER_TOKEN=${token}`);
      await new Promise((resolve) => process.once("SIGINT", resolve));
      await close();
    });
}
