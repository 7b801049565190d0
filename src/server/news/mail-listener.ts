import { SMTPServer } from "smtp-server";
import type { AppContext } from "../app/context";
import { patchesFor } from "../git-access/patch-address";
import { messageAt } from "./mail-addresses";
import { takeMail } from "./mail-answers";

/** The largest message that is taken, in bytes. */
export const LARGEST_MAIL = 20 * 1024 * 1024;
/** So many connections at a time. */
const MOST = 20;

/** Takes mail by SMTP: for addresses of messages of ours, and of people who mail patches, alone, so that nobody leaves anything else here. Gives how to end it, and where it listens. */
export async function listenForMail(
  app: AppContext,
  port: number,
): Promise<{ port: number; close: () => Promise<void> }> {
  const server = new SMTPServer({
    disabledCommands: ["AUTH", "STARTTLS"],
    size: LARGEST_MAIL,
    maxClients: MOST,
    banner: "Earnest Lens takes answers",
    onRcptTo({ address }, _session, callback) {
      isOurs(app, address).then(
        (ours) => callback(ours ? null : refusal(550, "There is no such address here.")),
        () => callback(refusal(451, "Try again in a while.")),
      );
    },
    onData(stream, session, callback) {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => {
        if (!stream.sizeExceeded) chunks.push(chunk);
      });
      stream.on("error", () => callback(refusal(451, "It was cut short.")));
      stream.on("end", () => {
        if (stream.sizeExceeded) return callback(refusal(552, "The message is too large."));
        const to = session.envelope.rcptTo.map(({ address }) => address);
        takeMail(app, Buffer.concat(chunks), to).then(
          (taken) => {
            app.log.info({ kind: taken.kind, why: "why" in taken ? taken.why : undefined }, "mail");
            callback();
          },
          (error: unknown) => {
            // Whoever carries it keeps it, and comes again.
            app.log.error({ err: error }, "a message could not be taken");
            callback(refusal(451, "Something went wrong here. Try again in a while."));
          },
        );
      });
    },
  });
  await new Promise<void>((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, resolve);
  });
  server.on("error", (error) => app.log.warn({ err: error }, "a connection for mail failed"));
  const at = server.server.address();
  return {
    port: typeof at === "object" && at ? at.port : port,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

/** Whether mail for an address is taken: one of a message, or one for patches. */
async function isOurs(app: AppContext, address: string): Promise<boolean> {
  return (await messageAt(app, address)) !== null || (await patchesFor(app, address)) !== null;
}

function refusal(code: number, words: string): Error {
  return Object.assign(new Error(words), { responseCode: code });
}
