import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { sameSecret } from "./secret";
import { beginSession, type Whence } from "./sessions";

interface Word {
  word: string;
  person: string;
}

const HERE_WORD = shelf<{ now: Word | null }>("here word", 1);

/** Shared by all that asks, and empty unless {@link wordFor} was called: a served installation has none. */
function heldWord(app: AppContext): Promise<{ now: Word | null }> {
  return HERE_WORD(app).get("", async () => ({ now: null }));
}

/** Makes the word by which who started a server on their own clone comes in, once. */
export async function wordFor(app: AppContext, person: string): Promise<string> {
  const word = randomBytes(18).toString("base64url");
  (await heldWord(app)).now = { word, person };
  return word;
}

/** What a session of a program on this machine calls itself. */
const PROGRAM = "a program on this machine";

/** Begins the session of programs that work on a clone beside the browser, and ends that of the start before. Gives the value for its cookie. */
export async function doorFor(app: AppContext, person: string): Promise<string> {
  await app.db.deleteFrom("sessions").where("agent", "=", PROGRAM).execute();
  return beginSession(app, person, { address: "127.0.0.1", agent: PROGRAM });
}

/** Begins a session for who has the word; it counts once. */
export async function comeIn(app: AppContext, word: string, whence: Whence): Promise<Outcome<string>> {
  const kept = await heldWord(app);
  if (!kept.now || !sameSecret(word, kept.now.word))
    return refuse("forbidden", "This address has been used, or is of another start: begin again with lens here.");
  const { person } = kept.now;
  kept.now = null;
  return done(await beginSession(app, person, whence));
}
