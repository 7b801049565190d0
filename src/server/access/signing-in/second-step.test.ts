import { Secret, TOTP } from "otpauth";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { changeAccount } from "../../keeping/accounts";
import { Bench, reason, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { personOfSession, signIn } from "../sessions";
import { beginSecondStep, confirmSecondStep, endSecondStep, secondStepOf, takesStep } from "./second-step";

const it = story();
const HALF_MINUTE = 30_000;

let bench: Bench;
let secret: string;
let words: string[];
let confirmed: string;
beforeAll(async () => {
  bench = await Bench.set();
  for (const name of ["ada", "ben"]) await bench.person(name);
});
afterAll(() => bench.clear());

const ada = () => bench.people.get("ada")!;
const doer = { person: null, address: "test" };
/** What a device shows, so many half minutes from now. */
const shown = (later = 0) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: bench.app.now() + later * HALF_MINUTE });
let from = 0;
const enter = (code?: string, address = `10.1.0.${++from}`) =>
  signIn(bench.app, { name: "ada", password: "long enough", code }, { address, agent: "" });

describe("a second step", () => {
  it("counts for nothing until a device has shown that it has the secret", async () => {
    const begun = value(await beginSecondStep(bench.app, ada()));
    secret = begun.secret;
    expect(begun.address).toMatch(/^otpauth:\/\/totp\/Earnest%20Lens:ada\?.*secret=/);
    expect(begun.picture).toMatch(/^<svg/);
    expect(await secondStepOf(bench.app, ada())).toEqual({ onSince: null, wordsLeft: 0 });
    expect((await personOfSession(bench.app, value(await enter())))?.name).toBe("ada");
    expect(reason(await confirmSecondStep(bench.app, ada(), doer, "000000"))).toMatch(/Is its clock right/);
    expect(reason(await confirmSecondStep(bench.app, bench.people.get("ben")!, doer, shown()))).toMatch(
      /Begin it anew/,
    );
    confirmed = shown();
    ({ words } = value(await confirmSecondStep(bench.app, ada(), doer, confirmed)));
    expect(new Set(words).size).toBe(8);
    expect(await secondStepOf(bench.app, ada())).toMatchObject({ wordsLeft: 8 });
    expect(reason(await beginSecondStep(bench.app, ada()))).toMatch(/switch it off first/);
    const kept = await bench.app.db.selectFrom("second_steps").select("words").executeTakeFirstOrThrow();
    for (const word of words) expect(kept.words).not.toContain(word);
  });

  it("is asked for behind the right password alone, and nobody is in before it", async () => {
    expect(value(await enter())).toBeNull();
    const wrong = { name: "ada", password: "wrong", code: shown(1) };
    expect(reason(await signIn(bench.app, wrong, { address: "10.2.0.1", agent: "" }))).toMatch(/do not match/);
    expect(reason(await enter("12345"))).toMatch(/neither what your device shows/);
    expect(reason(await enter(""))).toMatch(/neither/);
  });

  it("takes a number once, also of two that come at once, and those of its neighbours", async () => {
    expect(await takesStep(bench.app, ada(), confirmed)).toBe(false);
    bench.pass(3 * HALF_MINUTE);
    expect(reason(await enter(shown(-2)))).toMatch(/neither/);
    const now = shown();
    const both = await Promise.all([enter(now), enter(now)]);
    expect(both.filter((one) => one.ok)).toHaveLength(1);
    const clockAhead = shown(1);
    value(await enter(` ${clockAhead.slice(0, 3)} ${clockAhead.slice(3)} `));
    // What came before it is gone by.
    expect(reason(await enter(now))).toMatch(/neither/);
  });

  it("takes each word once, however it is written", async () => {
    value(await enter(` ${words[0].toUpperCase()} `));
    expect(reason(await enter(words[0]))).toMatch(/neither/);
    expect(await secondStepOf(bench.app, ada())).toMatchObject({ wordsLeft: 7 });
  });

  it("slows down who has the password and guesses, also where they begin anew each time", async () => {
    const address = "10.9.0.1";
    const told: string[] = [];
    for (let i = 0; i < 8; i++) {
      const begun = await enter(undefined, address);
      if (!begun.ok) told.push(reason(begun));
      const guessed = await enter(String(i).padStart(6, "0"), address);
      if (!guessed.ok) told.push(reason(guessed));
    }
    expect(told.filter((why) => /neither/.test(why)).length).toBeLessThanOrEqual(3);
    expect(told.at(-1)).toMatch(/too many wrong tries/);
  });

  it("is switched off by who can take it, or by an administrator for who has lost all", async () => {
    expect(reason(await endSecondStep(bench.app, ada(), doer, "000000"))).toMatch(/neither/);
    value(await endSecondStep(bench.app, ada(), doer, words[1]));
    expect((await personOfSession(bench.app, value(await enter())))?.name).toBe("ada");
    expect(reason(await changeAccount(bench.app, doer, "ada", { kind: "drop-second-step" }))).toMatch(/No second step/);
    ({ secret } = value(await beginSecondStep(bench.app, ada())));
    bench.pass(3 * HALF_MINUTE);
    value(await confirmSecondStep(bench.app, ada(), doer, shown()));
    expect(value(await enter())).toBeNull();
    value(await changeAccount(bench.app, doer, "ada", { kind: "drop-second-step" }));
    expect(value(await enter())).not.toBeNull();
  });
});
