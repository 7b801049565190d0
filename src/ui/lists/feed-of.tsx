"use client";
import { useState } from "react";
import { ask, reasonFrom } from "../asking/ask";

/** The address under which a feed reader follows a list: it holds a token that is for feeds alone, made when it is asked for. */
export function FeedOf({ query, address }: { query: string; address: string }) {
  const [made, setMade] = useState("");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const make = async () => {
    setBusy(true);
    try {
      const label = `feed: ${query === "" ? "all change sets" : query}`.slice(0, 100);
      const { token } = await ask("POST /api/tokens", { body: { label, scopes: ["feed"], days: null } });
      setMade(`${address}/api/feed?${new URLSearchParams({ q: query, token })}`);
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    } finally {
      setBusy(false);
    }
  };
  if (made !== "")
    return (
      <section
        aria-label="The address of the feed"
        className="mt-4 rounded-md border border-brass bg-brass-wash px-4 py-3"
      >
        <p>
          Give this to your feed reader, and to nobody else: who has it reads this and your other lists, and can do
          nothing.
        </p>
        <code className="mt-1 block select-all break-all font-mono text-[12.5px]">{made}</code>
        <p className="mt-2 text-soft">
          It is shown this once, and ends when you take its token away, among your tokens.
        </p>
      </section>
    );
  return (
    <div className="mt-3">
      <button type="button" className="quiet-button" disabled={busy} onClick={() => void make()}>
        Follow this list in a feed reader …
      </button>
      {problem && (
        <p role="alert" className="text-clay">
          {problem}
        </p>
      )}
    </div>
  );
}
