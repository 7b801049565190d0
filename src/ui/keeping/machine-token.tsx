"use client";
import { type FormEvent, useState } from "react";
import { type AccountView, SCOPES, type Scope } from "@/core/views/access-view";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";

/** Makes a token for a machine account, which cannot sign in to make its own; it is shown this once. */
export function MachineToken({ name, onMade }: { name: string; onMade: (people: AccountView[]) => void }) {
  const [label, setLabel] = useState("");
  const [scope, setScope] = useState<Scope | "all">("all");
  const [token, setToken] = useState("");
  const { carry, ending } = useCarried();
  const make = (event: FormEvent) => {
    event.preventDefault();
    void carry(async () => {
      const scopes = scope === "all" ? [...SCOPES] : [scope];
      const made = await ask("POST /api/keeping/people/{name}/tokens", { parts: { name }, body: { label, scopes } });
      setToken(made.token);
      setLabel("");
      onMade(made.people);
    }, "");
  };
  return (
    <div>
      {ending}
      <form onSubmit={make} className="flex flex-wrap items-end gap-3">
        <label className="grid gap-0.5 text-[13px] text-soft">
          A token for it, of 90 days: what it is for
          <input className="field text-ink" value={label} onChange={(event) => setLabel(event.target.value)} />
        </label>
        <label className="grid gap-0.5 text-[13px] text-soft">
          It may
          <select className="field text-ink" value={scope} onChange={(event) => setScope(event.target.value as Scope)}>
            <option value="all">read, write and git</option>
            {SCOPES.map((one) => (
              <option key={one} value={one}>
                {one} alone
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="button" disabled={label.trim() === ""}>
          Make it
        </button>
      </form>
      {token !== "" && (
        <p role="status" className="mt-2 rounded-md border border-brass bg-brass-wash px-4 py-2">
          It is shown this once:{" "}
          <code className="select-all break-all font-mono text-[13px]" data-testid="machine-token">
            {token}
          </code>
        </p>
      )}
    </div>
  );
}
