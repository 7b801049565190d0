import { forgetUnused } from "@/store/kept-by-use";
import { forgetLogs } from "../checks/logs";
import { fetchMirrors, removeDeleted } from "../keeping/repositories";
import { forgetKeys, tidyRepositories } from "../keeping/tidying";
import { settleIntents } from "../refs/both";
import { catchUp } from "../refs/catch-up";
import type { AppContext } from "./context";
import { Repeated } from "./repeated";

const SETTLED_EVERY = 30_000;
const CAUGHT_UP_EVERY = 3_600_000;

const TIDIED_EVERY = 600_000;
const FETCHED_EVERY = 60_000;

/**
 * What a server does by itself to keep its data in one piece: see {@link settleIntents}, {@link catchUp} and {@link tidyRepositories}. The
 * first two begin at once; the last waits until `quiet` says that nobody asked anything for a while.
 */
export function startUpkeep(app: AppContext, quiet: () => boolean): { stop: () => Promise<void> } {
  const failed = (error: unknown) => app.log.error({ err: error }, "upkeep failed");
  const settling = new Repeated(SETTLED_EVERY, async () => void (await settleIntents(app)), failed);
  const catching = new Repeated(CAUGHT_UP_EVERY, async () => void (await catchUp(app)), failed);
  const tidying = new Repeated(
    TIDIED_EVERY,
    async () => {
      await forgetKeys(app);
      await forgetLogs(app);
      await removeDeleted(app);
      if (quiet()) await forgetUnused(app.db, app.settings.keptCharacters);
      await tidyRepositories(app, quiet);
    },
    failed,
  );
  const fetching = new Repeated(FETCHED_EVERY, async () => void (await fetchMirrors(app)), failed);
  fetching.start();
  settling.start();
  catching.start();
  tidying.start();
  return {
    stop: async () => {
      await fetching.stop();
      await settling.stop();
      await catching.stop();
      await tidying.stop();
    },
  };
}
