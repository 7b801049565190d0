"use client";
import { type FormEvent, type ReactNode, useRef, useState } from "react";
import { TOPICS, type Topic, WAYS, type Way, type Wishes } from "@/core/doors/news/wishes";
import { ask, reasonFrom } from "../asking/ask";
import { Less, WORDS } from "./less";

/** What one wants to hear, how and when, and what one follows beside one's own. */
export function WishesForm({
  initial,
  people,
  repositories,
}: {
  initial: Wishes;
  people: { name: string; fullName: string }[];
  repositories: string[];
}) {
  const [wishes, setWishes] = useState(initial);
  const [said, setSaid] = useState<{ words: string; wrong: boolean } | null>(null);
  const [path, setPath] = useState({ repository: repositories[0] ?? "", pattern: "" });
  const latest = useRef(wishes);
  const put = (next: Wishes) => {
    latest.current = next;
    setWishes(next);
    setSaid(null);
  };
  const set = (part: Partial<Wishes>) => put({ ...wishes, ...part });
  const keep = async (event: FormEvent) => {
    event.preventDefault();
    // What stands in the field is meant, too: Enter in it keeps all.
    const asked = { ...wishes, paths: withTyped() };
    put(asked);
    setPath({ ...path, pattern: "" });
    try {
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
      const kept = await ask("PUT /api/notices/wishes", { body: { ...asked, zone } });
      // What was changed while it was on its way is not kept yet, and stays.
      if (latest.current !== asked) return;
      put(kept);
      setSaid({ words: "Kept.", wrong: false });
    } catch (error) {
      setSaid({ words: reasonFrom(error), wrong: true });
    }
  };
  const withTyped = () => {
    const typed = { ...path, pattern: path.pattern.trim() };
    const isThere = (one: typeof typed) => one.repository === typed.repository && one.pattern === typed.pattern;
    return typed.pattern === "" || wishes.paths.some(isThere) ? wishes.paths : [...wishes.paths, typed];
  };
  const follow = () => {
    set({ paths: withTyped() });
    setPath({ ...path, pattern: "" });
  };
  const time = (label: string, value: string, onChange: (value: string) => void) => (
    <label className="flex items-center gap-2">
      <span className="text-soft">{label}</span>
      <input
        type="time"
        required
        className="field w-auto"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
  return (
    <form aria-label="What you want to hear" className="mt-4 grid gap-5" onSubmit={keep}>
      <table className="w-full max-w-2xl">
        <caption className="sr-only">By which way you are told, when</caption>
        <tbody>
          {(Object.keys(TOPICS) as Topic[]).map((topic) => (
            <tr key={topic} className="max-[600px]:block max-[600px]:pb-2">
              <th scope="row" className="py-0.5 pr-4 text-left font-normal max-[600px]:block">
                When {TOPICS[topic]}
              </th>
              <td className="max-[600px]:block">
                <select
                  className="field"
                  aria-label={`When ${TOPICS[topic]}`}
                  value={wishes.ways[topic]}
                  onChange={(event) => set({ ways: { ...wishes.ways, [topic]: event.target.value as Way } })}
                >
                  {WAYS.map((way) => (
                    <option key={way} value={way}>
                      {WORDS[way]}
                    </option>
                  ))}
                </select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Less repositories={repositories} less={wishes.less} onLess={(less) => set({ less })} />
      <fieldset className="grid gap-1">
        <legend className="pb-1 text-[13px] text-soft">When mail comes</legend>
        <Choice
          name="each"
          checked={!wishes.quiet && !wishes.digest}
          onChoose={() => set({ quiet: null, digest: null })}
        >
          at any time, each by itself
        </Choice>
        <Choice
          name="quiet"
          checked={wishes.quiet !== null}
          onChoose={() => set({ quiet: wishes.quiet ?? { from: "19:00", to: "07:00" }, digest: null })}
        >
          not in a quiet time
        </Choice>
        {wishes.quiet && (
          <div className="flex flex-wrap gap-4 pl-6">
            {time("from", wishes.quiet.from, (from) => set({ quiet: { ...wishes.quiet!, from } }))}
            {time("to", wishes.quiet.to, (to) => set({ quiet: { ...wishes.quiet!, to } }))}
          </div>
        )}
        <Choice
          name="digest"
          checked={wishes.digest !== null}
          onChoose={() => set({ digest: wishes.digest ?? "08:00", quiet: null })}
        >
          once a day, all in one
        </Choice>
        {wishes.digest && <div className="pl-6">{time("at", wishes.digest, (digest) => set({ digest }))}</div>}
      </fieldset>
      <fieldset className="grid gap-2">
        <legend className="pb-1 text-[13px] text-soft">
          What you follow: whatever is offered there, and what becomes of it
        </legend>
        <ul className="flex flex-wrap gap-2">
          {wishes.people.map((name) => (
            <Followed
              key={name}
              words={people.find((one) => one.name === name)?.fullName ?? name}
              onDrop={() => set({ people: wishes.people.filter((one) => one !== name) })}
            />
          ))}
          {wishes.paths.map((one) => (
            <Followed
              key={`${one.repository} ${one.pattern}`}
              words={`${one.pattern} in ${one.repository}`}
              onDrop={() => set({ paths: wishes.paths.filter((other) => other !== one) })}
            />
          ))}
          {wishes.people.length + wishes.paths.length === 0 && <li className="text-soft">Nothing beside your own.</li>}
        </ul>
        <div className="flex flex-wrap items-end gap-3">
          <label className="grid gap-0.5 text-[13px] text-soft">
            A person’s change sets
            <select
              className="field text-ink"
              value=""
              onChange={(event) => event.target.value && set({ people: [...wishes.people, event.target.value] })}
            >
              <option value="">choose …</option>
              {people
                .filter(({ name }) => !wishes.people.includes(name))
                .map(({ name, fullName }) => (
                  <option key={name} value={name}>
                    {fullName}
                  </option>
                ))}
            </select>
          </label>
          <label className="grid gap-0.5 text-[13px] text-soft">
            A path in
            <select
              className="field text-ink"
              value={path.repository}
              onChange={(event) => setPath({ ...path, repository: event.target.value })}
            >
              {repositories.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </label>
          <label className="grid gap-0.5 text-[13px] text-soft">
            Path or pattern, such as tariff/**
            <input
              className="field text-ink"
              value={path.pattern}
              onChange={(event) => setPath({ ...path, pattern: event.target.value })}
            />
          </label>
          <button type="button" className="button" disabled={path.pattern.trim() === ""} onClick={follow}>
            follow it
          </button>
        </div>
      </fieldset>
      <p className="flex items-baseline gap-4">
        <button type="submit" className="button-main">
          Keep this
        </button>
        {said && (
          <span role={said.wrong ? "alert" : "status"} className={said.wrong ? "text-clay" : "text-teal"}>
            {said.words}
          </span>
        )}
      </p>
    </form>
  );
}

function Choice({
  name,
  checked,
  onChoose,
  children,
}: {
  name: string;
  checked: boolean;
  onChoose: () => void;
  children: ReactNode;
}) {
  return (
    <label className="flex items-center gap-2">
      <input type="radio" name="when" value={name} checked={checked} onChange={onChoose} />
      {children}
    </label>
  );
}

function Followed({ words, onDrop }: { words: string; onDrop: () => void }) {
  return (
    <li className="flex items-center gap-2 rounded border border-rule bg-paper px-2">
      {words}
      <button type="button" className="quiet-button min-h-6" aria-label={`Follow ${words} no more`} onClick={onDrop}>
        drop
      </button>
    </li>
  );
}
