import { join } from "node:path";
import type { AppContext } from "../app/context";
import { Mail } from "./mail";
import { takeMail } from "./mail-answers";
import { fetchMail } from "./mail-fetcher";
import { listenForMail } from "./mail-listener";
import { startStandIn } from "./mail-standin";

/** Whatever goes out and comes in by mail, as the settings say. `address` is that of the installation. */
export async function openPostOffice(app: AppContext, address: string): Promise<{ stop: () => Promise<void> }> {
  const { settings } = app;
  const answers = (raw: Buffer, to: string[]) => takeMail(app, raw, to);
  const standIn = settings.mailStandIn
    ? await startStandIn(join(settings.data, "mail"), settings.mailListen ?? 0, answers)
    : null;
  if (standIn) settings.mail = standIn.server;
  const listener = !standIn && settings.mailListen !== null ? await listenForMail(app, settings.mailListen) : null;
  const fetcher = settings.mailFetch ? fetchMail(app, settings.mailFetch) : null;
  fetcher?.start();
  const mail = settings.mail
    ? new Mail(app, { server: settings.mail, from: settings.mailFrom, address, quiet: settings.mailQuiet * 1_000 })
    : null;
  mail?.start();
  return {
    stop: async () => {
      await mail?.stop();
      await fetcher?.stop();
      await standIn?.close();
      await listener?.close();
    },
  };
}
