import { LRUCache } from "lru-cache";

/** What a large answer weighs, and how much all of them together may. */
export interface Weight<T> {
  of: (answer: T) => number;
  most: number;
}

/** Keeps the answers to questions whose answers never change, those used last. Failed ones are forgotten. */
export class Kept<T> {
  private readonly answers: LRUCache<string, Promise<T>>;

  constructor(
    most: number,
    private readonly weight?: Weight<T>,
  ) {
    this.answers = new LRUCache({ max: most, ...(weight ? { maxSize: weight.most } : {}) });
  }

  /** The answer kept for this key, or the one that `make` gives now. */
  get(key: string, make: () => Promise<T>): Promise<T> {
    const kept = this.answers.get(key);
    if (kept !== undefined) return kept;
    const made = make();
    const { weight } = this;
    this.answers.set(key, made, weight && { size: 1 });
    // What it weighs is known once it is there. The same value set once more would keep the weight that it had.
    const weigh = (answer: T) => {
      if (!weight || this.answers.peek(key) !== made) return;
      this.answers.delete(key);
      this.answers.set(key, made, { size: Math.min(weight.most, 1 + weight.of(answer)) });
    };
    made.then(weigh, () => this.answers.delete(key));
    return made;
  }

  clear(): void {
    this.answers.clear();
  }

  forget(key: string): void {
    this.answers.delete(key);
  }
}

/** Where an installation keeps its answers, by the names of its shelves. */
export interface Shelves {
  /** Kept here and not in the modules that ask, because pages and routes are bundled apart: each would have its own, and do the work twice. */
  shelves: Map<string, Kept<unknown>>;
}

/**
 * A shelf for answers, `most` of them, told once where its limits are said; each installation has its own. Where answers may be large, what they weigh
 * together has an end as well.
 *
 * @example
 * const BEHIND = shelf<number>("behind", 200);
 * await BEHIND(app).get(`${head} ${target}`, () => countCommits(folder, head, target));
 */
export function shelf<T>(name: string, most: number, weight?: Weight<T>): (of: Shelves) => Kept<T> {
  return ({ shelves }) => {
    const own = (shelves.get(name) as Kept<T> | undefined) ?? new Kept<T>(most, weight);
    shelves.set(name, own as Kept<unknown>);
    return own;
  };
}
