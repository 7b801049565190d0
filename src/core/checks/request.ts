import * as v from "valibot";
import { hasHiddenSigns } from "../plain/names";
import { CHECK_STATES } from "../review/shapes";

/** The name of a check. */
export const checkName = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, "A check needs a name."),
  v.maxLength(100),
  v.check((text) => !hasHiddenSigns(text), "The name of a check is one line, and holds no signs that cannot be seen."),
);
const link = v.pipe(
  v.string(),
  v.maxLength(2_000),
  v.check((text) => text === "" || /^https?:\/\//i.test(text), "A link begins with http:// or https://."),
);

/** What a machine says of a check by itself. */
export const checkRequest = v.object({
  name: checkName,
  state: v.picklist(CHECK_STATES, `The state of a check is one of ${CHECK_STATES.join(", ")}.`),
  summary: v.optional(v.pipe(v.string(), v.maxLength(500)), ""),
  link: v.optional(link, ""),
});
