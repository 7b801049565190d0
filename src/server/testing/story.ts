import { it } from "vitest";

/**
 * For tests that tell one story: each goes on from where the one before it ended, and no chapter is told twice. Whichever is run, those before
 * it are told first; so each can be run alone, and all of them in any order. A chapter that fails is a failure of its own test only.
 *
 * @example
 * const it = story();
 * it.first(async () => { bench = await Bench.set(); });
 * it("is opened", async () => { … });
 * it("is merged", async () => { … });
 */
export function story() {
  const chapters: { tell: () => unknown; isTest: boolean; told?: Promise<unknown> }[] = [];
  let ready: () => unknown = () => undefined;
  const add = (tell: () => unknown, isTest: boolean) => chapters.push({ tell, isTest }) - 1;
  const tellUpTo = async (last: number): Promise<unknown> => {
    for (let i = 0; i < last; i++) await (chapters[i].isTest ? told(i).catch(() => undefined) : told(i));
    return told(last);
  };
  const told = (index: number): Promise<unknown> => {
    const chapter = chapters[index];
    const begin = chapter.isTest ? ready : () => undefined;
    chapter.told ??= Promise.resolve().then(begin).then(chapter.tell);
    return chapter.told;
  };
  const chapter = (name: string, tell: () => unknown): void => {
    const index = add(tell, true);
    it(name, () => tellUpTo(index) as Promise<void>);
  };
  /** Something that is done before the chapters that follow, and is no test. */
  chapter.first = (prepare: () => unknown): void => void add(prepare, false);
  /** What is done before each chapter, also where several are told for one test. */
  chapter.beforeEach = (prepare: () => unknown): void => {
    ready = prepare;
  };
  return chapter;
}
