import { done, type Outcome, refuse } from "@/core/plain/outcome";

/** What can be said with a push, and an example of each. */
const KNOWN = {
  title: "-o title=“What it does”",
  description: "-o description=“Why”",
  target: "-o target=main",
  draft: "-o draft",
} as const;
export type PushOptions = Partial<Record<keyof typeof KNOWN, string>>;

/** Push options of the form `name=value`; `draft` needs no value. Refuses what is not known, since it would do nothing. */
export function readOptions(options: readonly string[]): Outcome<PushOptions> {
  const read: PushOptions = {};
  for (const option of options) {
    const at = option.indexOf("=");
    const name = at < 0 ? option : option.slice(0, at);
    const value = at < 0 ? "" : option.slice(at + 1);
    if (!isKnown(name) || (at < 0 && name !== "draft"))
      return refuse(
        "invalid",
        `“${name.slice(0, 60)}” means nothing here as a push option. These do: ${Object.values(KNOWN).join(", ")}. Nothing of this push was taken.`,
      );
    read[name] = value;
  }
  return done(read);
}

function isKnown(name: string): name is keyof typeof KNOWN {
  return Object.hasOwn(KNOWN, name);
}
