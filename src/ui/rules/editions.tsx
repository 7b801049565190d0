"use client";
import type { EditionState, Rule, Rules } from "@/core/rules/rule";
import { ruleWords } from "@/core/rules/rule-words";
import { When } from "../parts/when";

export interface EditionView {
  version: number;
  /** A name; null for what was not done by a person. */
  by: string | null;
  at: number;
  note: string;
  rules: Rules;
  state: EditionState;
  /** The second keeper, by their name, who agreed to it or dropped it. */
  second: string | null;
  /** Who looks saved it, or a machine account of theirs. */
  mine: boolean;
}

/** How the rules came to be what they are: each edition in its sentences, to go back to. */
export function Editions({
  history,
  onTake,
}: {
  history: EditionView[];
  onTake: ((edition: EditionView) => void) | null;
}) {
  const counting = history.find(({ state }) => state === "agreed");
  return (
    <section aria-label="History" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">History</h2>
      <ol className="mt-2 divide-y divide-rule">
        {history.map((edition) => (
          <li key={edition.version} className="py-2">
            <details>
              <summary className="cursor-pointer">
                <span className="font-semibold">Edition {edition.version}</span>{" "}
                <span className="text-soft">
                  {edition.by ? `by ${edition.by}` : "by the installation"}
                  {edition.at > 0 && (
                    <>
                      , <When at={edition.at} />
                    </>
                  )}
                </span>{" "}
                {edition.note}
                {edition.second !== null && edition.state === "agreed" && (
                  <span className="text-soft"> agreed to by {edition.second}</span>
                )}
                {edition === counting && <span className="text-teal"> counts now</span>}
                {edition.state === "waits" && <span className="text-brass"> waits for a second keeper</span>}
                {edition.state === "dropped" && (
                  <span className="text-clay"> never counted{edition.second && `: dropped by ${edition.second}`}</span>
                )}
              </summary>
              <ul className="mt-1 grid gap-1 pl-5">
                {edition.rules.rules.map((rule) => (
                  <li key={rule.branches}>
                    <code className="font-mono text-[12.5px]">{rule.branches}</code> {sentences(rule).join(" ")}
                  </li>
                ))}
              </ul>
              {onTake && edition !== counting && (
                <button type="button" className="quiet-button ml-4" onClick={() => onTake(edition)}>
                  go back to this one
                </button>
              )}
            </details>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** A rule in sentences. */
export function sentences(rule: Rule): string[] {
  try {
    return ruleWords(rule);
  } catch {
    // A file that was just taken in may lack what the server fills in.
    return ["As it is in the file."];
  }
}
