import { LRUCache } from "lru-cache";

/** Keeps the answers to questions whose answers never change, those used last. Failed ones are forgotten. */
export class Kept<T> {
  private readonly answers: LRUCache<string, Promise<T>>;

  constructor(most: number) {
    this.answers = new LRUCache({ max: most });
  }

  /** The answer kept for this key, or the one that `make` gives now. */
  get(key: string, make: () => Promise<T>): Promise<T> {
    const kept = this.answers.get(key);
    if (kept !== undefined) return kept;
    const made = make();
    this.answers.set(key, made);
    made.catch(() => this.answers.delete(key));
    return made;
  }

  clear(): void {
    this.answers.clear();
  }

  forget(key: string): void {
    this.answers.delete(key);
  }
}
