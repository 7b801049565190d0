import { groupedBy } from "../plain/grouped";
import { skeleton } from "./confusable";

const ASCII = /^[\x00-\x7f]*$/;

/** What some machines do not see in a name at all. */
const UNSEEN = /[\u200c-\u200f\u202a-\u202e\u206a-\u206f\ufeff]/g;

/** Dots and spaces at the end of a name, which some machines leave away. */
const AT_THE_END = /(?<=[^/. ])[. ]+(?=\/|$)/g;

/**
 * A name or path as machines know it that do not tell upper from lower case, nor one way of writing a letter from another, nor know of dots and spaces at the end.
 * By way of capitals: some letters have only those in common.
 *
 * @example folded("Quays/\u017fafe.ts") // "quays/safe.ts"
 * @example folded("safe.ts. ") // "safe.ts"
 */
export function folded(name: string): string {
  if (ASCII.test(name)) return name.replace(AT_THE_END, "").toLowerCase();
  const seen = name.replace(UNSEEN, "").replace(AT_THE_END, "");
  return [...seen.normalize("NFC")].map(foldedLetter).join("");
}

/** One that has no capital of its own, such as ß, stays what it is. */
function foldedLetter(letter: string): string {
  const capital = letter.toUpperCase();
  return (capital.length === letter.length ? capital : letter).toLowerCase();
}

/** Whether two names in one folder are one on such machines: only one of the two files is there then. */
export function fallTogether(one: string, other: string): boolean {
  return one !== other && folded(one) === folded(other);
}

/**
 * Names of a folder that came to it and would be taken for another one there, each with that one: by machines, see {@link fallTogether}, or by the eye. Of names
 * of ASCII alone the eye is trusted.
 *
 * @example nameTwins(["auth.ts", "Auth.ts"], ["Auth.ts"]) // Map { "Auth.ts" → "auth.ts" }
 */
export function nameTwins(names: readonly string[], added: readonly string[]): Map<string, string> {
  const twins = new Map<string, string>();
  if (added.length === 0 || names.length < 2) return twins;
  const byFold = groupedBy(names, folded);
  const isForeign = (name: string) => !ASCII.test(name);
  const foreign = names.filter(isForeign);
  // Nearly always there are none: nothing has to be looked at then.
  const byLook = groupedBy(foreign.length > 0 ? names : [], skeleton);
  const foreignByLook = groupedBy(foreign, skeleton);
  for (const name of added) {
    const isOther = (other: string) => other !== name;
    const alike = byFold.get(folded(name))?.find(isOther);
    const seen = isForeign(name) ? byLook : foreignByLook;
    const looks = seen.size > 0 ? seen.get(skeleton(name))?.find(isOther) : undefined;
    const twin = alike ?? looks;
    if (twin !== undefined) twins.set(name, twin);
  }
  return twins;
}
