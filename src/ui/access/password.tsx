"use client";
import { type FormEvent, useState } from "react";
import { ask, reasonFrom } from "../asking/ask";

/** A new password of one's own. */
export function Password() {
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const [said, setSaid] = useState<{ words: string; wrong: boolean } | null>(null);
  const set = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await ask("POST /api/password", { body: { old, password } });
      setOld("");
      setPassword("");
      setSaid({
        words: "It counts from now on. You are signed out everywhere else, and your tokens have ended.",
        wrong: false,
      });
    } catch (error) {
      setSaid({ words: reasonFrom(error), wrong: true });
    }
  };
  const field = (label: string, value: string, onChange: (value: string) => void, autoComplete: string) => (
    <label className="grid gap-0.5 text-[13px] text-soft">
      {label}
      <input
        type="password"
        autoComplete={autoComplete}
        className="field text-ink"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
  return (
    <section aria-label="Password" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">A new password</h2>
      <p className="text-soft">It ends all your tokens, and your sessions but this one.</p>
      <form className="mt-2 flex flex-wrap items-end gap-3" onSubmit={set}>
        {field("The one until now", old, setOld, "current-password")}
        {field("The new one", password, setPassword, "new-password")}
        <button type="submit" className="button" disabled={old === "" || password === ""}>
          Change it
        </button>
      </form>
      {said && (
        <p role={said.wrong ? "alert" : "status"} className={`mt-2 ${said.wrong ? "text-clay" : "text-teal"}`}>
          {said.words}
        </p>
      )}
    </section>
  );
}
