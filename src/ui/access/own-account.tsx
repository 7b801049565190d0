"use client";
import { type FormEvent, useEffect, useState } from "react";
import { ask, reasonFrom } from "../asking/ask";

const EMPTY = { word: "", name: "", fullName: "", email: "", password: "" };
type Field = keyof typeof EMPTY;

/**
 * An account of one's own: the first of an installation, or by an invitation. The word is taken out of the address, behind its `#`: what
 * stands there is not sent to servers, and in no log.
 */
export function OwnAccount({ way, next }: { way: "first-start" | "join"; next: string }) {
  const [account, setAccount] = useState(EMPTY);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const [given, setGiven] = useState(false);
  useEffect(() => {
    const word = decodeURIComponent(window.location.hash.slice(1));
    if (word === "") return;
    setAccount((now) => ({ ...now, word }));
    setGiven(true);
  }, []);
  const make = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      await ask(`POST /api/${way}`, { body: account });
      window.location.assign(next);
    } catch (error) {
      setProblem(reasonFrom(error));
      setBusy(false);
    }
  };
  const field = (label: string, key: Field, autoComplete: string, note = "", type = "text") => (
    <label className="grid gap-1">
      <span className="text-soft">{label}</span>
      <input
        className="field"
        name={key}
        type={type}
        autoComplete={autoComplete}
        required
        value={account[key]}
        onChange={(event) => setAccount({ ...account, [key]: event.target.value })}
      />
      {note && <span className="text-[13px] text-soft">{note}</span>}
    </label>
  );
  return (
    <form className="grid gap-3" aria-label="Your account" onSubmit={make}>
      {!given &&
        field(
          way === "join" ? "The word of your invitation" : "The one-time word",
          "word",
          "off",
          way === "join"
            ? "It stands at the end of the address that you were sent, behind the #."
            : "The server printed it when it started.",
        )}
      {field("Name", "name", "username", "To sign in with: small letters, digits, dots and dashes.")}
      {field("Full name", "fullName", "name", "As others see it.")}
      {field("Mail address", "email", "email", "It goes into the commits that you make here.", "email")}
      {field("Password", "password", "new-password", "Eight characters at least.", "password")}
      <p role="alert" className="min-h-5 text-clay">
        {problem}
      </p>
      <button type="submit" className="button-main justify-center" disabled={busy}>
        {way === "join" ? "Come in" : "Begin"}
      </button>
    </form>
  );
}
