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

  /** `isThere` says whether something is still a note: neither sent nor deleted. */
  constructor(private readonly isThere: (note: string) => boolean) {}

  /** Something writes a note. Gives what is called when it is left; what could not be kept by then still counts. */
  begin(note: string, by: Writing): () => void {
    // What was left before it could be kept is gone on with by who writes on: it must not come after that.
    for (const other of this.writers) if (other.note === note && other.left) this.letGo(other);
    const writer: Writer = { ...by, note, left: false };
    this.writers.add(writer);
    return () => {
      writer.left = true;
      if (!this.isThere(note)) this.letGo(writer);
      else void by.keep().then((refusal) => refusal ?? this.writers.delete(writer));
    };
  }

  /** Keeps what is written of one note, or of all, and waits until nothing of it is on its way; gives the reason when that is refused, else null. */
  async keep(one: string | null): Promise<string | null> {
    for (const writer of this.writers) {
      if (writer.left && !this.isThere(writer.note)) this.letGo(writer);
      else if (one === null || writer.note === one) {
        const refusal = await writer.keep();
        if (refusal) return refusal;
      }
    }
    await this.told.settled(one);
    return null;
  }

  private letGo(writer: Writer): void {
    writer.cancel();
    this.writers.delete(writer);
  }
}
