"use client";
import { type ComponentProps, useId } from "react";

interface FieldProps extends ComponentProps<"input"> {
  label: string;
  /** What it is for, or has to be. */
  note?: string;
  /** What is wrong with what was typed. */
  error?: string;
}

/** One field of a form, with what is wrong with it below. Spread what `register` of its form gives over it. */
export function Field({ label, note, error, className = "text-ink", ...input }: FieldProps) {
  const about = useId();
  const words = error ?? note;
  return (
    <div className="grid content-start gap-0.5">
      <label className="grid gap-0.5 text-[13px] text-soft">
        {label}
        <input
          {...input}
          className={`field ${className}`}
          aria-invalid={error !== undefined}
          aria-describedby={words ? about : undefined}
        />
      </label>
      {words && (
        <p id={about} role={error ? "alert" : undefined} className={`text-[13px] ${error ? "text-clay" : "text-soft"}`}>
          {words}
        </p>
      )}
    </div>
  );
}
