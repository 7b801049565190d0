import { outside } from "@/git/outside";

/** Tells who follows the log that something was added to it by this process, so that nobody has to look all the time. */
export class Bell {
  private readonly listeners = new Set<() => void>();

  /** After the transaction: who listens finds the event there. */
  ring(): void {
    for (const hear of this.listeners) outside(hear);
  }

  /** Hears of it until the function that it gives is called. */
  listen(hear: () => void): () => void {
    this.listeners.add(hear);
    return () => this.listeners.delete(hear);
  }
}
