import type { ChangeLine } from "@/core/views/desk-view";

/** What a list shows of a change set. Of its gate that is no more than how much is met: a page carries each of its lines twice. */
export interface ShownLine extends Omit<ChangeLine, "gate" | "authorId"> {
  /** How many conditions are met, and of how many; null where nothing is asked any more. */
  met: [number, number] | null;
}

export function shownLine<T extends ChangeLine>({
  gate,
  authorId: _,
  ...line
}: T): Omit<T, "gate" | "authorId"> & ShownLine {
  const met: ShownLine["met"] = gate && [gate.conditions.filter((one) => one.met).length, gate.conditions.length];
  return { ...line, met };
}
