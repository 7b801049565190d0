"use client";
import { useEffect } from "react";
import { useSpare } from "./use-draft";
import { useKept } from "./use-kept";

/**
 * As {@link useKept}; and what the server did not keep is kept in this browser, and goes on from there when the page is loaded again. `place` names what is
 * written, such as "note n1", and `over` the edition that it is written over: where the server has another one by then, that stands.
 */
export function useKeptOrSpared<T extends object>(
  { place, over }: { place: string; over: number },
  initial: T,
  save: (value: T, leaving: boolean) => Promise<string | null>,
) {
  const spare = useSpare<{ over: number; value: T }>(place);
  const kept = useKept(initial, async (value, leaving) => {
    // Whether it comes through nobody hears any more.
    if (leaving) spare.keep({ over, value });
    const refusal = await save(value, leaving);
    if (refusal) spare.keep({ over, value });
    else spare.forget();
    return refusal;
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it begins to be written here
  useEffect(() => {
    const found = spare.value();
    if (found?.over === over) kept.change({ ...initial, ...found.value });
    else if (found) spare.forget();
  }, [place]);
  return {
    ...kept,
    /** Forgets what was written and not kept, also what is kept here. */
    forget: () => {
      kept.cancel();
      spare.forget();
    },
  };
}
