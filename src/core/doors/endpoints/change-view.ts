import type { AroundPart, ChangeAnswer, ChangePart, GatePart, MinePart } from "./change-parts";

/** A change set as one person sees it, all parts together. */
export type ChangeView = ChangePart & MinePart & GatePart & AroundPart;

/** The parts put together; `known` is what its log told before, for who asked for no more than what came since. */
export function wholeView({ change, mine, gate, around }: ChangeAnswer, known?: ChangePart): ChangeView {
  const told = change ?? known;
  if (!told) throw new Error("A change set without what its log tells cannot be shown.");
  return { ...told, ...mine, ...gate, ...around };
}
