import { expect, it } from "vitest";
import { InTurn } from "./in-turn";

function held(words: string, said: string[]) {
  let answer!: () => void;
  let fail!: (error: Error) => void;
  const waiting = new Promise<void>((resolve, reject) => {
    answer = resolve;
    fail = reject;
  });
  const work = async () => {
    said.push(`${words} begins`);
    await waiting;
    said.push(`${words} ends`);
    return words;
  };
  return { answer, fail, work };
}

it("lets nothing overtake what was begun before of the same thing, also when that failed", async () => {
  const turns = new InTurn();
  const said: string[] = [];
  const [first, second, other] = ["first", "second", "other"].map((words) => held(words, said));
  const done = turns.run("a", first.work);
  const next = turns.run("a", second.work);
  void turns.run("b", other.work);
  second.answer();
  await Promise.resolve();
  expect(said).toEqual(["first begins", "other begins"]);
  first.fail(new Error("Away."));
  await expect(done).rejects.toThrow("Away.");
  await expect(next).resolves.toBe("second");
  await turns.settled("a");
  let all = false;
  const settled = turns.settled().then(() => {
    all = true;
  });
  await Promise.resolve();
  expect(all).toBe(false);
  other.answer();
  await settled;
  expect(said.at(-1)).toBe("other ends");
});
