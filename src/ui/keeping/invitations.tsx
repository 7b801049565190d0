"use client";
import { type FormEvent, useState } from "react";
import { listed } from "@/core/plain/words";
import { ROLES, type Role } from "@/core/review/roles";
import type { InviteView } from "@/core/views/setting-up-view";
import { ask, reasonFrom } from "../asking/ask";
import { When } from "../parts/when";

/** Links by which people make accounts of their own; what they may do comes with the link. */
export function Invitations({ initial, repositories }: { initial: InviteView[]; repositories: string[] }) {
  const [invites, setInvites] = useState(initial);
  const [label, setLabel] = useState("");
  const [roles, setRoles] = useState<Record<string, Role>>({});
  const [link, setLink] = useState("");
  const [problem, setProblem] = useState("");
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const made = await ask("POST /api/keeping/invites", { body: { label, roles } });
      setInvites(made.invites);
      setLink(`${window.location.origin}/join#${made.word}`);
      setLabel("");
      setRoles({});
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const drop = async (id: string) => {
    try {
      await ask("DELETE /api/keeping/invites/{id}", { parts: { id } });
      setInvites((now) => now.filter((one) => one.id !== id));
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const choose = (repository: string, role: string) => {
    const { [repository]: _, ...others } = roles;
    setRoles(role === "" ? others : { ...others, [repository]: role as Role });
  };
  return (
    <section aria-label="Invitations" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">Invite by a link</h2>
      <p className="text-soft">Who opens it chooses their own name and password. It works once, for a week.</p>
      <form className="mt-2 grid gap-3" onSubmit={make}>
        <label className="grid max-w-sm gap-0.5 text-[13px] text-soft">
          For whom it is
          <input className="field text-ink" value={label} onChange={(event) => setLabel(event.target.value)} />
        </label>
        <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
          <legend className="pb-1 text-[13px] text-soft">What they may do</legend>
          {repositories.map((repository) => (
            <label key={repository} className="flex items-center gap-2">
              <span className="whitespace-nowrap">{repository}</span>
              <select
                className="field"
                value={roles[repository] ?? ""}
                onChange={(event) => choose(repository, event.target.value)}
              >
                <option value="">none</option>
                {ROLES.map((role) => (
                  <option key={role}>{role}</option>
                ))}
              </select>
            </label>
          ))}
          {repositories.length === 0 && <span className="text-soft">There is no repository yet.</span>}
        </fieldset>
        <p>
          <button type="submit" className="button" disabled={label.trim() === ""}>
            Make a link
          </button>
        </p>
      </form>
      {link !== "" && (
        <div role="status" className="mt-3 rounded-md border border-brass bg-brass-wash px-4 py-3">
          <p>Send this to them; it is shown this once.</p>
          <code className="mt-1 block select-all break-all font-mono text-[13px]" data-testid="invite">
            {link}
          </code>
        </div>
      )}
      {problem && (
        <p role="alert" className="mt-2 text-clay">
          {problem}
        </p>
      )}
      {invites.length > 0 && (
        <ul
          aria-label="Links that nobody has used yet"
          className="mt-4 divide-y divide-rule rounded-md border border-rule bg-paper"
        >
          {invites.map((one) => (
            <li key={one.id} className="flex flex-wrap items-baseline gap-x-4 px-4 py-2">
              <span className="font-semibold">{one.label}</span>
              <span className="min-w-0 flex-1 text-[13px] text-soft">
                {one.roles.length === 0
                  ? "no role yet"
                  : listed(one.roles.map(({ role, repository }) => `${role} in ${repository}`))}{" "}
                · by {one.madeBy}, <When at={one.madeAt} /> · until <When at={one.expiresAt} />
              </span>
              <button type="button" className="quiet-button text-clay" onClick={() => void drop(one.id)}>
                take back
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
