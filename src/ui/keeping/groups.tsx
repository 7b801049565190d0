"use client";
import { type FormEvent, useState } from "react";
import { counted } from "@/core/plain/words";
import { ROLES, type Role } from "@/core/review/roles";
import type { GroupView } from "@/core/views/setting-up-view";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { SureButton } from "../parts/sure-button";

const NONE: GroupView = { name: "", members: [], roles: [] };

/** Groups of people: who is in them, and what that lets them do. */
export function Groups(props: { initial: GroupView[]; people: string[]; repositories: string[] }) {
  const { initial, people, repositories } = props;
  const [groups, setGroups] = useState(initial);
  const [edited, setEdited] = useState<GroupView | null>(null);
  const { carry, ending } = useCarried();
  const keep = ({ name, members, roles }: GroupView) =>
    carry(async () => {
      const body = { name, members, roles: Object.fromEntries(roles.map((one) => [one.repository, one.role])) };
      setGroups(await ask("PUT /api/keeping/groups", { body }));
      setEdited(null);
    }, `${name} is kept.`);
  const drop = (name: string) =>
    carry(
      async () => setGroups(await ask("DELETE /api/keeping/groups/{name}", { parts: { name } })),
      `${name} is no group any more.`,
    );
  const form = (group: GroupView) => (
    <GroupForm {...{ group, people, repositories }} onKeep={keep} onClose={() => setEdited(null)} />
  );
  return (
    <section aria-label="Groups" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">Groups</h2>
      <p className="mb-3 text-soft">
        Whoever is in a group has its roles, beside their own; the most of it counts. They are of the whole
        installation; rules have groups of their own.
      </p>
      {ending}
      <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
        {groups.map((group) => (
          <li key={group.name} className="px-4 py-2">
            {edited?.name === group.name ? (
              form(group)
            ) : (
              <div className="flex flex-wrap items-baseline gap-x-4">
                <span className="font-semibold">{group.name}</span>
                <span className="min-w-0 flex-1 text-soft">
                  {group.members.length === 0 ? "nobody" : group.members.join(", ")} ·{" "}
                  {group.roles.length === 0
                    ? "no role yet"
                    : group.roles.map(({ role, repository }) => `${role} in ${repository}`).join(", ")}
                </span>
                <button
                  type="button"
                  className="quiet-button"
                  aria-label={`Change ${group.name}`}
                  onClick={() => setEdited(group)}
                >
                  change
                </button>
                <SureButton
                  about={group.name}
                  warning={`${counted(group.members.length, "person", "people")} may do less then.`}
                  yes="yes, take it away"
                  onYes={() => void drop(group.name)}
                >
                  take away …
                </SureButton>
              </div>
            )}
          </li>
        ))}
        {groups.length === 0 && <li className="px-4 py-3 text-soft">There are none yet.</li>}
      </ul>
      {edited?.name === "" ? (
        <div className="mt-3 rounded-md border border-rule bg-paper px-4 py-3">{form(NONE)}</div>
      ) : (
        <button type="button" className="button mt-3" onClick={() => setEdited(NONE)}>
          Another group …
        </button>
      )}
    </section>
  );
}

function GroupForm(props: {
  group: GroupView;
  people: string[];
  repositories: string[];
  onKeep: (group: GroupView) => Promise<void>;
  onClose: () => void;
}) {
  const { group, people, repositories, onKeep, onClose } = props;
  const [name, setName] = useState(group.name);
  const [members, setMembers] = useState<ReadonlySet<string>>(new Set(group.members));
  const [roles, setRoles] = useState(new Map(group.roles.map(({ repository, role }) => [repository, role])));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const given = [...roles].map(([repository, role]) => ({ repository, role }));
    void onKeep({ name: name.trim(), members: people.filter((one) => members.has(one)), roles: given });
  };
  const setRole = (repository: string, role: string) => {
    const next = new Map(roles);
    if (role === "") next.delete(repository);
    else next.set(repository, role as Role);
    setRoles(next);
  };
  return (
    <form onSubmit={submit} className="grid gap-3">
      {group.name === "" ? (
        <label className="grid max-w-72 gap-1">
          <span className="text-soft">Name, such as night-watch</span>
          <input className="field" required value={name} onChange={(event) => setName(event.target.value)} />
        </label>
      ) : (
        <p className="font-semibold">{group.name}</p>
      )}
      <fieldset className="flex max-h-40 flex-wrap gap-x-5 gap-y-1 overflow-y-auto">
        <legend className="text-soft">Who is in it</legend>
        {people.map((person) => (
          <label key={person} className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={members.has(person)}
              onChange={({ target }) => {
                const next = new Set(members);
                if (target.checked) next.add(person);
                else next.delete(person);
                setMembers(next);
              }}
            />
            {person}
          </label>
        ))}
      </fieldset>
      <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
        <legend className="text-soft">What they may do by it</legend>
        {repositories.map((repository) => (
          <label key={repository} className="flex items-center gap-2">
            <span className="whitespace-nowrap">{repository}</span>
            <select
              className="field"
              value={roles.get(repository) ?? ""}
              onChange={(event) => setRole(repository, event.target.value)}
            >
              <option value="">nothing</option>
              {ROLES.map((role) => (
                <option key={role}>{role}</option>
              ))}
            </select>
          </label>
        ))}
      </fieldset>
      <p className="flex gap-3">
        <button type="submit" className="button-main">
          Keep
        </button>
        <button type="button" className="quiet-button" onClick={onClose}>
          cancel
        </button>
      </p>
    </form>
  );
}
