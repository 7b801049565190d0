"use client";
import { type FormEvent, useState } from "react";
import type { TokenView } from "@/core/api";
import { ask, reasonFrom } from "./ask";
import { When } from "./when";

/** One's tokens: made, shown once, and taken away. */
export function Tokens({ initial, name, address }: { initial: TokenView[]; name: string; address: string }) {
  const [tokens, setTokens] = useState(initial);
  const [label, setLabel] = useState("");
  const [fresh, setFresh] = useState("");
  const [sure, setSure] = useState("");
  const [problem, setProblem] = useState("");
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const made = await ask<{ token: string; tokens: TokenView[] }>("/api/tokens", {
        method: "POST",
        body: { label },
      });
      setFresh(made.token);
      setTokens(made.tokens);
      setLabel("");
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const drop = async (id: string) => {
    try {
      await ask(`/api/tokens/${id}`, { method: "DELETE" });
      setTokens((now) => now.filter((token) => token.id !== id));
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  return (
    <>
      <form onSubmit={make} className="mt-5 flex items-end gap-3">
        <label className="grid flex-1 gap-1">
          <span className="text-soft">What it is for</span>
          <input className="field" value={label} placeholder="my laptop" onChange={(e) => setLabel(e.target.value)} />
        </label>
        <button type="submit" className="button-main" disabled={label.trim() === ""}>
          Make a token
        </button>
      </form>
      {fresh !== "" && (
        <section aria-label="The new token" className="mt-4 rounded-md border border-brass bg-brass-wash px-4 py-3">
          <p>Copy it now: it is shown this once.</p>
          <code className="mt-1 block select-all break-all font-mono text-[14px]" data-testid="token">
            {fresh}
          </code>
          <p className="mt-2 text-soft">Or clone with it in the address:</p>
          <code className="block select-all break-all font-mono text-[12.5px]">
            git clone {address.replace("://", `://${name}:${fresh}@`)}/git/REPOSITORY.git
          </code>
        </section>
      )}
      {problem && (
        <p role="alert" className="mt-3 text-clay">
          {problem}
        </p>
      )}
      <ul className="mt-6 divide-y divide-rule rounded-md border border-rule bg-paper">
        {tokens.map((token) => (
          <li key={token.id} className="flex items-center gap-4 px-4 py-2">
            <span className="min-w-0 flex-1">
              <span className="block truncate font-semibold">{token.label}</span>
              <span className="block text-[13px] text-soft">
                made <When at={token.createdAt} />,{" "}
                {token.usedAt ? (
                  <>
                    last used <When at={token.usedAt} />
                  </>
                ) : (
                  "never used"
                )}
              </span>
            </span>
            {sure === token.id ? (
              <>
                <button type="button" className="quiet-button text-clay" onClick={() => void drop(token.id)}>
                  yes, take it away
                </button>
                <button type="button" className="quiet-button" onClick={() => setSure("")}>
                  no
                </button>
              </>
            ) : (
              <button type="button" className="quiet-button" onClick={() => setSure(token.id)}>
                take away …
              </button>
            )}
          </li>
        ))}
        {tokens.length === 0 && <li className="px-4 py-3 text-soft">You have no token yet.</li>}
      </ul>
    </>
  );
}
