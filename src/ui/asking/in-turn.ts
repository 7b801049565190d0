/** Asks of a server that must not overtake each other: of the same thing one waits for the one before, whatever came of it. */
export class InTurn {
  private readonly last = new Map<string, Promise<unknown>>();

  /** Does something when all that was begun before of the same thing is through. */
  run<T>(thing: string, work: () => Promise<T>): Promise<T> {
    const before = this.last.get(thing);
    const done = before === undefined ? work() : before.then(work);
    const through = done.then(nothing, nothing).then(() => {
      if (this.last.get(thing) === through) this.last.delete(thing);
    });
    this.last.set(thing, through);
    return done;
  }

  /** Waits until nothing of a thing is on its way, or nothing at all. */
  async settled(thing: string | null = null): Promise<void> {
    const underway = () => [...this.last].filter(([of]) => thing === null || of === thing).map(([, told]) => told);
    for (let left = underway(); left.length > 0; left = underway()) await Promise.all(left);
  }
}

const nothing = () => undefined;
