import { createServer } from "node:http";
import { forgetStates } from "@/store/log";
import { serveGit } from "../git-access/git-http";
import type { Bench } from "./bench";

/** Serves git over HTTP for a bench, on a free port that its settings know from then on; gives how to end it. */
export async function serveGitOf(bench: Bench): Promise<() => Promise<void>> {
  const server = createServer((request, response) => {
    // Whoever asks may be another installation in this very process: what it made of a log is not this one's.
    forgetStates();
    // As the real one does where a wire is cut.
    serveGit(bench.app, request, response).catch(() => response.destroy());
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const address = server.address();
  bench.app.settings.port = typeof address === "object" && address ? address.port : 0;
  return () => new Promise((resolve) => server.close(() => resolve()));
}
