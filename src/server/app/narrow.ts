/** Lets a few through at once; others wait, as many as may. */
export class Narrow {
  private busy = 0;
  private readonly waiting: (() => void)[] = [];
  constructor(
    private readonly most: number,
    private readonly mostWaiting = Number.POSITIVE_INFINITY,
  ) {}

  /** Whether one more would have to be turned away. */
  get full(): boolean {
    return this.busy >= this.most && this.waiting.length >= this.mostWaiting;
  }

  /** Whoever waits no longer once `signal` says so is told its reason, and takes nobody's turn. */
  async through<T>(work: () => Promise<T>, signal?: AbortSignal): Promise<T> {
    signal?.throwIfAborted();
    if (this.busy >= this.most) await this.turn(signal);
    else this.busy++;
    try {
      return await work();
    } finally {
      const next = this.waiting.shift();
      if (next) next();
      else this.busy--;
    }
  }

  private turn(signal?: AbortSignal): Promise<void> {
    return new Promise((resolve, reject) => {
      const enter = () => {
        signal?.removeEventListener("abort", leave);
        resolve();
      };
      const leave = () => {
        this.waiting.splice(this.waiting.indexOf(enter), 1);
        reject(signal?.reason);
      };
      this.waiting.push(enter);
      signal?.addEventListener("abort", leave, { once: true });
    });
  }
}
