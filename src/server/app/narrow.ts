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

  async through<T>(work: () => Promise<T>): Promise<T> {
    if (this.busy >= this.most) await new Promise<void>((resolve) => this.waiting.push(resolve));
    else this.busy++;
    try {
      return await work();
    } finally {
      const next = this.waiting.shift();
      if (next) next();
      else this.busy--;
    }
  }
}
