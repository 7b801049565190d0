import * as v from "valibot";
import { wrongName } from "../plain/names";

/** A name to sign in with. */
export const signInName = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, "An account needs a name to sign in with."),
  v.regex(
    /^[a-z0-9][a-z0-9._-]{0,39}$/,
    ({ input }) =>
      `“${input}” cannot be a name to sign in with: use lower-case letters, digits, dots and dashes, 40 at most.`,
  ),
);

/** What a person is called, by others. */
export const fullName = v.pipe(
  v.string(),
  v.check(
    (name) => wrongName(name) === null,
    ({ input }) => wrongName(input) ?? "",
  ),
  v.trim(),
);

export const newPassword = v.pipe(
  v.string(),
  v.minLength(8, "A password has at least 8 characters."),
  v.maxLength(1_000, "A password has 1,000 characters at most."),
);

/** What is wrong with a new password, as a sentence; null where nothing is. */
function wrongPassword(password: string): string | null {
  return v.safeParse(newPassword, password).issues?.[0].message ?? null;
}

/** Whether mail could be sent there, as far as an address tells. */
export function isMailAddress(text: string): boolean {
  return /^[^\s@]+@[^\s@]+$/.test(text);
}

const NO_ADDRESS = "Give a mail address, such as ann@harbour.example.";
const mailAddress = v.pipe(v.string(), v.trim(), v.check(isMailAddress, NO_ADDRESS));
const mailAddressOrNone = v.pipe(
  v.string(),
  v.trim(),
  v.check((text) => text === "" || isMailAddress(text), NO_ADDRESS),
);

/** An account of one's own as one types it; `word` is what was given to who may make it. */
export const ownAccountForm = v.object({
  word: v.pipe(v.string(), v.trim(), v.minLength(1, "Without that word no account can be made.")),
  ...{ name: signInName, fullName, email: mailAddress, password: newPassword },
});

/** An account as it is made for somebody: a person, who comes in by a password, or a machine, that belongs to somebody or to nobody. */
export const newAccountForm = v.pipe(
  v.object({
    ...{ name: signInName, fullName, email: mailAddressOrNone },
    ...{ machine: v.boolean(), owner: v.string(), password: v.string() },
  }),
  v.forward(
    v.partialCheck(
      [["machine"], ["password"]],
      ({ machine, password }) => machine || wrongPassword(password) === null,
      ({ input }) => wrongPassword(input.password) ?? "",
    ),
    ["password"],
  ),
  v.transform(({ owner, password, ...account }) =>
    account.machine ? { ...account, ...(owner ? { owner } : {}) } : { ...account, password },
  ),
);
