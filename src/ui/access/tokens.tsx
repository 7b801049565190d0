"use client";
import { type FormEvent, useState } from "react";
import { SCOPES, type Scope, type TokenView } from "@/core/views/access-view";
import { ask, reasonFrom } from "../asking/ask";
import { SureButton } from "../parts/sure-button";
import { When } from "../parts/when";

const MAY: Record<Scope, string> = {
  read: "look, by the API",
  write: "change things, by the API",
  git: "fetch and push, by git",
  feed: "read lists, by a feed reader",
};

/** One's tokens: made, shown once, and taken away. */
export function Tokens({ initial, name, address }: { initial: TokenView[]; name: string; address: string }) {
  const [tokens, setTokens] = useState(initial);
  const [label, setLabel] = useState("");
  const [scopes, setScopes] = useState<Scope[]>(["read", "git"]);
  const [days, setDays] = useState("90");
  const [fresh, setFresh] = useState("");
  const [problem, setProblem] = useState("");
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const made = await ask("POST /api/tokens", {
        body: { label, scopes, days: days === "" ? null : Number(days) },
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
      await ask("DELETE /api/tokens/{id}", { parts: { id } });
      setTokens((now) => now.filter((token) => token.id !== id));
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  return (
    <>
      <form onSubmit={make} className="mt-5 grid gap-3">
        <div className="flex flex-wrap items-end gap-3">
          <label className="grid min-w-48 flex-1 gap-1">
            <span className="text-soft">What it is for</span>
            <input className="field" value={label} placeholder="my laptop" onChange={(e) => setLabel(e.target.value)} />
          </label>
          <label className="grid gap-1">
            <span className="text-soft">How long it lasts</span>
            <select className="field" value={days} onChange={(e) => setDays(e.target.value)}>
              <option value="7">a week</option>
              <option value="30">30 days</option>
              <option value="90">90 days</option>
              <option value="365">a year</option>
              <option value="">for ever</option>
            </select>
          </label>
          <button type="submit" className="button-main" disabled={label.trim() === "" || scopes.length === 0}>
            Make a token
          </button>
        </div>
        <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
          <legend className="sr-only">What it may do</legend>
          {SCOPES.map((scope) => (
            <label key={scope} className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={scopes.includes(scope)}
                onChange={(e) =>
                  setScopes(e.target.checked ? [...scopes, scope] : scopes.filter((one) => one !== scope))
                }
              />
              {MAY[scope]}
            </label>
          ))}
        </fieldset>
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
                {token.scopes.join(", ")} · made <When at={token.createdAt} /> ·{" "}
                {token.expiresAt === null ? "never ends" : <Ends at={token.expiresAt} />} ·{" "}
                {token.usedAt ? (
                  <>
                    last used <When at={token.usedAt} />
                  </>
                ) : (
                  "never used"
                )}
              </span>
            </span>
            <SureButton yes="yes, take it away" onYes={() => void drop(token.id)}>
              take away …
            </SureButton>
          </li>
        ))}
        {tokens.length === 0 && <li className="px-4 py-3 text-soft">You have no token yet.</li>}
      </ul>
    </>
  );
}

/** When a token ends, or that it has; a day is exact enough. */
function Ends({ at }: { at: number }) {
  const days = Math.ceil((at - Date.now()) / 86_400_000);
  if (days <= 0) return <span className="text-clay">has ended</span>;
  return <span className={days <= 7 ? "text-clay" : ""}>ends in {days === 1 ? "a day" : `${days} days`}</span>;
}
