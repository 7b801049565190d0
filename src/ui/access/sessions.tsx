"use client";
import { useState } from "react";
import type { SessionView } from "@/core/views/access-view";
import { ask, reasonFrom } from "../asking/ask";
import { When } from "../parts/when";

/** Where one is signed in, and the way to end it there. */
export function Sessions({ initial }: { initial: SessionView[] }) {
  const [sessions, setSessions] = useState(initial);
  const [problem, setProblem] = useState("");
  const end = async (id: string) => {
    try {
      await ask("DELETE /api/sessions/{id}", { parts: { id } });
      setSessions((now) => now.filter((one) => (id === "others" ? one.here : one.id !== id)));
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  return (
    <section aria-label="Sessions" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">Where you are signed in</h2>
      {problem && (
        <p role="alert" className="mt-2 text-clay">
          {problem}
        </p>
      )}
      <ul className="mt-2 divide-y divide-rule rounded-md border border-rule bg-paper">
        {sessions.map((session) => (
          <li key={session.id} className="flex items-center gap-4 px-4 py-2">
            <span className="min-w-0 flex-1">
              <span className="block truncate font-semibold">
                {browserOf(session.agent)}
                {session.here && <span className="font-normal text-teal"> · here</span>}
              </span>
              <span className="block text-[13px] text-soft">
                {session.address && `from ${session.address} · `}since <When at={session.createdAt} /> · last used{" "}
                <When at={session.usedAt} />
              </span>
            </span>
            {!session.here && (
              <button type="button" className="quiet-button" onClick={() => void end(session.id)}>
                sign out there
              </button>
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <button type="button" className="button mt-3" onClick={() => void end("others")}>
          Sign out everywhere else
        </button>
      )}
    </section>
  );
}

/** A browser and a system, as far as what it calls itself tells them. */
function browserOf(agent: string): string {
  const browser = /(Firefox|Edg|Chrome|Safari)\//.exec(agent)?.[1];
  const system = /(Windows|Macintosh|Android|iPhone|Linux)/.exec(agent)?.[1];
  if (!browser) return agent.slice(0, 60) || "A browser";
  return `${browser === "Edg" ? "Edge" : browser}${system ? ` on ${system === "Macintosh" ? "a Mac" : system}` : ""}`;
}
