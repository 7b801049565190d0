import { type GitOptions, git } from "./run";

/** What stands between two NULs of what comes in pieces, each cut to so many bytes. */
export class Fields {
  private pieces: Buffer[] = [];
  private left: number;

  constructor(
    private readonly most: number,
    private readonly take: (field: Buffer) => void,
  ) {
    this.left = most;
  }

  add(bytes: Uint8Array): void {
    const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
    for (let at = 0; at <= buffer.length; ) {
      const nul = buffer.indexOf(0, at);
      const end = nul < 0 ? buffer.length : nul;
      if (end > at && this.left > 0) {
        const piece = buffer.subarray(at, Math.min(end, at + this.left));
        this.pieces.push(piece);
        this.left -= piece.length;
      }
      if (nul < 0) return;
      this.end();
      at = end + 1;
    }
  }

  /** The field that was begun is at its end: told by a NUL, or since nothing more comes. */
  end(): void {
    const field = this.pieces.length === 1 ? this.pieces[0] : Buffer.concat(this.pieces);
    this.pieces = [];
    this.left = this.most;
    this.take(field);
  }
}

/** Bytes of one field that are held where nothing else is said. */
const LONGEST = 100_000;

/** Whether a field that {@link gitRecords} gave may have been cut. */
export function mayBeCut(field: string): boolean {
  return field.length > LONGEST / 4 && Buffer.byteLength(field) > LONGEST - 4;
}

/**
 * Runs a git command that separates what it says by NULs, and gives it as it comes, `width` fields together. What anybody may write has no end, so of
 * each field no more than `most` bytes are held; a character that was cut in two is left out. What is left at the end and is no whole record is passed over.
 */
export async function gitRecords(
  folder: string,
  args: readonly string[],
  width: number,
  take: (fields: string[]) => void,
  { most = LONGEST, ...options }: Pick<GitOptions, "signal" | "answers" | "env" | "most"> = {},
): Promise<void> {
  let record: string[] = [];
  const fields = new Fields(most, (field) => {
    record.push(textOf(field, field.length === most));
    if (record.length < width) return;
    take(record);
    record = [];
  });
  await git(folder, args, { ...options, out: (bytes) => fields.add(bytes) });
  fields.end();
}

function textOf(field: Buffer, cut: boolean): string {
  const text = field.toString("utf8");
  return cut ? text.replace(/\ufffd{1,3}$/, "") : text;
}
