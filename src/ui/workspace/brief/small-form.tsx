"use client";
import { type ReactNode, useState } from "react";

/** One question that is asked in place: a button opens it, what is refused is said under it, and it can be left. */
export function SmallForm({
  opener,
  look = "",
  action,
  ready = true,
  onSend,
  onOpen,
  children,
}: {
  /** What the button that opens it says. */
  opener: string;
  /** What stands around both, the button and the form. */
  look?: string;
  /** What the button that sends says. */
  action: string;
  /** It can be sent. */
  ready?: boolean;
  /** Gives the reason when it is refused, else null. */
  onSend: () => Promise<string | null>;
  onOpen?: () => void;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  if (!open)
    return (
      <p className={look}>
        <button
          type="button"
          className="quiet-button text-[13px]"
          onClick={() => {
            setOpen(true);
            onOpen?.();
          }}
        >
          {opener}
        </button>
      </p>
    );
  return (
    <form
      className={`grid gap-1 ${look}`}
      onSubmit={async (event) => {
        event.preventDefault();
        if (busy) return;
        setBusy(true);
        const refusal = await onSend();
        setBusy(false);
        setProblem(refusal ?? "");
        if (!refusal) setOpen(false);
      }}
    >
      {children}
      {problem && (
        <p role="alert" className="text-[13px] text-clay">
          {problem}
        </p>
      )}
      <p className="flex gap-3">
        <button type="submit" className="button text-[13px]" disabled={!ready || busy}>
          {action}
        </button>
        <button type="button" className="quiet-button text-[13px]" onClick={() => setOpen(false)}>
          leave it
        </button>
      </p>
    </form>
  );
}
