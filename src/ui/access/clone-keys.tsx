"use client";
import { type FormEvent, useState } from "react";
import type { CloneKeyView } from "@/core/views/access-view";
import { ask, reasonFrom } from "../asking/ask";
import { SureButton } from "../parts/sure-button";
import { When } from "../parts/when";

/** The clones in which somebody reviews without this server: what their keys sign is taken in as theirs. */
export function CloneKeys({ initial, name, serverKey }: { initial: CloneKeyView[]; name: string; serverKey: string }) {
  const [keys, setKeys] = useState(initial);
  const [line, setLine] = useState("");
  const [label, setLabel] = useState("");
  const [problem, setProblem] = useState("");
  const carry = async (asked: Promise<CloneKeyView[]>, after?: () => void) => {
    try {
      setKeys(await asked);
      setProblem("");
      after?.();
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const add = (event: FormEvent) => {
    event.preventDefault();
    void carry(ask("POST /api/clone-keys", { body: { line, label } }), () => {
      setLine("");
      setLabel("");
    });
  };
  return (
    <section aria-label="Clones" className="mt-12">
      <h2 className="font-serif text-xl font-semibold">Clones that you review in</h2>
      <p className="mt-1 text-soft">
        <code>lens here</code> reviews in a clone alone, on a train say, and <code>lens sync</code> hands in what you
        said. Run <code>lens key {name}</code> there and paste its line: then that is taken in as yours, by the roles
        and rules of here. This server signs with <code className="select-all break-all">{serverKey}</code>: the clone
        asks whether to believe it.
      </p>
      <form onSubmit={add} className="mt-4 flex flex-wrap items-end gap-3">
        <label className="grid min-w-64 flex-[2] gap-1">
          <span className="text-soft">The line of lens key</span>
          <input
            className="field font-mono"
            value={line}
            placeholder="lens-key MCowBQ…"
            spellCheck={false}
            autoComplete="off"
            onChange={(e) => setLine(e.target.value)}
          />
        </label>
        <label className="grid min-w-40 flex-1 gap-1">
          <span className="text-soft">Which clone it is</span>
          <input className="field" value={label} placeholder="my laptop" onChange={(e) => setLabel(e.target.value)} />
        </label>
        <button type="submit" className="button-main" disabled={line.trim() === "" || label.trim() === ""}>
          This is mine
        </button>
      </form>
      {problem && (
        <p role="alert" className="mt-3 text-clay">
          {problem}
        </p>
      )}
      <ul className="mt-4 divide-y divide-rule rounded-md border border-rule bg-paper">
        {keys.map(({ key, label: called, addedAt, usedAt, revokedAt }) => (
          <li key={key} className="flex items-center gap-4 px-4 py-2">
            <span className="min-w-0 flex-1">
              <span className={`block truncate font-semibold ${revokedAt === null ? "" : "text-soft line-through"}`}>
                {called}
              </span>
              <span className="block break-words text-[13px] text-soft">
                {key.slice(0, 8)} · yours since <When at={addedAt} />
                {revokedAt !== null && (
                  <>
                    {" · revoked "}
                    <When at={revokedAt} />
                  </>
                )}
                {revokedAt === null &&
                  (usedAt === null ? (
                    " · nothing handed in yet"
                  ) : (
                    <>
                      {" · last handed in "}
                      <When at={usedAt} />
                    </>
                  ))}
              </span>
            </span>
            {revokedAt === null && (
              <SureButton
                yes="yes, revoke it for good"
                onYes={() => void carry(ask("DELETE /api/clone-keys/{key}", { parts: { key } }))}
              >
                revoke …
              </SureButton>
            )}
          </li>
        ))}
        {keys.length === 0 && <li className="px-4 py-3 text-soft">No clone is known as yours.</li>}
      </ul>
    </section>
  );
}
