"use client";
import { type ReactNode, useState } from "react";

/** A button for what cannot be undone: it asks once, and what is said to it then is the answer. */
export function SureButton({
  children,
  yes,
  onYes,
  warning,
  about,
  look = "quiet-button",
}: {
  children: ReactNode;
  /** What doing it is called. */
  yes: string;
  onYes: () => void;
  /** What it will do, where the words of the button do not tell. */
  warning?: string;
  /** What it is about, for screen readers, where the words alone do not say that. */
  about?: string;
  look?: string;
}) {
  const [asking, setAsking] = useState(false);
  if (!asking)
    return (
      <button type="button" className={look} onClick={() => setAsking(true)}>
        {children}
        {about && <span className="sr-only"> {about}</span>}
      </button>
    );
  return (
    <>
      {warning && <span>{warning} </span>}
      <button
        type="button"
        className="quiet-button text-clay"
        onClick={() => {
          setAsking(false);
          onYes();
        }}
      >
        {yes}
      </button>{" "}
      <button type="button" className="quiet-button" onClick={() => setAsking(false)}>
        no
      </button>
    </>
  );
}
