"use client";
import { type FormEvent, useState } from "react";
import { ROLES } from "@/core/review/roles";
import type { AccountRequest, AccountView, TokenView } from "@/core/views/access-view";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { SureButton } from "../parts/sure-button";
import { When } from "../parts/when";
import { MachineToken } from "./machine-token";
import { NewAccount } from "./new-account";

/** Everyone who has an account; one at a time is opened to be changed. */
export function Accounts({
  me,
  initial,
  repositories,
}: {
  me: string;
  initial: AccountView[];
  repositories: string[];
}) {
  const [people, setPeople] = useState(initial);
  const [open, setOpen] = useState("");
  const { carry, ending } = useCarried();
  const change = (name: string, request: AccountRequest, words: string) =>
    carry(
      async () => setPeople(await ask("POST /api/keeping/people/{name}", { parts: { name }, body: request })),
      words,
    );
  const dropToken = (id: string, name: string) =>
    carry(async () => {
      await ask("DELETE /api/tokens/{id}", { parts: { id } });
      setPeople((now) => now.map((one) => ({ ...one, tokens: one.tokens.filter((token) => token.id !== id) })));
    }, `A token of ${name} is taken away.`);
  return (
    <>
      {ending}
      <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
        {people.map((person) => (
          <li key={person.name} className="px-4 py-2">
            <div className="flex flex-wrap items-baseline gap-x-4">
              <span className={`font-semibold ${person.disabledAt === null ? "" : "text-soft line-through"}`}>
                {person.fullName}
              </span>
              <span className="min-w-0 flex-1 text-soft max-[600px]:order-last max-[600px]:basis-full">
                {person.name} · {standing(person)}
                {person.seenAt !== null && (
                  <>
                    {" "}
                    · here <When at={person.seenAt} />
                  </>
                )}
              </span>
              <button
                type="button"
                className="quiet-button"
                aria-expanded={open === person.name}
                onClick={() => setOpen(open === person.name ? "" : person.name)}
              >
                {open === person.name ? "fold" : "change"}
              </button>
            </div>
            {open === person.name && (
              <Change
                key={person.name}
                person={person}
                own={person.name === me}
                repositories={repositories}
                onCarry={(request, words) => void change(person.name, request, words)}
                onDropToken={(id, name) => void dropToken(id, name)}
                onPeople={setPeople}
              />
            )}
          </li>
        ))}
      </ul>
      <NewAccount people={people} onAdded={setPeople} />
    </>
  );
}

/** Someone's tokens, to be taken away. */
function Tokens({ tokens, onDrop }: { tokens: TokenView[]; onDrop: (id: string) => void }) {
  return (
    <div>
      <p className="text-[13px] text-soft">Tokens</p>
      <ul>
        {tokens.map(({ id, label, scopes, usedAt }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3">
            {label}
            <span className="text-[13px] text-soft">
              {scopes.join(", ")} · {usedAt === null ? "never used" : <When at={usedAt} />}
            </span>
            <button type="button" className="quiet-button text-clay" onClick={() => onDrop(id)}>
              take away
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function standing({ administrator, machine, owner, roles, groups, disabledAt }: AccountView): string {
  if (disabledAt !== null) return "disabled";
  const words = roles.map(({ role, repository }) => `${role} in ${repository}`);
  words.push(...groups.map((group) => `in ${group}`));
  if (administrator) words.unshift("administrator");
  if (machine) words.unshift(owner ? `a machine of ${owner}` : "a machine");
  return words.length === 0 ? "no role yet" : words.join(", ");
}

function Change({
  person,
  own,
  repositories,
  onCarry,
  onDropToken,
  onPeople,
}: {
  person: AccountView;
  own: boolean;
  repositories: string[];
  onCarry: (request: AccountRequest, words: string) => void;
  onDropToken: (id: string, name: string) => void;
  onPeople: (people: AccountView[]) => void;
}) {
  const [fullName, setFullName] = useState(person.fullName);
  const [email, setEmail] = useState(person.email);
  const [password, setPassword] = useState("");
  const submit = (then: () => void) => (event: FormEvent) => {
    event.preventDefault();
    then();
  };
  return (
    <div className="grid gap-4 py-3">
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={submit(() => onCarry({ kind: "describe", fullName, email }, `${person.name} is changed.`))}
      >
        <label className="grid gap-0.5 text-[13px] text-soft">
          Full name
          <input className="field text-ink" value={fullName} onChange={(event) => setFullName(event.target.value)} />
        </label>
        <label className="grid gap-0.5 text-[13px] text-soft">
          Mail address
          <input className="field text-ink" value={email} onChange={(event) => setEmail(event.target.value)} />
        </label>
        <button type="submit" className="button" disabled={fullName === person.fullName && email === person.email}>
          Change it
        </button>
      </form>
      <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
        <legend className="pb-1 text-[13px] text-soft">Roles</legend>
        {repositories.map((repository) => (
          <label key={repository} className="flex items-center gap-2">
            <span className="whitespace-nowrap">{repository}</span>
            <select
              className="field"
              value={person.roles.find((one) => one.repository === repository)?.role ?? ""}
              onChange={(event) => {
                const role = (event.target.value || null) as (typeof ROLES)[number] | null;
                onCarry({ kind: "role", repository, role }, `${person.name}: ${role ?? "no role"} in ${repository}.`);
              }}
            >
              <option value="">none</option>
              {ROLES.map((role) => (
                <option key={role}>{role}</option>
              ))}
            </select>
          </label>
        ))}
      </fieldset>
      {!person.machine && (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={submit(() => {
            onCarry({ kind: "password", password }, `${person.name} has a new password, and is signed out everywhere.`);
            setPassword("");
          })}
        >
          <label className="grid gap-0.5 text-[13px] text-soft">
            New password: ends their sessions and tokens
            <input
              type="password"
              autoComplete="new-password"
              className="field text-ink"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
          </label>
          <button type="submit" className="button" disabled={password === ""}>
            Set it
          </button>
        </form>
      )}
      {person.machine && <MachineToken name={person.name} onMade={onPeople} />}
      {person.tokens.length > 0 && <Tokens tokens={person.tokens} onDrop={(id) => onDropToken(id, person.name)} />}
      <p className="flex flex-wrap items-baseline gap-x-6">
        {!person.machine && (
          <button
            type="button"
            className="quiet-button"
            onClick={() =>
              onCarry(
                { kind: "administrator", on: !person.administrator },
                `${person.name} is ${person.administrator ? "no administrator any more" : "an administrator"}.`,
              )
            }
          >
            {person.administrator ? "make them no administrator" : "make them an administrator"}
          </button>
        )}
        {person.secondStep && (
          <SureButton
            warning="For who has lost their device and their words: their password alone is asked for then."
            yes="yes, switch it off"
            onYes={() => onCarry({ kind: "drop-second-step" }, `No second step is asked of ${person.name} any more.`)}
          >
            switch their second step off …
          </SureButton>
        )}
        {person.disabledAt !== null ? (
          <button
            type="button"
            className="quiet-button"
            onClick={() => onCarry({ kind: "enable" }, `${person.name} can sign in again.`)}
          >
            enable them again
          </button>
        ) : (
          <SureButton
            look="quiet-button text-clay"
            warning="Their sessions and tokens end; what they said stays."
            yes={`yes, disable ${own ? "myself" : "them"}`}
            onYes={() => onCarry({ kind: "disable" }, `${person.name} is disabled.`)}
          >
            disable …
          </SureButton>
        )}
      </p>
    </div>
  );
}
