"use client";
import { type FormEvent, useState } from "react";
import type { AccountView } from "@/core/views/access-view";
import { ask, reasonFrom } from "../asking/ask";

const EMPTY = { name: "", fullName: "", email: "", password: "", machine: false, owner: "" };

/** A new account, of a person or of a program. */
export function NewAccount({ people, onAdded }: { people: AccountView[]; onAdded: (people: AccountView[]) => void }) {
  const [open, setOpen] = useState(false);
  const [account, setAccount] = useState(EMPTY);
  const [problem, setProblem] = useState("");
  const set = (said: Partial<typeof EMPTY>) => setAccount({ ...account, ...said });
  const add = async (event: FormEvent) => {
    event.preventDefault();
    const { machine, owner, password, ...rest } = account;
    const body = { ...rest, machine, ...(machine ? (owner ? { owner } : {}) : { password }) };
    try {
      onAdded(await ask("POST /api/keeping/people", { body }));
      setAccount(EMPTY);
      setProblem("");
      setOpen(false);
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  if (!open)
    return (
      <button type="button" className="button mt-3" onClick={() => setOpen(true)}>
        Add an account …
      </button>
    );
  const field = (label: string, key: "name" | "fullName" | "email" | "password", type = "text") => (
    <label className="grid gap-0.5 text-[13px] text-soft">
      {label}
      <input
        type={type}
        name={key}
        autoComplete={type === "password" ? "new-password" : "off"}
        className="field text-ink"
        value={account[key]}
        onChange={(event) => set({ [key]: event.target.value })}
      />
    </label>
  );
  return (
    <form aria-label="A new account" className="mt-4 rounded-md border border-rule bg-paper px-4 py-3" onSubmit={add}>
      <div className="grid grid-cols-2 gap-3 max-[700px]:grid-cols-1">
        {field("Name to sign in with: small letters, digits, dots, dashes", "name")}
        {field("Full name, as others see it", "fullName")}
        {field("Mail address", "email")}
        {account.machine ? (
          <label className="grid gap-0.5 text-[13px] text-soft">
            Whose it is: who answers for what it does
            <select className="field text-ink" value={account.owner} onChange={(e) => set({ owner: e.target.value })}>
              <option value="">those who keep this installation</option>
              {people
                .filter(({ machine, disabledAt }) => !machine && disabledAt === null)
                .map(({ name, fullName }) => (
                  <option key={name} value={name}>
                    {fullName}
                  </option>
                ))}
            </select>
          </label>
        ) : (
          field("Password, to be changed by them", "password", "password")
        )}
      </div>
      <label className="mt-2 flex items-center gap-2">
        <input type="checkbox" checked={account.machine} onChange={(event) => set({ machine: event.target.checked })} />
        a machine account: it signs in by token, and its word is no verdict
      </label>
      {problem && (
        <p role="alert" className="mt-2 text-clay">
          {problem}
        </p>
      )}
      <p className="mt-3 flex gap-3">
        <button type="submit" className="button-main" disabled={account.name === "" || account.fullName === ""}>
          Add it
        </button>
        <button type="button" className="quiet-button" onClick={() => setOpen(false)}>
          leave it
        </button>
      </p>
    </form>
  );
}
