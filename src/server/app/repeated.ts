/** Work that is done again and again while the server runs. Steps never overlap, and one that fails is told of and tried again. */
export class Repeated {
  private timer: NodeJS.Timeout | null = null;
  private working: Promise<void> = Promise.resolve();

  constructor(
    private readonly every: number,
    private readonly work: () => Promise<void>,
    private readonly failed: (error: unknown) => void,
  ) {}

  start(): void {
    this.timer = setInterval(() => void this.step(), this.every);
    void this.step();
  }

  /** Waits for the step that is going on. */
  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    await this.working;
  }

  step(): Promise<void> {
    this.working = this.working.then(this.work).catch(this.failed);
    return this.working;
  }
}
