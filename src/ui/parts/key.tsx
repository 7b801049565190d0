"use client";
import { isLoneKey, useLoneKeys } from "../focus/lone-keys";

/** A key, shown on the button that does the same, with Alt where single keys need it. */
export function Key({ children }: { children: string }) {
  const [lone] = useLoneKeys();
  const withAlt = lone === "alt" && isLoneKey(children.toLowerCase().replace(/^⇧/, "shift "));
  return (
    <kbd aria-hidden className="rounded border border-rule bg-paper px-1 font-mono text-[10.5px] leading-4 text-soft">
      {withAlt ? `Alt ${children}` : children}
    </kbd>
  );
}
