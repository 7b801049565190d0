import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Database } from "@/store/database";
import type { AppContext } from "../app/context";
import { Bench, value } from "../testing/bench";
import { desk } from "./desk";

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }], topic: [{ "a.txt": "b\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

/** The same application, where something happens before or after the first time that lines are looked up. */
function withAn(event: () => Promise<unknown>, when: "before" | "after"): AppContext {
  let due = true;
  const happen = async (now: typeof when) => {
    if (!due || now !== when) return;
    due = false;
    await event();
  };
  const { db } = bench.app;
  const executor = db.getExecutor() as ReturnType<Database["getExecutor"]> & {
    once: <T>(name: string, make: () => Promise<T>) => Promise<T>;
  };
  const once = async <T>(name: string, make: () => Promise<T>): Promise<T> => {
    if (!name.startsWith("lines for")) return executor.once(name, make);
    await happen("before");
    const made = await executor.once(name, make);
    await happen("after");
    return made;
  };
  const within = new Proxy(db, {
    get: (of, key) => {
      if (key === "getExecutor") return () => ({ once });
      const found = Reflect.get(of, key);
      return typeof found === "function" ? found.bind(of) : found;
    },
  });
  return { ...bench.app, db: within };
}

describe("a desk that is looked at while something happens", () => {
  it.each(["before", "after"] as const)(
    "is the next time as it came to be, %s its lines are looked up",
    async (when) => {
      const ada = bench.people.get("ada")!;
      const shown = async (app: AppContext = bench.app) => {
        const { forMe, forThem } = await desk(app, ada);
        return [...forMe, ...forThem].map(({ openThreads, reasons, gate }) => ({ openThreads, reasons, gate }));
      };
      const [early] = await shown();
      const verdict = when === "before" ? "request-changes" : "approve";
      const review = { kind: "send-review", revision: 1, verdict, remark: `${verdict}, since it is so.` } as const;
      await shown(withAn(async () => value(await bench.do("ben", "quay", 1, review)), when));
      const [late] = await shown();
      expect(late.reasons).not.toEqual(early.reasons);
      // Somebody who comes ends all that was kept.
      await bench.person(`came-${when}`, { quay: "reader" });
      expect(await shown()).toEqual([late]);
    },
  );
});
