import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { OwnAccountRequest } from "@/core/views/setting-up-view";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { audit } from "./audit";
import { addPerson, anyPeople } from "./people";
import { sameSecret } from "./secret";
import { beginSession, type Whence } from "./sessions";

const FIRST_WORD = shelf<string>("first word", 1);

/**
 * The one-time word with which the first administrator of an empty installation is made: who can read what the server prints keeps it. Null
 * where somebody can sign in already. It is another one after each start, and kept nowhere.
 */
export async function firstWord(app: AppContext): Promise<string | null> {
  if (await anyPeople(app)) return null;
  return FIRST_WORD(app).get("", async () => randomBytes(12).toString("base64url"));
}

/** Makes the first administrator for who knows the word; gives the value for the cookie of their session. */
export function beginInstallation(
  app: AppContext,
  { word, ...account }: OwnAccountRequest,
  whence: Whence,
): Promise<Outcome<string>> {
  // In turn, so that one word makes one administrator.
  return app.inTurn("first start", async () => {
    const known = await firstWord(app);
    if (known === null) return refuse("conflict", "This installation has begun already: sign in.");
    if (!sameSecret(word, known))
      return refuse("forbidden", "That is not the word that the server printed when it started this time.");
    const added = await addPerson(app, { ...account, administrator: true }, (tx, person) =>
      audit(app, { person, address: whence.address }, "installation-begun", { name: account.name }, tx),
    );
    if (!added.ok) return added;
    return done(await beginSession(app, added.value, whence));
  });
}
