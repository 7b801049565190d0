"use client";
import type { Rules } from "@/core/rules/rule";
import { rulesDifferences } from "@/core/rules/rule-words";
import { When } from "../parts/when";
import type { EditionView } from "./editions";

/** An edition that does not count yet: what it says otherwise, and the word of the second keeper. */
export function WaitingEdition({
  edition: { version, by, mine, at, note, rules },
  counting,
  busy,
  onSettle,
}: {
  edition: EditionView;
  /** The rules that count now. */
  counting: Rules;
  busy: boolean;
  /** Null for who is no keeper. */
  onSettle: ((agrees: boolean) => void) | null;
}) {
  const differences = rulesDifferences(counting, rules);
  return (
    <section
      aria-label="Waits for a second keeper"
      className="mt-6 rounded-md border border-l-4 border-rule border-l-brass bg-paper px-5 py-4"
    >
      <h2 className="font-serif text-xl font-semibold">Edition {version} waits for a second keeper</h2>
      <p className="text-soft">
        Saved by {mine ? "you" : (by ?? "the installation")}, <When at={at} />
        {note !== "" && `: ${note}`}. Until another keeper agrees, the rules below count.
      </p>
      <ul className="mt-2 grid gap-2">
        {differences.map(({ about, isBranch, gone, come }) => (
          <li key={about}>
            <span className={isBranch ? "font-mono text-[13.5px] font-semibold" : "font-semibold"}>{about}</span>
            <ul>
              {gone.map((words) => (
                <li key={words} className="grid grid-cols-[1.2em_1fr] text-clay">
                  <span aria-hidden>−</span>
                  <span>
                    <span className="sr-only">no longer: </span>
                    {words}
                  </span>
                </li>
              ))}
              {come.map((words) => (
                <li key={words} className="grid grid-cols-[1.2em_1fr] text-teal">
                  <span aria-hidden>+</span>
                  <span>
                    <span className="sr-only">new: </span>
                    {words}
                  </span>
                </li>
              ))}
            </ul>
          </li>
        ))}
        {differences.length === 0 && <li>It says the same as they do.</li>}
      </ul>
      {onSettle && (
        <p className="mt-3 flex items-center gap-3">
          {!mine && (
            <button type="button" className="button-main" disabled={busy} onClick={() => onSettle(true)}>
              Agree: it counts from now on
            </button>
          )}
          <button type="button" className="button" disabled={busy} onClick={() => onSettle(false)}>
            Drop it
          </button>
          {mine && <span className="text-soft">Another keeper finds it on their desk.</span>}
        </p>
      )}
    </section>
  );
}
