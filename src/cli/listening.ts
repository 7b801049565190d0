import type { Server } from "node:http";
import { freePort } from "@/server/app/free-port";
import { Stop } from "./stop";

/** Listens at a port; gives the one that it listens at. Where it is taken that is another one, if any will do, and an end with a sentence if not. */
export async function listening(
  server: Server,
  port: number,
  { alone, anyPort }: { alone: boolean; anyPort: boolean },
): Promise<number> {
  const error = await new Promise<NodeJS.ErrnoException | null>((resolve) => {
    server.once("error", resolve);
    server.listen(port, alone ? "127.0.0.1" : undefined, () => {
      server.off("error", resolve);
      resolve(null);
    });
  });
  if (!error) return port;
  if (error.code !== "EADDRINUSE") throw error;
  if (!anyPort) throw new Stop(`Port ${port} is in use already: choose another with PORT.`);
  return listening(server, await freePort(), { alone, anyPort });
}
