import { createTransport } from "nodemailer";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { audit, type Doer } from "../access/audit";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";

/** So long a mail server may take, in milliseconds. */
const LONGEST = 15_000;

/** Sends a person a test message and waits until the mail server has taken it; refuses with what it said where it did not. */
export async function tryMail(app: AppContext, person: Person, doer: Doer): Promise<Outcome<{ to: string }>> {
  const { mail, mailFrom } = app.settings;
  if (!mail)
    return refuse("conflict", "No mail is sent: LENS_MAIL names no mail server. Set it, and start the server again.");
  const times = { connectionTimeout: LONGEST, greetingTimeout: LONGEST, socketTimeout: LONGEST };
  const transport = createTransport({ url: mail, ...times } as never, { from: mailFrom });
  try {
    await transport.sendMail({
      to: person.email,
      subject: "A test of Earnest Lens",
      text: `${person.fullName}, this is the test message that you asked for. Mail goes out.\n`,
    });
  } catch (error) {
    return refuse("unavailable", `The mail server did not take it: ${(error as Error).message.slice(0, 300)}`);
  } finally {
    transport.close();
  }
  await audit(app, doer, "mail-tried", { to: person.email });
  return done({ to: person.email });
}
