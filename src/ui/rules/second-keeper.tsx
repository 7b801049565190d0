"use client";
import { secondedWords } from "@/core/rules/rule-words";

/** Whether one keeper changes these rules alone. */
export function SecondKeeper({
  seconded = false,
  onChange,
}: {
  /** Files may lack it: then they can, as the server fills in. */
  seconded?: boolean;
  onChange: ((seconded: boolean) => void) | null;
}) {
  return (
    <section aria-label="Changing these rules" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Changing these rules</h2>
      {onChange ? (
        <label className="mt-1 flex items-baseline gap-2">
          <input type="checkbox" checked={seconded} onChange={(event) => onChange(event.target.checked)} />
          <span>
            takes two keepers: what one saves counts when a second one has agreed
            <span className="block text-[13px] text-soft">
              Otherwise a keeper who wants to merge alone can take the rule away first.
            </span>
          </span>
        </label>
      ) : (
        <p className="mt-1">{secondedWords({ seconded })}</p>
      )}
    </section>
  );
}
