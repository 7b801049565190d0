/** Keeps the last few answers to questions whose answers never change. Failed ones are forgotten. */
export class Kept<T> {
  private readonly answers = new Map<string, Promise<T>>();
  constructor(private readonly most: number) {}

  /** The answer kept for this key, or the one that `make` gives now. */
  get(key: string, make: () => Promise<T>): Promise<T> {
    const kept = this.answers.get(key);
    if (kept) {
      // Used last, forgotten last.
      this.answers.delete(key);
      this.answers.set(key, kept);
      return kept;
    }
    const made = make();
    this.answers.set(key, made);
    made.catch(() => this.answers.delete(key));
    if (this.answers.size > this.most) this.answers.delete(this.answers.keys().next().value as string);
    return made;
  }

  clear(): void {
    this.answers.clear();
  }

  forget(key: string): void {
    this.answers.delete(key);
  }
}
