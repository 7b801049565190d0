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
  const [wrong, about] = [useId(), useId()];
  const described = [error && wrong, note && about].filter(Boolean).join(" ");
  return (
    <div className="grid content-start gap-0.5">
      <label className="grid gap-0.5 text-[13px] text-soft">
        {label}
        <input
          {...input}
          className={`field ${className}`}
          aria-invalid={error !== undefined}
          aria-describedby={described || undefined}
        />
      </label>
      {error && (
        <p id={wrong} role="alert" className="text-[13px] text-clay">
          {error}
        </p>
      )}
      {note && (
        <p id={about} className="text-[13px] text-soft">
          {note}
        </p>
      )}
    </div>
  );
}
