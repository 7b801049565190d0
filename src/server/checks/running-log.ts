/** Between two that are told, in milliseconds. */
const EVERY = 1_000;

/** Tells what a command writes while it writes it: the newest at most once a second, and the last of it for certain. */
export class RunningLog {
  private newest: string | null = null;
  private telling: Promise<unknown> | null = null;
  private ended = false;

  constructor(
    private readonly tell: (text: string) => Promise<unknown>,
    private readonly failed: (error: unknown) => void,
  ) {}

  hear(text: string): void {
    this.newest = text;
    this.telling ??= this.tellAll();
  }

  /** Waits until all of it is told. */
  async end(): Promise<void> {
    this.ended = true;
    await this.telling;
  }

  private async tellAll(): Promise<void> {
    while (this.newest !== null) {
      const text = this.newest;
      this.newest = null;
      await this.tell(text).catch(this.failed);
      if (!this.ended) await new Promise((resolve) => setTimeout(resolve, EVERY));
    }
    this.telling = null;
  }
}
