import vm from "node:vm";

/** So often may a script tell something before it is stopped; and so long may it take, in milliseconds, should it tell nothing and go on for ever. */
const MOST = 500;
const LONGEST = 5_000;

/** Runs a script, and gives what it told by `log`, and last the kind of error that ended it, if any did. How a function is written is not told. */
export function runScript(script: string): string[] {
  const told: string[] = [];
  const log = (...words: unknown[]) => {
    if (told.length > MOST) throw new RangeError("It tells too much.");
    told.push(words.map((word) => (typeof word === "function" ? "function" : String(word))).join(" "));
    return true;
  };
  try {
    new vm.Script(script).runInNewContext({ log: Object.assign(log, { count: 5 }) }, { timeout: LONGEST });
  } catch (error) {
    told.push((error as Error).name);
  }
  return told;
}
