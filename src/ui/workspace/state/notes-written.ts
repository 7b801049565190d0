import { InTurn } from "../../asking/in-turn";
import type { Writing } from "./context";

/** A note that is being written somewhere, or was left before it could be kept. */
interface Writer extends Writing {
  note: string;
  left: boolean;
}

/**
 * The notes that are being written on a page, so that what is sent is what was typed last. What is told of one note goes in turn: what was typed first
 * never stands for what was typed last, and nothing comes back as a note after it was sent or deleted.
 */
export class NotesWritten {
  readonly told = new InTurn();
  private readonly writers = new Set<Writer>();

  /** `isThere` says whether something is still a note: neither sent nor deleted. `lost` is told what was not kept of one that is none any more. */
  constructor(
    private readonly isThere: (note: string) => boolean,
    private readonly lost: (pending: object) => void,
  ) {}

  /** Something writes a note. Gives what is called when it is left; what could not be kept by then still counts. */
  begin(note: string, by: Writing): () => void {
    const writer: Writer = { ...by, note, left: false };
    // Of one note one writer alone has something that is not kept: else what was typed first could come last.
    for (const other of this.of(note)) {
      const pending = other.pending();
      if (pending) by.take(pending);
      if (other.left) this.letGo(other);
      else if (pending) other.cancel();
    }
    this.writers.add(writer);
    return () => void this.leave(writer);
  }

  private async leave(writer: Writer): Promise<void> {
    writer.left = true;
    if (!this.isThere(writer.note)) return this.lose(writer);
    const refusal = await writer.keep();
    if (!refusal) this.writers.delete(writer);
    const other = this.of(writer.note).find(({ left }) => !left);
    const pending = writer.pending();
    if (!other || !pending) return;
    other.take(pending);
    this.letGo(writer);
  }

  private of(note: string): Writer[] {
    return [...this.writers].filter((writer) => writer.note === note);
  }

  /** Keeps what is written of one note, or of all, and waits until nothing of it is on its way; gives the reason when that is refused, else null. */
  async keep(one: string | null): Promise<string | null> {
    for (const writer of this.writers) {
      if (writer.left && !this.isThere(writer.note)) this.lose(writer);
      else if (one === null || writer.note === one) {
        const refusal = await writer.keep();
        if (refusal) return refusal;
      }
    }
    await this.told.settled(one);
    return null;
  }

  private lose(writer: Writer): void {
    const pending = writer.pending();
    this.letGo(writer);
    if (pending) this.lost(pending);
  }

  private letGo(writer: Writer): void {
    writer.cancel();
    this.writers.delete(writer);
  }
}
