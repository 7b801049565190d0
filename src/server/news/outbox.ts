import type { AppContext } from "../app/context";

/** After so many a message is given up. */
export const MOST_TRIES = 40;
const FIRST_PAUSE = 2_000;
const LONGEST_PAUSE = 3_600_000;
/** The server is away: others would fare no better. */
const AWAY = /ECONN|ETIMEDOUT|ENOTFOUND|EHOST|ESOCKET/;

/** How it stands with a message that could not be sent yet: how often it was tried, when it is tried again (in milliseconds since 1970), and why it failed. */
export interface Delay {
  tries: number;
  due_at: number;
  problem: string;
}

/**
 * Sends messages one after the other; `send` notes itself that one was sent. What the mail server does not take is tried again, later each time: `delay` keeps
 * that.
 */
export async function sendEach<Message extends { tries: number }>(
  app: AppContext,
  messages: readonly Message[],
  send: (message: Message) => Promise<void>,
  delay: (message: Message, how: Delay) => Promise<void>,
): Promise<void> {
  for (const message of messages) {
    try {
      await send(message);
    } catch (error) {
      const problem = error instanceof Error ? error.message : String(error);
      const tries = message.tries + 1;
      app.log.warn({ message, tries, problem }, "a message could not be sent yet");
      const due_at = app.now() + Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** message.tries);
      await delay(message, { tries, due_at, problem: problem.slice(0, 500) });
      if (AWAY.test(problem)) return;
    }
  }
}
