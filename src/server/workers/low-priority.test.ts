import { readdirSync, readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { startWorkers } from "./workers";

/** How far each thread of this process stands behind others. */
function behind(): number[] {
  return readdirSync("/proc/self/task").flatMap((thread) => {
    const stat = readFileSync(`/proc/self/task/${thread}/stat`, "utf8");
    // What stands behind the name, which may hold anything: the state is the third of all.
    return Number(stat.slice(stat.lastIndexOf(")") + 2).split(" ")[16]);
  });
}

it.runIf(process.platform === "linux")("lets threads that take long give way to all others", async () => {
  const before = behind();
  const workers = startWorkers(process.env.LENS_ROOT ?? process.cwd());
  try {
    await workers.warm();
    // One thread of either kind was begun.
    const giving = (all: number[]) => all.filter((nice) => nice === 10).length;
    expect(giving(behind())).toBe(giving(before) + 1);
  } finally {
    await workers.close();
  }
});
