import { type FormEvent, useState } from "react";
import type { NeighbourRequest } from "@/core/views/neighbours-view";

const NONE = { name: "", address: "", account: "", key: "", secret: "", bell: "", every: 5 };
type Typed = keyof typeof NONE;

/** What has to be said of another server, each with where it comes from. */
const FIELDS: [of: Typed, label: string, hint: string][] = [
  ["name", "What it is called here, such as south", ""],
  ["address", "Address of the repository there", "https://south.example.org/git/quay.git"],
  ["key", "What it signs with: its page Tokens and sessions says it", ""],
  ["account", "Account there that reads the repository", ""],
  ["secret", "A token of that account, which may fetch", ""],
  ["bell", "Secret of its webhook, or nothing", ""],
];

/** Asks another server from now on. */
export function NewNeighbour({
  repositories,
  onAdd,
}: {
  repositories: readonly string[];
  onAdd: (request: NeighbourRequest) => Promise<void>;
}) {
  const [repository, setRepository] = useState(repositories[0] ?? "");
  const [typed, setTyped] = useState(NONE);
  const add = async (event: FormEvent) => {
    event.preventDefault();
    await onAdd({ repository, ...typed });
  };
  const told = `/api/repos/${repository}/neighbours/${typed.name || "NAME"}/told`;
  return (
    <form aria-label="Ask another server" className="mt-8 grid gap-3" onSubmit={(event) => void add(event)}>
      <h2 className="font-serif text-xl font-semibold">Ask another server</h2>
      <label className="grid gap-0.5 text-[13px] text-soft">
        Repository here
        <select
          className="field text-base text-ink"
          value={repository}
          onChange={(event) => setRepository(event.target.value)}
        >
          {repositories.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <div className="grid gap-3 sm:grid-cols-2">
        {FIELDS.map(([of, label, hint]) => (
          <label key={of} className="grid gap-0.5 text-[13px] text-soft">
            {label}
            <input
              type={of === "secret" || of === "bell" ? "password" : "text"}
              autoComplete="off"
              className="field text-ink"
              placeholder={hint}
              value={typed[of]}
              onChange={(event) => setTyped({ ...typed, [of]: event.target.value })}
            />
          </label>
        ))}
      </div>
      <p className="text-[13px] text-soft">
        It is asked every five minutes; at once where its webhook goes to{" "}
        <code className="break-all font-mono text-[13px]">{told}</code> of this server.
      </p>
      <p>
        <button type="submit" className="button-main" disabled={!typed.name || !typed.address || !typed.key}>
          Ask it
        </button>
      </p>
    </form>
  );
}
