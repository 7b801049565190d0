import { shortened } from "../plain/words";
import { codePoint } from "./characters";
import { looksPlain } from "./confusable";
import { visible } from "./visible";

/** So much of what follows `://` is looked at, in UTF-16 units: no name of a host is longer. */
const LOOKED_AT = 300;
/** What stands before the path of an address: a name and a password may stand before the host. */
const AUTHORITY = /^[^\s/?#"'`<>\\]+/;
/** What stands before the host, and looks like one. */
const LIKE_A_HOST = /^[\w-]+(?:\.[\w-]+)+(?::|$)/;
const BEYOND_ASCII = /[^\x00-\x7f]/;
const OTHER_LETTER = /(?![A-Za-z])\p{L}/u;
const LONGEST = 80;

/**
 * What an address in a line says that is not so, as a sentence: that it leads to another host than the one that stands first, or that letters or signs of its host are others
 * than they look. Null where there is none.
 *
 * @example deceivingAddress('fetch("https://quay.example@elsewhere.example/")') // "An address leads to “elsewhere.example”, and not to “quay.example”."
 */
export function deceivingAddress(line: string): string | null {
  for (let at = line.indexOf("://"); at >= 0; at = line.indexOf("://", at + 3)) {
    const [authority] = AUTHORITY.exec(line.slice(at + 3, at + 3 + LOOKED_AT)) ?? [];
    if (authority === undefined) continue;
    const parting = authority.lastIndexOf("@");
    const [before, host] = [authority.slice(0, Math.max(0, parting)), authority.slice(parting + 1)];
    const [first] = LIKE_A_HOST.exec(before) ?? [];
    if (first !== undefined && host !== "")
      return `An address leads to ${quoted(host)}, and not to ${quoted(first.replace(":", ""))}.`;
    const others = otherSigns(host);
    if (others.length > 0)
      return `An address looks like another one: ${quoted(host)} has ${[...new Set(others)].map(codePoint).join(", ")} in it.`;
  }
  return null;
}

/** What of a host is not ASCII and looks like it: all letters of a part of its name, and signs. What ends a sentence ends an address as well. */
function otherSigns(host: string): string[] {
  const letters = host.split(/[.:]/).filter((part) => OTHER_LETTER.test(part) && looksPlain(part));
  const signs = [...host].filter((sign, n, all) => {
    if (!BEYOND_ASCII.test(sign) || /\p{L}/u.test(sign) || !/[A-Za-z\d]/.test(all[n + 1] ?? "")) return false;
    return looksPlain(sign) || looksPlain(sign.normalize("NFKC"));
  });
  return [...letters.join(""), ...signs].filter((sign) => BEYOND_ASCII.test(sign));
}

const quoted = (name: string) => `“${shortened(visible(name), LONGEST)}”`;
