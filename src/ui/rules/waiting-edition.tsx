"use client";
import { useState } from "react";
import type { Rules } from "@/core/rules/rule";
import { rulesDifferences } from "@/core/rules/rule-words";
import type { RuleTrial } from "@/core/views/keeping-view";
import { ask, reasonFrom } from "../asking/ask";
import { When } from "../parts/when";
import type { EditionView } from "./editions";
import { Trial } from "./trial";

/** An edition that does not count yet: what it says otherwise, what it would do, and the word of the second keeper. */
export function WaitingEdition({
  edition: { version, by, mine, at, note, rules },
  repository,
  counting,
  mayEdit,
  onSettled,
}: {
  edition: EditionView;
  repository: string;
  /** The rules that count now. */
  counting: Rules;
  mayEdit: boolean;
  onSettled: (made: { state: EditionView["state"]; rules: Rules }) => void;
}) {
  const [busy, setBusy] = useState(false);
  const [trial, setTrial] = useState<RuleTrial | null>(null);
  const [wrong, setWrong] = useState("");
  const differences = rulesDifferences(counting, rules);
  const attempt = async (work: () => Promise<void>) => {
    setBusy(true);
    setWrong("");
    await work().catch((error: unknown) => setWrong(reasonFrom(error)));
    setBusy(false);
  };
  const tryIt = () =>
    attempt(async () =>
      setTrial(await ask("POST /api/repos/{repo}/rules/try", { parts: { repo: repository }, body: { rules } })),
    );
  const settle = (agrees: boolean) =>
    attempt(async () => {
      const parts = { repo: repository, version: String(version) };
      onSettled(await ask("POST /api/repos/{repo}/rules/history/{version}", { parts, body: { agrees } }));
    });
  return (
    <section
      aria-label="Waits for a second keeper"
      className="mt-6 rounded-md border border-l-4 border-rule border-l-brass bg-paper px-5 py-4"
    >
      <h2 className="font-serif text-xl font-semibold">Edition {version} waits for a second keeper</h2>
      <p className="text-soft">
        Saved by {mine ? "you" : (by ?? "the installation")}, <When at={at} />. Until another keeper agrees, the rules
        below count.
      </p>
      {note !== "" && <p className="mt-1">“{note}”</p>}
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
      {mayEdit && (
        <p className="mt-3 flex flex-wrap items-center gap-3">
          {!mine && (
            <button type="button" className="button-main" disabled={busy} onClick={() => void settle(true)}>
              Agree: it counts from now on
            </button>
          )}
          <button type="button" className="button" disabled={busy} onClick={() => void tryIt()}>
            Try it
          </button>
          <button type="button" className="button" disabled={busy} onClick={() => void settle(false)}>
            Drop it
          </button>
          {mine && <span className="text-soft">Another keeper finds it on their desk.</span>}
        </p>
      )}
      {wrong !== "" && (
        <p role="alert" className="mt-3 text-clay">
          {wrong}
        </p>
      )}
      {trial && <Trial trial={trial} repository={repository} />}
    </section>
  );
}
