import { LRUCache } from "lru-cache";

/** What a large answer weighs, and how much all of them together may. */
export interface Weight<T> {
  of: (answer: T) => number;
  most: number;
}

/** What is there already, or will be. */
type Entry<T> = { answer: T } | { made: Promise<T> };

/**
 * Keeps the answers to questions whose answers never change, those used last. Failed ones are forgotten. What is kept is the answer and not the promise
 * of it: a promise leads to all that the request was about in which it was made, its answer to the browser included.
 */
export class Kept<T> {
  private readonly answers: LRUCache<string, Entry<T>>;

  constructor(
    most: number,
    private readonly weight?: Weight<T>,
  ) {
    this.answers = new LRUCache({ max: most, ...(weight ? { maxSize: weight.most } : {}) });
  }

  /** The answer kept for this key, or the one that `make` gives now. */
  async get(key: string, make: () => Promise<T>): Promise<T> {
    const kept = this.answers.get(key);
    if (kept) return "answer" in kept ? kept.answer : kept.made;
    const entry = { made: make() };
    const { weight } = this;
    this.answers.set(key, entry, weight && { size: 1 });
    const isHere = () => this.answers.peek(key) === entry;
    try {
      const answer = await entry.made;
      // What it weighs is known once it is there.
      const size = weight && Math.min(weight.most, 1 + weight.of(answer));
      if (isHere()) this.answers.set(key, { answer }, { size });
      return answer;
    } catch (error) {
      if (isHere()) this.answers.delete(key);
      throw error;
    }
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
