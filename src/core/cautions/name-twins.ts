import { skeleton } from "./confusable";

const ASCII = /^[\x00-\x7f]*$/;

/** A name as machines know it that do not tell upper from lower case, nor one way of writing a letter from another. */
function folded(name: string): string {
  return name.normalize("NFC").toLowerCase();
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
  // Nearly always there are none: nothing has to be looked at then.
  const byLook = names.some(isForeign) ? groupedBy(names, skeleton) : null;
  for (const name of added) {
    const alike = byFold.get(folded(name))?.find((other) => other !== name);
    const looks = byLook?.get(skeleton(name))?.find((other) => other !== name && (isForeign(name) || isForeign(other)));
    const twin = alike ?? looks;
    if (twin !== undefined) twins.set(name, twin);
  }
  return twins;
}

function groupedBy(names: readonly string[], key: (name: string) => string): Map<string, string[]> {
  const groups = new Map<string, string[]>();
  for (const name of names) {
    const known = groups.get(key(name));
    if (known) known.push(name);
    else groups.set(key(name), [name]);
  }
  return groups;
}
