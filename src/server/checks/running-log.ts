/** Between two that are told, in milliseconds. */
const EVERY = 1_000;

/** Tells what a command writes while it writes it: the newest at most once a second, and the last of it for certain. */
export class RunningLog {
  private newest: string | null = null;
  private telling: Promise<unknown> | null = null;
  private ended = false;
  /** Ends the pause before the next is told. */
  private wake: () => void = () => undefined;

  constructor(
    private readonly tell: (text: string) => Promise<unknown>,
    private readonly failed: (error: unknown) => void,
  ) {}

  hear(text: string): void {
    this.newest = text;
    this.telling ??= this.tellAll();
  }

  /** Waits until all of it is told, which is at once. */
  async end(): Promise<void> {
    this.ended = true;
    this.wake();
    await this.telling;
  }

  private async tellAll(): Promise<void> {
    while (this.newest !== null) {
      const text = this.newest;
      this.newest = null;
      await this.tell(text).catch(this.failed);
      if (!this.ended) await this.pause();
    }
    this.telling = null;
  }

  private pause(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, EVERY);
      this.wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }
}
