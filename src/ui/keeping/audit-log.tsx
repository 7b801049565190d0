"use client";
import { useEffect, useState } from "react";
import { AUDITED, type AuditEntry, type Audited } from "@/core/views/access-view";
import { ask, reasonFrom } from "../asking/ask";
import { When } from "../parts/when";

/** Who did what and from where, the newest first, narrowed by words. */
export function AuditLog({ initial }: { initial: AuditEntry[] }) {
  const [entries, setEntries] = useState(initial);
  const [words, setWords] = useState("");
  const [all, setAll] = useState(initial.length < 200);
  const [problem, setProblem] = useState("");
  // What was done since the page came is there when one looks.
  useEffect(() => {
    ask("GET /api/keeping/audit").then(setEntries, (error: unknown) => setProblem(reasonFrom(error)));
  }, []);
  const more = async () => {
    try {
      const next = await ask("GET /api/keeping/audit", { query: { before: entries.at(-1)?.id } });
      setEntries([...entries, ...next]);
      setAll(next.length < 200);
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const sought = words.trim().toLowerCase();
  const shown = entries.filter((entry) => sought === "" || wordsOf(entry).toLowerCase().includes(sought));
  return (
    <>
      <label className="grid max-w-sm gap-0.5 text-[13px] text-soft">
        Only with these words: a name, a deed, an address
        <input className="field text-ink" value={words} onChange={(event) => setWords(event.target.value)} />
      </label>
      <ol className="mt-3 divide-y divide-rule rounded-md border border-rule bg-paper">
        {shown.map((entry) => (
          <li
            key={entry.id}
            className="grid grid-cols-[9rem_1fr_auto] items-baseline gap-4 px-4 py-1.5 max-[700px]:grid-cols-1 max-[700px]:gap-0"
          >
            <span className="text-[13px] text-soft">
              <When at={entry.at} />
            </span>
            <span className="min-w-0 break-words">
              <span className="font-semibold">{entry.person ?? "someone"}</span> {actionOf(entry)}
              <span className="text-soft">{aboutOf(entry)}</span>
            </span>
            <code className="font-mono text-[12px] text-soft">{entry.address}</code>
          </li>
        ))}
        {shown.length === 0 && <li className="px-4 py-3 text-soft">Nothing with these words among what is loaded.</li>}
      </ol>
      {!all && (
        <button type="button" className="button mt-3" onClick={() => void more()}>
          Older ones
        </button>
      )}
      {problem && (
        <p role="alert" className="mt-2 text-clay">
          {problem}
        </p>
      )}
      <p className="mt-3 text-[13px] text-soft">
        All of it, as JSON lines: <code className="font-mono">npm run lens -- audit</code>
      </p>
    </>
  );
}

function actionOf({ what }: AuditEntry): string {
  return Object.hasOwn(AUDITED, what) ? AUDITED[what as Audited] : what;
}

/** What it was done to, in short; ids of commits by their first characters. */
function aboutOf({ about, person }: AuditEntry): string {
  const told = Object.entries(about).filter(([, value]) => value !== person && value !== "");
  const parts = told.map(([key, value]) => {
    const words =
      typeof value === "string" && /^[0-9a-f]{40,64}$/.test(value) ? value.slice(0, 8) : String(value ?? "none");
    return `${key} ${words}`;
  });
  return parts.length === 0 ? "" : ` · ${parts.join(" · ")}`;
}

function wordsOf(entry: AuditEntry): string {
  return `${entry.person ?? "someone"} ${actionOf(entry)} ${aboutOf(entry)} ${entry.address}`;
}
