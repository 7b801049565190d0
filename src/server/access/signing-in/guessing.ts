import type { Outcome } from "@/core/plain/outcome";
import type { AppContext } from "../../app/context";
import { shelf } from "../../app/kept";
import type { Person } from "../person";
import { SignInLimits } from "./sign-in-limits";

const SIGN_IN_LIMITS = shelf<SignInLimits>("sign-in limits", 1);

/** The tries that are counted of who signs in, or shows again who they are. */
export function limitsOf(app: AppContext): Promise<SignInLimits> {
  return SIGN_IN_LIMITS(app).get("", async () => new SignInLimits());
}

/** Does what somebody could guess their way into: what is refused is counted, and who was refused often has to wait. */
export async function guessing<T>(
  app: AppContext,
  person: Person,
  address: string,
  work: () => Promise<Outcome<T>>,
): Promise<Outcome<T>> {
  const limits = await limitsOf(app);
  const early = limits.begin(person.name, address, app.now());
  if (early) return early;
  const outcome = await work();
  if (outcome.ok) limits.right(person.name, address);
  return outcome;
}
