"use client";
import { useState } from "react";
import type { NeighbourRequest, NeighboursView } from "@/core/views/neighbours-view";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { SureButton } from "../parts/sure-button";
import { When } from "../parts/when";
import { NewNeighbour } from "./new-neighbour";
import { Strangers } from "./strangers";

/** Other servers that hold the reviews of the same repositories: asked for what was said there, and their people known here. */
export function NeighboursPage({
  initial,
  repositories,
  people,
}: {
  initial: NeighboursView;
  repositories: string[];
  people: string[];
}) {
  const [view, setView] = useState(initial);
  const [busy, setBusy] = useState("");
  const { carry, ending } = useCarried();
  const add = (body: NeighbourRequest) =>
    carry(
      async () => setView(await ask("POST /api/keeping/neighbours", { body })),
      `${body.name} is asked every ${body.every} minutes.`,
    );
  const askNow = async (repo: string, name: string) => {
    setBusy(`${repo} ${name}`);
    await carry(
      async () => setView(await ask("POST /api/keeping/neighbours/{repo}/{name}/asks", { parts: { repo, name } })),
      `${name} was asked.`,
    );
    setBusy("");
  };
  const end = (repo: string, name: string) =>
    carry(
      async () => setView(await ask("DELETE /api/keeping/neighbours/{repo}/{name}", { parts: { repo, name } })),
      `${name} is asked no more.`,
    );
  const join = (elsewhere: string, person: string | null) =>
    carry(
      async () => setView(await ask("POST /api/keeping/joined", { body: { elsewhere, person } })),
      person ? `${elsewhere} is shown as ${person}.` : `${elsewhere} is nobody of this server.`,
    );
  return (
    <main className="mx-auto max-w-4xl px-6 pb-20">
      <h1 className="mt-8 font-serif text-3xl font-semibold">Other servers</h1>
      <p className="text-soft">
        Servers that hold the same repository ask each other for what was said there. Each decides on what began with
        it; what people of another say counts at no gate here. This one signs with{" "}
        <code className="break-all font-mono text-[13px]">{view.key}</code>.
      </p>
      <div className="mt-4">{ending}</div>
      <ul className="mt-2 divide-y divide-rule rounded-md border border-rule bg-paper">
        {view.neighbours.map(({ repository, name, address, askedAt, problem, every, isHeard }) => (
          <li key={`${repository} ${name}`} className="px-4 py-2">
            <div className="flex flex-wrap items-baseline gap-x-4">
              <span className="min-w-0 grow basis-60">
                <span className="font-semibold">{name}</span> <span className="text-soft">for {repository}</span>{" "}
                <code className="break-all font-mono text-[13px]">{address}</code>
              </span>
              <button
                type="button"
                className="quiet-button"
                disabled={busy !== ""}
                aria-label={`Ask ${name} now`}
                onClick={() => void askNow(repository, name)}
              >
                {busy === `${repository} ${name}` ? "asking …" : "ask now"}
              </button>
              <SureButton
                about={name}
                warning="What it said stays."
                yes="yes, ask it no more"
                onYes={() => void end(repository, name)}
              >
                ask no more …
              </SureButton>
            </div>
            <p className="text-[13px] text-soft">
              {askedAt === null ? (
                "not asked yet"
              ) : (
                <>
                  asked <When at={askedAt} />
                </>
              )}{" "}
              · every {every} minutes{isHeard && ", and when it says so"}
              {problem && <span className="text-clay"> · {problem}</span>}
            </p>
          </li>
        ))}
        {view.neighbours.length === 0 && <li className="px-4 py-3 text-soft">No other server is asked yet.</li>}
      </ul>
      <Strangers strangers={view.strangers} people={people} onJoin={join} />
      <NewNeighbour key={view.neighbours.length} repositories={repositories} onAdd={add} />
    </main>
  );
}
