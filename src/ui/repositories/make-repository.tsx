"use client";
import { useRouter } from "next/navigation";
import { type FormEvent, useId, useState } from "react";
import { ask, reasonFrom } from "../asking/ask";

/** Makes an empty repository, and goes there: its page says how to push to it. `names` is the pattern that its name has to fit. */
export function MakeRepository({ names }: { names: string }) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState(startOf(names));
  const [problem, setProblem] = useState("");
  const [making, setMaking] = useState(false);
  const about = useId();
  if (!open)
    return (
      <p className="mt-1">
        <button type="button" className="quiet-button" onClick={() => setOpen(true)}>
          make another…
        </button>
      </p>
    );
  const make = async (event: FormEvent) => {
    event.preventDefault();
    setProblem("");
    setMaking(true);
    try {
      const made = await ask("POST /api/repos", { body: { name: name.trim() } });
      router.push(`/r/${made.name}`);
    } catch (error) {
      setProblem(reasonFrom(error));
      setMaking(false);
    }
  };
  return (
    <form className="mt-2 grid gap-1.5" onSubmit={make}>
      <label className="grid gap-0.5 text-[13px] text-soft">
        Name
        <input
          // biome-ignore lint/a11y/noAutofocus: it was asked for by the press before.
          autoFocus
          required
          autoComplete="off"
          spellCheck={false}
          className="field text-ink"
          aria-describedby={about}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <p id={about} className="text-[13px] text-soft">
        {names === "*" ? "" : `As in ${names}. `}It begins empty, to be pushed to, and you keep it.
      </p>
      {problem && (
        <p role="alert" className="break-words text-clay">
          {problem}
        </p>
      )}
      <p className="flex gap-2">
        <button type="submit" className="button-main" disabled={making}>
          Make it
        </button>
        <button type="button" className="quiet-button" onClick={() => setOpen(false)}>
          cancel
        </button>
      </p>
    </form>
  );
}

/** What every name begins with that fits: up to the first wild card. */
const startOf = (names: string) => names.slice(0, names.search(/[*?[{]|$/));
