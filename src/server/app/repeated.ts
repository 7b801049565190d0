import type { Bell } from "./bell";

/**
 * Work that is done again and again while the server runs, and at once when the bell rings. Steps never overlap, several rings while one goes
 * on are one more step, and one that fails is told of and tried again.
 */
export class Repeated {
  private timer: NodeJS.Timeout | null = null;
  private leave: (() => void) | null = null;
  private waiting = false;
  private working: Promise<void> = Promise.resolve();

  constructor(
    private readonly every: number,
    private readonly work: () => Promise<void>,
    private readonly failed: (error: unknown) => void,
    private readonly bell: Bell | null = null,
  ) {}

  start(): void {
    this.timer = setInterval(() => void this.step(), this.every);
    this.leave = this.bell?.listen(() => this.hear()) ?? null;
    void this.step();
  }

  private hear(): void {
    if (this.waiting) return;
    this.waiting = true;
    this.working = this.working
      .then(() => {
        this.waiting = false;
        return this.work();
      })
      .catch(this.failed);
  }

  /** Waits for the step that is going on. */
  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.leave?.();
    await this.working;
  }

  step(): Promise<void> {
    this.working = this.working.then(this.work).catch(this.failed);
    return this.working;
  }
}
