/** So many are told of together at the most. */
const MOST = 100;

/** What is to be told sometime is told together: once it has waited so long, in milliseconds, or when the page is left. */
export class Gathered<T> {
  private waiting: T[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly tell: (all: T[]) => void,
    private readonly after: number,
  ) {}

  add(one: T): void {
    this.waiting.push(one);
    if (this.waiting.length >= MOST) this.now();
    else this.timer ??= setTimeout(this.now, this.after);
  }

  /** Tells of all that waits. */
  readonly now = (): void => {
    clearTimeout(this.timer);
    this.timer = undefined;
    const all = this.waiting;
    this.waiting = [];
    if (all.length > 0) this.tell(all);
  };
}
