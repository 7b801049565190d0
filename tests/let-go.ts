import { AsyncLocalStorage } from "node:async_hooks";
import { setTimeout } from "node:timers/promises";
import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";

const requests = new AsyncLocalStorage<object>();

/** Does work in a request, as a server does, and tells whether nothing that is left of it leads to that request any more. */
export async function letsGoOf(work: () => Promise<unknown>): Promise<boolean> {
  const request = await within(work);
  setFlagsFromString("--expose-gc");
  const collect = runInNewContext("gc") as () => void;
  // What is over is let go of by turns of the loop.
  for (let turn = 0; turn < 20 && request.deref(); turn++) {
    await setTimeout(20);
    collect();
  }
  return request.deref() === undefined;
}

async function within(work: () => Promise<unknown>): Promise<WeakRef<object>> {
  const request = {};
  await requests.run(request, work);
  return new WeakRef(request);
}
