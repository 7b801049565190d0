"use client";
import { type FormEvent, useState } from "react";
import { listed } from "@/core/plain/words";
import { DELETED_DAYS, type KeptRepository, type RepositoryRequest } from "@/core/views/setting-up-view";
import { When } from "../parts/when";
import { EVERY } from "./take-in";

type Carry = (request: RepositoryRequest, words: string) => void;

/** One repository, to be changed. */
export function RepositoryCare({ repository, onCarry }: { repository: KeptRepository; onCarry: Carry }) {
  const { name, archivedAt, people, origin } = repository;
  const [typed, setTyped] = useState("");
  const [deleting, setDeleting] = useState(false);
  return (
    <div className="grid gap-4 py-3">
      <Describe repository={repository} onCarry={onCarry} />
      <p className="text-[13px] text-soft">
        {people.length === 0
          ? "Nobody has a role here but administrators. Roles are given under Accounts."
          : `${listed(people.map(({ fullName, role }) => `${fullName} (${role})`))}. Roles are given under Accounts.`}
      </p>
      {origin && <Origin name={name} origin={origin} onCarry={onCarry} />}
      <p className="flex flex-wrap items-baseline gap-x-6">
        {archivedAt === null ? (
          <button
            type="button"
            className="quiet-button"
            onClick={() => onCarry({ kind: "archive" }, `${name} is archived: it is read, and nothing in it changes.`)}
          >
            archive it
          </button>
        ) : (
          <button
            type="button"
            className="quiet-button"
            onClick={() => onCarry({ kind: "open-again" }, `${name} is open again.`)}
          >
            open it again
          </button>
        )}
        {!deleting && (
          <button type="button" className="quiet-button text-clay" onClick={() => setDeleting(true)}>
            delete …
          </button>
        )}
      </p>
      {deleting && (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            onCarry(
              { kind: "delete", name: typed },
              `${name} is deleted. It can be brought back for ${DELETED_DAYS} days.`,
            );
          }}
        >
          <label className="grid gap-0.5 text-[13px] text-soft">
            Nobody sees it any more, and after {DELETED_DAYS} days it is removed for ever. Type its name:
            <input className="field text-ink" value={typed} onChange={(event) => setTyped(event.target.value)} />
          </label>
          <button type="submit" className="button text-clay" disabled={typed !== name}>
            Delete it
          </button>
          <button type="button" className="quiet-button" onClick={() => setDeleting(false)}>
            no
          </button>
        </form>
      )}
    </div>
  );
}

function Describe({ repository, onCarry }: { repository: KeptRepository; onCarry: Carry }) {
  const { name, branches } = repository;
  const [description, setDescription] = useState(repository.description);
  const [defaultBranch, setDefaultBranch] = useState(repository.defaultBranch);
  const [openToAll, setOpenToAll] = useState(repository.openToAll);
  const [ledger, setLedger] = useState(repository.ledger);
  const same =
    description === repository.description &&
    defaultBranch === repository.defaultBranch &&
    openToAll === repository.openToAll &&
    ledger === repository.ledger;
  const change = (event: FormEvent) => {
    event.preventDefault();
    onCarry({ kind: "describe", description, defaultBranch, openToAll, ledger }, `${name} is changed.`);
  };
  return (
    <form className="flex flex-wrap items-end gap-3" onSubmit={change}>
      <label className="grid min-w-64 flex-1 gap-0.5 text-[13px] text-soft">
        What it is, in a line
        <input
          className="field text-ink"
          value={description}
          onChange={(event) => setDescription(event.target.value)}
        />
      </label>
      <label className="grid gap-0.5 text-[13px] text-soft">
        Main branch
        <select
          className="field text-ink"
          value={defaultBranch}
          onChange={(event) => setDefaultBranch(event.target.value)}
        >
          {(branches.length > 0 ? branches : [defaultBranch]).map((branch) => (
            <option key={branch}>{branch}</option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2 py-1.5">
        <input type="checkbox" checked={openToAll} onChange={(event) => setOpenToAll(event.target.checked)} />
        all who sign in may read it
      </label>
      <label className="flex items-center gap-2 py-1.5">
        <input type="checkbox" checked={ledger} onChange={(event) => setLedger(event.target.checked)} />
        its reviews are written into it
      </label>
      <button type="submit" className="button" disabled={same}>
        Change it
      </button>
    </form>
  );
}

function Origin({
  name,
  origin,
  onCarry,
}: {
  name: string;
  origin: NonNullable<KeptRepository["origin"]>;
  onCarry: Carry;
}) {
  const [account, setAccount] = useState(origin.account);
  const [secret, setSecret] = useState("");
  const [every, setEvery] = useState(String(origin.every));
  const away = /^https?:/.test(origin.place);
  return (
    <form
      aria-label={`Where ${name} is fetched from`}
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        onCarry(
          { kind: "origin", account, secret: secret === "" ? null : secret, every: Number(every) },
          `${name} is changed.`,
        );
        setSecret("");
      }}
    >
      <p className="basis-full text-[13px] text-soft">
        Taken in from <code className="break-all font-mono">{origin.place}</code>
        {origin.fetchedAt !== null && (
          <>
            , fetched <When at={origin.fetchedAt} />
          </>
        )}
      </p>
      {away && (
        <>
          <label className="grid gap-0.5 text-[13px] text-soft">
            Name to come in with
            <input
              className="field text-ink"
              autoComplete="off"
              value={account}
              onChange={(event) => setAccount(event.target.value)}
            />
          </label>
          <label className="grid gap-0.5 text-[13px] text-soft">
            A new password or token
            <input
              type="password"
              autoComplete="off"
              className="field text-ink"
              value={secret}
              onChange={(event) => setSecret(event.target.value)}
            />
          </label>
        </>
      )}
      <label className="grid gap-0.5 text-[13px] text-soft">
        Fetched
        <select className="field text-ink" value={every} onChange={(event) => setEvery(event.target.value)}>
          {Object.entries(EVERY).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <button
        type="submit"
        className="button"
        disabled={account === origin.account && secret === "" && every === String(origin.every)}
      >
        Change it
      </button>
      <button
        type="button"
        className="quiet-button"
        onClick={() => onCarry({ kind: "fetch" }, `${name} has what has come to it there.`)}
      >
        fetch now
      </button>
    </form>
  );
}
