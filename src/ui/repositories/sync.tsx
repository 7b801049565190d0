"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { askLines, reasonFrom } from "../asking/ask";

/** Gives the reviews of this clone to a remote and takes those that are there, and tells of what comes. */
export function Sync({ repository, remotes }: { repository: string; remotes: readonly string[] }) {
  const { refresh } = useRouter();
  const [said, setSaid] = useState<readonly string[]>([]);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState("");
  const [offer, setOffer] = useState(false);
  const sync = async (remote: string) => {
    setBusy(remote);
    setProblem("");
    setSaid([]);
    const take = (lines: (string | null)[]) =>
      setSaid((now) => [...new Set([...now, ...lines.map((line) => line ?? `In step with ${remote}.`)])]);
    try {
      await askLines("POST /api/repos/{repo}/sync", take, { parts: { repo: repository }, body: { remote, offer } });
      refresh();
    } catch (error) {
      setProblem(reasonFrom(error));
    } finally {
      setBusy("");
    }
  };
  if (remotes.length === 0) return null;
  return (
    <section aria-label="Others" className="mt-4 rounded-md border border-rule bg-paper px-4 py-3">
      <p>Reviews of this clone are yours alone until they are given to others, by any repository that you share.</p>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        {remotes.map((remote) => (
          <button
            key={remote}
            type="button"
            className="button"
            disabled={busy !== ""}
            onClick={() => void sync(remote)}
          >
            {busy === remote ? `With ${remote} …` : `Give and take with ${remote}`}
          </button>
        ))}
        <label className="flex items-baseline gap-2 text-soft">
          <input type="checkbox" checked={offer} onChange={(event) => setOffer(event.target.checked)} />
          Push the branches of what began here along: a server opens it then
        </label>
      </div>
      <ul role="status" className="text-soft">
        {said.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      {problem && (
        <p role="alert" className="text-clay">
          {problem}
        </p>
      )}
    </section>
  );
}
